using Fondo.Core.Journal;
using Fondo.Store.Model;
using Microsoft.EntityFrameworkCore;

namespace Fondo.Store.Intake;

/// <summary>Numbers of a register that were never received.</summary>
/// <param name="First">The first id that is missing; <paramref name="Last"/> the last.</param>
public sealed record MissingNumbers(string Register, long First, long Last, string FirstId, string LastId)
{
    public long Count => Last - First + 1;
}

/// <summary>Watches the numbering of the registers: a gap is an event that is still to come, or one that somebody has to explain.</summary>
public sealed class Numbering(StoreContext db, TimeProvider clock)
{
    /// <param name="register">Null: all of them.</param>
    public async Task<IReadOnlyList<MissingNumbers>> Missing(DateOnly day, string? register = null)
    {
        var numbered = await db.Events.AsNoTracking().Where(e => e.Day == day && e.Number != null && (register == null || e.Register == register)).Select(e => new { e.Register, e.Key, e.At }).ToListAsync();
        var explained = await db.Gaps.AsNoTracking().Where(g => register == null || g.Register == register).ToListAsync();
        var missing = new List<MissingNumbers>();
        foreach (var series in numbered.Select(e => (e.Register, e.At, Number: EventNumber.Of(e.Key)!.Value)).GroupBy(e => (e.Register, e.Number.Prefix)).OrderBy(g => g.Key.Register, StringComparer.Ordinal))
        {
            var numbers = series.Select(e => e.Number.Number).ToList();
            if (await Before(series.Key.Register, series.Min(e => e.At), series.Key.Prefix) is { } last && last < numbers.Min())
            {
                numbers.Add(last);
            }

            numbers.Sort();
            var form = series.First().Number;
            foreach (var (from, to) in numbers.Zip(numbers.Skip(1)).Where(p => p.Second > p.First + 1))
            {
                missing.AddRange(await Left(series.Key.Register, form, from + 1, to - 1, explained));
            }
        }

        return missing;
    }

    /// <summary>What is missing within and just before some events of a register; for that, little has to be looked at.</summary>
    public async Task<IReadOnlyList<MissingNumbers>> Around(string register, IReadOnlyCollection<string> ids)
    {
        var explained = await db.Gaps.AsNoTracking().Where(g => g.Register == register).ToListAsync();
        var missing = new List<MissingNumbers>();
        foreach (var series in ids.Select(EventNumber.Of).OfType<EventNumber>().GroupBy(n => n.Prefix))
        {
            var numbers = series.Select(n => n.Number).Order().ToList();
            if (await db.Events.Where(e => e.Number < numbers[0] && e.Register == register).OrderByDescending(e => e.Number).Select(e => e.Number).FirstOrDefaultAsync() is { } before)
            {
                numbers.Insert(0, before);
            }

            foreach (var (from, to) in numbers.Zip(numbers.Skip(1)).Where(p => p.Second > p.First + 1))
            {
                missing.AddRange(await Left(register, series.First(), from + 1, to - 1, explained));
            }
        }

        return missing;
    }

    public async Task<Outcome> Explain(string register, long first, long last, string? reason, string by)
    {
        if (string.IsNullOrWhiteSpace(reason))
        {
            return Outcome.Refused("Say why these numbers will not come.");
        }

        if (Reasons.Objection(reason) is { } withheld)
        {
            return Outcome.Refused(withheld);
        }

        db.Gaps.Add(new() { Register = register, First = first, Last = last, Reason = reason.Trim(), By = by, At = clock.GetUtcNow() });
        await db.SaveChangesAsync();
        return Outcome.Done;
    }

    /// <summary>The number of the register's last event before this one.</summary>
    private async Task<long?> Before(string register, DateTimeOffset at, string prefix) =>
        await db.Events.AsNoTracking().Where(e => e.Register == register && e.At < at).OrderByDescending(e => e.At).Select(e => e.Key).FirstOrDefaultAsync() is { } key
        && EventNumber.Of(key) is { } number && number.Prefix == prefix ? number.Number : null;

    /// <summary>What of a range is in no other day and not explained.</summary>
    private async Task<IEnumerable<MissingNumbers>> Left(string register, EventNumber form, long first, long last, List<GapRow> explained)
    {
        var elsewhere = await db.Events.AsNoTracking().Where(e => e.Number >= first && e.Number <= last && e.Register == register).Select(e => e.Number!.Value).ToListAsync();
        // What waits for a person, or was left out by one, has come.
        elsewhere.AddRange((await db.Aside.AsNoTracking().Where(a => a.Register == register).Select(a => a.Key).ToListAsync()).Select(EventNumber.Of).OfType<EventNumber>().Where(n => n.Prefix == form.Prefix).Select(n => n.Number));
        var filled = elsewhere.Where(n => n >= first && n <= last).Select(n => (First: n, Last: n)).Concat(explained.Where(g => g.Register == register && g.First <= last && g.Last >= first).Select(g => (g.First, g.Last))).Order();
        var left = new List<MissingNumbers>();
        foreach (var (from, to) in filled.Append((last + 1, last + 1)))
        {
            if (from > first)
            {
                left.Add(new(register, first, from - 1, form.At(first), form.At(from - 1)));
            }

            first = Math.Max(first, to + 1);
        }

        return left;
    }
}
