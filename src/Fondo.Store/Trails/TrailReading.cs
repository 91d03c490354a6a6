using Fondo.Store.Model;
using Microsoft.EntityFrameworkCore;

namespace Fondo.Store.Trails;

/// <summary>Reads the trail for people: the latest lines first.</summary>
public sealed class TrailReading(StoreContext db)
{
    public const int OnAPage = 100;

    /// <param name="before">Lines before this number; null: the latest.</param>
    /// <param name="who">A person's id; null or empty: anybody.</param>
    /// <param name="register">What it was done on, or says, names this register; null or empty: any.</param>
    /// <param name="day">The trading day that it was done on; null: any.</param>
    public async Task<IReadOnlyList<TrailRow>> Lines(long? before, TrailAct? act, string? who, string? register = null,
        DateOnly? day = null)
    {
        var lines = db.Trail.AsNoTracking().Where(t => before == null || t.Number < before);
        lines = act is { } what ? lines.Where(t => t.Act == what) : lines;
        lines = string.IsNullOrEmpty(who) ? lines : lines.Where(t => t.By == who);
        lines = day is { } date
            ? lines.Where(t => t.On.StartsWith(date.ToString("yyyy-MM-dd", System.Globalization.CultureInfo.InvariantCulture)))
            : lines;
        if (!string.IsNullOrEmpty(register))
        {
            // Entries name their registers in their postings, everything else in words.
            var (own, inside, opening, dash) = (register, $" {register}", $"{register}-", $" {register}-");
            var entries = (await db.Set<PostingRow>().Where(p => p.Register == own).Select(p => p.EntryId).Distinct().ToListAsync())
                .Select(id => $"Entries:{id}").ToList();
            lines = lines.Where(t => t.On == own || t.On.EndsWith(inside) || t.On.Contains(dash) || t.On.StartsWith(opening)
                || t.Says.Contains(dash) || entries.Contains(t.Of));
        }

        return await lines.OrderByDescending(t => t.Number).Take(OnAPage).ToListAsync();
    }

    /// <summary>The number of the last line, and its hash; 0 and nothing where there is none.</summary>
    public async Task<(long Number, string Hash)> Last() =>
        await db.Trail.AsNoTracking().OrderByDescending(t => t.Number).Select(t => new { t.Number, t.Hash })
            .FirstOrDefaultAsync() is { } last ? (last.Number, last.Hash) : (0, "");

    /// <summary>When and where a person last signed in, and how many wrong PINs were given for them since; null where they never
    /// did.</summary>
    public async Task<(DateTimeOffset At, string Machine, int Wrong)?> LastSignIn(string person)
    {
        var own = db.Trail.AsNoTracking().Where(t => t.By == person);
        return await own.Where(t => t.Act == TrailAct.SignIn).OrderByDescending(t => t.Number)
            .Select(t => new { t.Number, t.At, t.Machine }).FirstOrDefaultAsync() is { } last
            ? (last.At, last.Machine, await own.CountAsync(t => t.Act == TrailAct.Refused && t.Number > last.Number)) : null;
    }

    /// <summary>What the entries behind these lines moved, and which entry an approval is of: by the line's number.</summary>
    public async Task<IReadOnlyDictionary<long, EntryRow>> Entries(IReadOnlyList<TrailRow> lines)
    {
        Guid? IdOf(TrailRow line) => line.Act is TrailAct.Entry or TrailAct.Approve && line.Of.Split(':') is [_, var id]
            && Guid.TryParse(id, out var known) ? known : null;
        var ids = lines.Select(IdOf).OfType<Guid>().ToHashSet();
        var rows = await db.Entries.AsNoTracking().AsSingleQuery().Where(e => ids.Contains(e.Id))
            .ToDictionaryAsync(e => e.Id);
        return lines.Where(l => IdOf(l) is { } id && rows.ContainsKey(id)).ToDictionary(l => l.Number, l => rows[IdOf(l)!.Value]);
    }
}
