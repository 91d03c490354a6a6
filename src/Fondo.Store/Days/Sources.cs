using Fondo.Files;
using Fondo.Core.Amounts;
using Fondo.Core.Closing;
using Fondo.Core.Days;
using Fondo.Files.Reading;
using Fondo.Store.Model;
using Fondo.Store.Settling;
using Microsoft.EntityFrameworkCore;

namespace Fondo.Store.Days;

/// <summary>A way on which records of a day came in.</summary>
/// <param name="By">A person, or a register or machine whose key was shown.</param>
/// <param name="File">Null where they came over the wire or from a page.</param>
public sealed record Source(RecordKind Kind, SourceWay Way, string By, string? File, int Number, DateTimeOffset First)
{
    /// <summary>Stands for the watched folder where a person would.</summary>
    public const string Inbox = "inbox";
}

/// <summary>Says on which ways records came in.</summary>
public sealed class Sources(StoreContext db)
{
    private sealed record Group(RecordKind Kind, string By, string? File, int Number, DateTimeOffset First);

    /// <summary>The files that persons brought for a day.</summary>
    public async Task<IReadOnlyList<(string By, string File)>> Brought(DateOnly day) =>
    [
        .. (await (await Standing(day)).Where(r => r.Day == day && r.File != null && r.File != DayFiles.Setup && r.TakenBy != Source.Inbox
            && r.TakenBy != BatchIntake.By)
            .Select(r => new { r.TakenBy, r.File }).Distinct().ToListAsync()).Select(s => (s.TakenBy, s.File!)).Order(),
    ];

    /// <summary>The ways of all records of a day.</summary>
    public async Task<IReadOnlyList<Source>> Of(DateOnly day) =>
        await Of((await Standing(day)).Where(r => r.Day == day && r.Kind != RecordKind.Setup));

    /// <summary>The records that count; where nothing of a day was ever replaced, that is all of them, and found sooner.</summary>
    private async Task<IQueryable<RecordRow>> Standing(DateOnly day) =>
        await db.Records.AnyAsync(r => r.Day == day && r.Version > 1) ? db.StandingRecords : db.Records;

    /// <summary>The ways of the journal, the counts and the settled rows behind a cell.</summary>
    public async Task<IReadOnlyList<Source>> Of(DayView view, CellKey cell)
    {
        var (day, register, slash) = (view.Setup.TradingDay.Date, cell.Register?.Value ?? "", "/");
        var counts = view.Day.Counts.Where(c => cell.Drawer is not null && c.Drawer == cell.Drawer).Select(c => c.Id).ToList();
        var terminals = cell.Drawer is not null || cell.IsPlace
            ? []
            : view.Setup.Terminals.Where(t => t.Register == cell.Register).Select(t => t.Terminal.Value).Distinct().ToList();
        return await Of((await Standing(day)).Where(r => r.Day == day && (
            (r.Kind == RecordKind.Event && db.Events.Any(e => e.Id == r.Id && e.Register == register))
            || (r.Kind == RecordKind.Count && counts.Contains(r.Key))
            || (r.Kind == RecordKind.Row && terminals.Contains(r.Key.Substring(0, r.Key.IndexOf(slash)))))));
    }

    /// <summary>What persons' files changed in a cell after it had been judged, the first one first.</summary>
    public async Task<IReadOnlyList<FileChangeRow>> Changes(DateOnly day, CellKey cell)
    {
        var (register, drawer, tender) = cell.Written;
        return await db.FileChanges.AsNoTracking()
            .Where(c => c.Day == day && c.Register == register && c.Drawer == drawer && c.Tender == tender).OrderBy(c => c.Number)
            .ToListAsync();
    }

    /// <summary>What persons' files changed in cells of a day that had been judged, without a second person.</summary>
    public async Task<IReadOnlyDictionary<CellKey, Money>> Alone(DateOnly day) =>
        (await db.FileChanges.AsNoTracking().Where(c => c.Day == day && c.Witness == null).ToListAsync())
            .GroupBy(c => new CellName(c.Register, c.Drawer, c.Tender).Cell!)
            .ToDictionary(g => g.Key, g => new Money(g.Sum(c => c.Amount)));

    private async Task<IReadOnlyList<Source>> Of(IQueryable<RecordRow> records)
    {
        var groups = await records.GroupBy(r => new { r.Kind, r.TakenBy, r.File })
            .Select(g => new Group(g.Key.Kind, g.Key.TakenBy, g.Key.File, g.Count(), g.Min(r => r.TakenAt))).ToListAsync();
        var persons = (await db.Users.Select(p => p.PersonId).ToListAsync()).ToHashSet(StringComparer.Ordinal);
        return [.. groups.OrderBy(g => g.Kind).ThenBy(g => g.First).ThenBy(g => g.By, StringComparer.Ordinal)
            .Select(g => new Source(g.Kind, WayOf(g), g.By, g.File, g.Number, g.First))];

        SourceWay WayOf(Group g) => g switch
        {
            { By: BatchIntake.By } => SourceWay.Processor,
            { By: Source.Inbox } => SourceWay.Folder,
            { File: not null } => SourceWay.File,
            _ => persons.Contains(g.By) ? SourceWay.Page : SourceWay.Key,
        };
    }
}
