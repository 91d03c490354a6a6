using System.Globalization;
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
    /// <param name="Next">The next number of the register that is there, on any day.</param>
    private sealed record Step(string Register, string Key, long Next);

    private sealed record Range(string Register, string Prefix, long First, long Last, int Shortest, int Longest);

    private sealed record Beginning(string Register, string Key, long At);

    /// <param name="register">Null: all of them.</param>
    public async Task<IReadOnlyList<MissingNumbers>> Missing(DateOnly day, string? register = null)
    {
        var date = day.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture);
        // From the last number before the day to its last one; the database looks through them, and only the gaps come back.
        var ranges = await db.Database.SqlQuery<Range>($"""
            SELECT Register, rtrim(Key, '0123456789') AS Prefix, MIN(Number) AS First, MAX(Number) AS Last, MIN(length(Key)) AS Shortest, MAX(length(Key)) AS Longest FROM Events
            WHERE Day = {date} AND Number IS NOT NULL AND ({register} IS NULL OR Register = {register}) AND NOT EXISTS (SELECT 1 FROM OpenIntakes AS o WHERE Events.Id BETWEEN o.First AND o.Last) GROUP BY Register, rtrim(Key, '0123456789')
            """).ToListAsync();
        var beginnings = await db.Database.SqlQuery<Beginning>($"""
            SELECT Register, Key, MIN(At) AS At FROM Events WHERE Day = {date} AND Number IS NOT NULL AND ({register} IS NULL OR Register = {register}) AND NOT EXISTS (SELECT 1 FROM OpenIntakes AS o WHERE Events.Id BETWEEN o.First AND o.Last) GROUP BY Register
            """).ToDictionaryAsync(b => b.Register);
        var missing = new List<MissingNumbers>();
        foreach (var range in ranges)
        {
            var (first, width) = (range.First, range.Shortest == range.Longest ? range.Longest : (int?)null);
            if (beginnings[range.Register] is var begins && EventNumber.Of(begins.Key) is { } form && form.Prefix == range.Prefix
                && await Before(range.Register, new(begins.At, TimeSpan.Zero), range.Prefix) is { } last && last.Number < first)
            {
                (first, width) = (last.Number, WidthOf(last) == width ? width : null);
            }

            missing.AddRange(await Within(range.Register, range.Prefix, first, range.Last, width));
        }

        return [.. (await Unexplained(missing)).OrderBy(m => m.Register, StringComparer.Ordinal).ThenBy(m => m.First)];
    }

    /// <summary>What is missing within and just before some events of a register; for that, little has to be looked at.</summary>
    public async Task<IReadOnlyList<MissingNumbers>> Around(string register, IReadOnlyCollection<string> ids)
    {
        var missing = new List<MissingNumbers>();
        foreach (var series in ids.Select(id => EventNumber.Of(id)).OfType<EventNumber>().GroupBy(n => n.Prefix))
        {
            var (first, last) = (series.MinBy(n => n.Number), series.Max(n => n.Number));
            var before = await Before(register, first) ?? first;
            missing.AddRange(await Within(register, series.Key, before.Number, last,
                series.Append(before).Select(WidthOf).Distinct().ToList() is [var width] ? width : null));
        }

        return await Unexplained(missing);
    }

    /// <summary>Explains a gap that is there; it opens again when numbers come that lie within it.</summary>
    public async Task<Outcome> Explain(DateOnly day, string register, long first, long last, string? reason, string by)
    {
        if (string.IsNullOrWhiteSpace(reason))
        {
            return Outcome.Refused("Give a reason why these numbers will not come.");
        }

        if (Reasons.Objection(reason) is { } withheld)
        {
            return Outcome.Refused(withheld);
        }

        if (!(await Missing(day, register)).Any(m => m.First == first && m.Last == last))
        {
            return Outcome.Refused("These numbers are no longer one gap. Reload the list.");
        }

        db.Gaps.Add(new() { Register = register, First = first, Last = last, Reason = reason.Trim(), By = by, At = clock.GetUtcNow() });
        await db.SaveChangesAsync();
        return Outcome.Done;
    }

    /// <summary>The number of the register's last event before this one.</summary>
    private async Task<EventNumber?> Before(string register, DateTimeOffset at, string prefix) =>
        await db.Events.AsNoTracking().Where(e => e.Register == register && e.At < at).OrderByDescending(e => e.At).Select(e => e.Key)
            .FirstOrDefaultAsync() is { } key
        && EventNumber.Of(key) is { } number && number.Prefix == prefix ? number : null;

    /// <summary>The last number of its series before this one: of the same width, as nearly always, or else of another.</summary>
    private async Task<EventNumber?> Before(string register, EventNumber number)
    {
        var (least, own, width) = (number.Prefix + '0', number.At(number.Number), WidthOf(number));
        var key = await db.Database.SqlQuery<string>($"""
            SELECT Key AS Value FROM Events WHERE Key >= {least} AND Key < {own} AND length(Key) = {width} AND rtrim(Key, '0123456789') = {number.Prefix} AND +Register = {register}
              AND NOT EXISTS (SELECT 1 FROM OpenIntakes AS o WHERE Events.Id BETWEEN o.First AND o.Last)
            ORDER BY Key DESC LIMIT 1
            """).ToListAsync();
        if (key.Count == 0)
        {
            key = await db.Database.SqlQuery<string>($"""
                SELECT Key AS Value FROM Events WHERE Register = {register} AND +Number < {number.Number} AND rtrim(Key, '0123456789') = {number.Prefix}
                  AND NOT EXISTS (SELECT 1 FROM OpenIntakes AS o WHERE Events.Id BETWEEN o.First AND o.Last)
                ORDER BY +Number DESC LIMIT 1
                """).ToListAsync();
        }

        return key is [var there] ? EventNumber.Of(there) : null;
    }

    private static int WidthOf(EventNumber number) => number.Prefix.Length + number.Digits;

    /// <summary>The gaps between two numbers that are there, over all days: one question.</summary>
    /// <param name="width">How long the ids of the series are; null where they differ. Ids of one width stand in the order of their
    /// numbers, and are looked up as a range of them:
    /// else the database would look through all that the register ever rang (a <c>+</c> keeps it from that).</param>
    private async Task<IEnumerable<MissingNumbers>> Within(string register, string prefix, long first, long last, int? width)
    {
        var (from, to) = width is { } all ? (Key(first, all), Key(last, all)) : (prefix + '0', prefix + ':');
        var steps = await db.Database.SqlQuery<Step>($"""
            SELECT Register, Key, Next FROM (
              SELECT Register, Key, Number, LEAD(Number) OVER (ORDER BY Number) AS Next
              FROM Events WHERE Key BETWEEN {from} AND {to} AND +Register = {register} AND +Number BETWEEN {first} AND {last} AND rtrim(Key, '0123456789') = {prefix}
                AND NOT EXISTS (SELECT 1 FROM OpenIntakes AS o WHERE Events.Id BETWEEN o.First AND o.Last))
            WHERE Next > Number + 1 ORDER BY Number
            """).ToListAsync();
        if (steps.Count == 0)
        {
            return [];
        }

        // What waits for a person, or was left out by one, has come.
        var aside = (await db.Aside.AsNoTracking().Where(a => a.Register == register).Select(a => a.Key).ToListAsync())
            .Select(k => EventNumber.Of(k)).OfType<EventNumber>().Where(n => n.Prefix == prefix).Select(n => n.Number).Distinct().Order()
            .ToList();
        return steps.SelectMany(s => Left(EventNumber.Of(s.Key)!.Value, s.Next, aside)
            .Select(g => new MissingNumbers(register, g.First, g.Last, At(s.Key, g.First), At(s.Key, g.Last))));

        string Key(long number, int length) => prefix + number.ToString(CultureInfo.InvariantCulture).PadLeft(length - prefix.Length, '0');

        static string At(string key, long number) => EventNumber.Of(key)!.Value.At(number);
    }

    /// <summary>What lies between two numbers, less the sorted numbers that have come otherwise.</summary>
    private static IEnumerable<(long First, long Last)> Left(EventNumber before, long next, List<long> come)
    {
        var first = before.Number + 1;
        var at = come.BinarySearch(first);
        for (var i = at < 0 ? ~at : at; i < come.Count && come[i] < next; i++)
        {
            if (come[i] > first)
            {
                yield return (first, come[i] - 1);
            }

            first = come[i] + 1;
        }

        if (first < next)
        {
            yield return (first, next - 1);
        }
    }

    /// <summary>An explanation holds for the very gap that it was given for.</summary>
    private async Task<IReadOnlyList<MissingNumbers>> Unexplained(List<MissingNumbers> missing)
    {
        if (missing.Count == 0)
        {
            return missing;
        }

        var registers = missing.Select(m => m.Register).Distinct().ToList();
        var explained = (await db.Gaps.AsNoTracking().Where(g => registers.Contains(g.Register))
            .Select(g => new { g.Register, g.First, g.Last }).ToListAsync())
            .Select(g => (g.Register, g.First, g.Last)).ToHashSet();
        return [.. missing.Where(m => !explained.Contains((m.Register, m.First, m.Last)))];
    }
}
