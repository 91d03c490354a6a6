using System.Collections.Immutable;
using Fondo.Core.Days;
using Fondo.Core.Matching;
using Fondo.Core.SetUp;
using Fondo.Store.Model;
using Microsoft.EntityFrameworkCore;

namespace Fondo.Store.Days;

/// <summary>Writes down what a person says belongs together, or does not.</summary>
public sealed class PairingDesk(StoreContext db, DayStore days, DayLock guard, TimeProvider clock)
{
    /// <summary>Of more items than this nobody sees whether they belong together.</summary>
    private const int Most = 24;

    /// <param name="id">Made with the form.</param>
    /// <param name="keys">Of tenders and rows, in any order.</param>
    public Task<Outcome> Say(DateOnly day, Guid id, PairingKind kind, IReadOnlyCollection<string> keys, string? reason, Person by) =>
        guard.Write(day, async () =>
    {
        if (await db.Pairings.AsNoTracking().SingleOrDefaultAsync(p => p.Id == id) is { } made)
        {
            return made.Kind == kind && made.Journal.Split('\n').Concat(made.Rows.Split('\n')).Where(k => k.Length > 0).ToHashSet()
                .SetEquals(keys)
                ? Outcome.Done
                : Outcome.Refused("This form was already sent with different values, and those were kept. Reload the page to see them.");
        }

        if (by.Refusal(ActKind.PairRows) is { } refused)
        {
            return refused;
        }

        if (Reasons.Needed(reason) is { } withheld)
        {
            return Outcome.Refused(withheld);
        }

        if (keys.Count is 0 or > Most)
        {
            return Outcome.Refused(keys.Count == 0
                ? "Choose what belongs together."
                : $"Match at most {Most} items at once.");
        }

        var result = (await days.View(day))!.Reconciliation;
        var items = new Dictionary<string, Item>(StringComparer.Ordinal);
        foreach (var item in result.Matches.SelectMany(m => m.Journal.Concat(m.Rows)).Concat(result.OpenItems.Select(o => o.Item))
            .Where(i => keys.Contains(i.Key)))
        {
            items[item.Key] = item;
        }

        if (keys.FirstOrDefault(k => !items.ContainsKey(k)) is not null)
        {
            return Outcome.Refused("One of these items is gone or needs no settled row. Reload the page.");
        }

        var (journal, rows) =
            (items.Values.Where(i => i.Row is null).Order().ToList(), items.Values.Where(i => i.Row is not null).Order().ToList());
        if (kind == PairingKind.Pair && (journal.Count == 0 || rows.Count == 0))
        {
            return Outcome.Refused("A match needs items on both sides. Choose one from the journal and one from the batches.");
        }

        // Whatever else hangs on these items by the rules is free again, and whatever a person tied to them stays said.
        db.Pairings.Add(new()
        {
            Id = id,
            Day = day,
            Kind = kind,
            Journal = string.Join('\n', journal.Select(i => i.Key)),
            Rows = string.Join('\n', rows.Select(i => i.Key)),
            Seen = string.Join('\n', journal.Concat(rows).Select(i => i.Amount.Minor)),
            Reason = reason!.Trim(),
            By = by.Id.Value,
            At = clock.GetUtcNow(),
        });
        await db.SaveChangesAsync();
        await guard.Revise(day);
        return Outcome.Done;
    });

    /// <summary>What was said of a day, in its order.</summary>
    internal static async Task<ImmutableArray<Pairing>> Of(StoreContext db, DateOnly day) =>
    [
        .. (await db.Pairings.AsNoTracking().Where(p => p.Day == day).OrderBy(p => p.Number).ToListAsync()).Select(p => new Pairing(
            p.Id, p.Kind, Lines(p.Journal), Lines(p.Rows),
            [.. Lines(p.Seen).Select(m => new Core.Amounts.Money(long.Parse(m, System.Globalization.CultureInfo.InvariantCulture)))],
            p.Reason, new(p.By), p.At)),
    ];

    private static ImmutableArray<string> Lines(string text) => [.. text.Split('\n', StringSplitOptions.RemoveEmptyEntries)];
}
