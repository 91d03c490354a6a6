using System.Globalization;
using Fondo.Core.Amounts;
using Fondo.Core.Cash;
using Fondo.Core.Cells;
using Fondo.Core.Checks;
using Fondo.Core.Closing;
using Fondo.Core.Days;
using Fondo.Core.Entries;
using Fondo.Core.Journal;
using Fondo.Core.Leads;
using Fondo.Core.Matching;
using Fondo.Core.Proof;
using Fondo.Core.Reconciling;
using Fondo.Core.SetUp;
using Fondo.Core.Sheets;
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
    /// <param name="Next">The next number of the register that is there.</param>
    private sealed record Step(string Register, string Key, long Number, long Next);

    private sealed record Beginning(string Register, string Key, long At);

    /// <param name="register">Null: all of them.</param>
    public async Task<IReadOnlyList<MissingNumbers>> Missing(DateOnly day, string? register = null)
    {
        var date = day.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture);
        // The database looks through the numbers; only the gaps come back.
        var steps = await db.Database.SqlQuery<Step>($"""
            SELECT Register, Key, Number, Next FROM (
              SELECT Register, Key, Number, LEAD(Number) OVER (PARTITION BY Register, rtrim(Key, '0123456789') ORDER BY Number) AS Next
              FROM Events WHERE Day = {date} AND Number IS NOT NULL AND ({register} IS NULL OR Register = {register}))
            WHERE Next > Number + 1
            """).ToListAsync();
        var beginnings = await db.Database.SqlQuery<Beginning>($"""
            SELECT Register, Key, MIN(At) AS At FROM Events WHERE Day = {date} AND Number IS NOT NULL AND ({register} IS NULL OR Register = {register}) GROUP BY Register
            """).ToListAsync();
        var explained = await db.Gaps.AsNoTracking().Where(g => register == null || g.Register == register).ToListAsync();
        var missing = new List<MissingNumbers>();
        foreach (var first in beginnings.Where(b => EventNumber.Of(b.Key) is not null))
        {
            var form = EventNumber.Of(first.Key)!.Value;
            if (await Before(first.Register, new(first.At, TimeSpan.Zero), form.Prefix) is { } last && last < form.Number - 1)
            {
                missing.AddRange(await Left(first.Register, form, last + 1, form.Number - 1, explained));
            }
        }

        foreach (var step in steps)
        {
            missing.AddRange(await Left(step.Register, EventNumber.Of(step.Key)!.Value, step.Number + 1, step.Next - 1, explained));
        }

        return [.. missing.OrderBy(m => m.Register, StringComparer.Ordinal).ThenBy(m => m.First)];
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
