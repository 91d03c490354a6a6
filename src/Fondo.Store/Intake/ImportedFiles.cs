using System.Globalization;
using Fondo.Core.SetUp;
using Fondo.Files.Reading;
using Fondo.Store.Days;
using Fondo.Store.Model;
using Fondo.Store.Settling;
using Fondo.Store.Trails;
using Microsoft.EntityFrameworkCore;

namespace Fondo.Store.Intake;

/// <summary>A file that was imported at one time.</summary>
/// <param name="First">The number of its first record, which names it.</param>
/// <param name="Last">The number of its last one.</param>
/// <param name="Days">The days that it is in.</param>
/// <param name="Records">How many records came of it.</param>
/// <param name="Standing">How many of them still count: others were taken back, or another version took their place.</param>
public sealed record ImportedFile(long First, long Last, string Name, string By, DateTimeOffset At, IReadOnlyList<DateOnly> Days,
    int Records, int Standing)
{
    /// <summary>What a register or the processor sent would come again by itself.</summary>
    public bool CanBeTakenBack => Standing > 0 && By != BatchIntake.By;
}

/// <summary>Which files came in, and how one is taken back: what came of it counts no more and stays in the trail.</summary>
public sealed class ImportedFiles(StoreContext db, DayStore days, DayLock guard, TradeBegins trade, TimeProvider clock)
{
    /// <summary>So many files of a day are listed: a folder that is fed by the minute has hundreds.</summary>
    public const int MostListed = 60;

    /// <summary>Those of which something is in a day, the latest first.</summary>
    public async Task<IReadOnlyList<ImportedFile>> In(DateOnly day)
    {
        var files = await db.Records.AsNoTracking().Where(r => r.Day == day && r.File != null && r.Json != "" && r.Kind != RecordKind.Setup)
            .GroupBy(r => new { r.TakenBy, r.File, r.TakenAt }).OrderByDescending(g => g.Key.TakenAt)
            .Select(g => g.Min(r => r.Id)).Take(MostListed).ToListAsync();
        var found = new List<ImportedFile>();
        foreach (var first in files)
        {
            if (await Find(first) is { } file && found.All(f => f.First != file.First))
            {
                found.Add(file);
            }
        }

        return [.. found.OrderByDescending(f => f.At).ThenBy(f => f.Name, StringComparer.Ordinal)];
    }

    /// <summary>Takes a file back: another supervisor or manager agrees, and none of its days is closed.</summary>
    public async Task<Outcome> TakeBack(long first, string? reason, Person by, Person? second)
    {
        if (by.Refusal(ActKind.TakeBackFile) is { } refused)
        {
            return refused;
        }

        if (second?.MayBeSecond(ActKind.TakeBackFile, by) != true)
        {
            return Outcome.Refused("Taking back a file takes two people. The second person must be another supervisor or manager.");
        }

        if (Reasons.Needed(reason) is { } withheld)
        {
            return Outcome.Refused(withheld);
        }

        await using var transaction = await db.BeginWriting();
        if (await Find(first) is not { CanBeTakenBack: true } file)
        {
            return Outcome.Refused("Nothing of this file counts any more, or it does not come from a person.");
        }

        if (await db.StandingCloses.Where(c => file.Days.Contains(c.Day)).OrderBy(c => c.Day).FirstOrDefaultAsync() is { } close)
        {
            return Outcome.Refused($"{Name(close.Day)} is closed with this file. Reopen that day first, or correct the difference there.");
        }

        await Withdraw(file, by, $"{reason!.Trim()} (taken back by {by.Name} and {second.Name})");
        if (await Unread(file.Days) is { } unread)
        {
            db.ChangeTracker.Clear();
            return Outcome.Refused($"Without this file the day cannot be read: {unread}. Take back what belongs to it first.");
        }

        await db.Note(new Act(TrailAct.Files, by.Id.Value, file.Name,
            $"taken back with {second.Id}: {file.Standing} of {file.Records} records, {reason.Trim()}"));
        await transaction.CommitAsync();
        return Outcome.Done;
    }

    /// <summary>The file of which that is a record.</summary>
    private async Task<ImportedFile?> Find(long record)
    {
        if (await db.Records.AsNoTracking().SingleOrDefaultAsync(r => r.Id == record) is not { File: { } name, TakenAt: var at } one)
        {
            return null;
        }

        // What came at once has numbers without a gap.
        var (by, mine) = (one.TakenBy, db.Records.AsNoTracking());
        var before = await mine.Where(r => r.Id < record && (r.TakenAt != at || r.TakenBy != by)).MaxAsync(r => (long?)r.Id) ?? 0;
        var behind = await mine.Where(r => r.Id > record && (r.TakenAt != at || r.TakenBy != by)).MinAsync(r => (long?)r.Id)
            ?? long.MaxValue;
        var parts = await mine.Where(r => r.Id > before && r.Id < behind && r.File == name && r.Kind != RecordKind.Setup)
            .GroupBy(r => r.Day)
            .Select(g => new { Day = g.Key, First = g.Min(r => r.Id), Last = g.Max(r => r.Id), Number = g.Count() }).ToListAsync();
        var (first, last) = (parts.Min(p => p.First), parts.Max(p => p.Last));
        return new(first, last, name, by, at, [.. parts.Select(p => p.Day).Order()], parts.Sum(p => p.Number),
            await db.StandingRecords.CountAsync(r => r.Id >= first && r.Id <= last && r.File == name));
    }

    /// <summary>Puts nothing in the place of each record that counts.</summary>
    private async Task Withdraw(ImportedFile file, Person by, string reason)
    {
        var now = clock.GetUtcNow();
        var records = await db.StandingRecords.Where(r => r.Id >= file.First && r.Id <= file.Last && r.File == file.Name)
            .OrderBy(r => r.Id).ToListAsync();
        foreach (var record in records.Where(r => r.Kind == RecordKind.Event))
        {
            await RecordWriter.Unindex(db, record.Id);
        }

        await using (var writer = await RecordWriter.Of(db))
        {
            foreach (var r in records)
            {
                writer.Append(r.Day, new(r.Kind, r.Key, ""), by.Id.Value, now, reason, r.Version + 1);
            }
        }

        foreach (var day in await db.Days.Where(d => file.Days.Contains(d.Date)).ToListAsync())
        {
            day.HasRows &= await Has(day.Date, RecordKind.Row, RecordKind.Total);
            day.HasLedger &= await Has(day.Date, RecordKind.Ledger);
            day.HasTrade &= await trade.IsThere(day.Date);
        }

        await db.SaveChangesAsync();
        await guard.Grow([.. file.Days], isWanted: true);
    }

    private Task<bool> Has(DateOnly day, params RecordKind[] kinds) =>
        db.StandingRecords.AnyAsync(r => r.Day == day && kinds.Contains(r.Kind));

    private async Task<string?> Unread(IReadOnlyList<DateOnly> dates)
    {
        try
        {
            foreach (var date in dates)
            {
                await days.Check(date);
            }

            return null;
        }
        catch (UnreadableDayException e)
        {
            return $"{e.Records[0].Key}, {e.Records[0].Why}";
        }
    }

    private static string Name(DateOnly day) => day.ToString("dddd, d MMMM", CultureInfo.InvariantCulture);
}
