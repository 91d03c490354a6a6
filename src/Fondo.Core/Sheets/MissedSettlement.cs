using Fondo.Core.Journal;

namespace Fondo.Core.Sheets;

/// <summary>A terminal that should have settled by now and has not.</summary>
/// <param name="Due">When it should have, at the latest.</param>
/// <param name="ByItself">Whether it was to do so without anybody.</param>
/// <param name="Number">How many of its tenders wait for their batch.</param>
/// <param name="LastClosed">When its last batch of today closed; null where none did.</param>
public sealed record MissedSettlement(TerminalId Terminal, RegisterId Register, DateTimeOffset Due, bool ByItself, int Number, Money Amount,
    DateTimeOffset? LastClosed)
{
    /// <summary>So long after its time a batch that should come by itself is missed.</summary>
    public static readonly TimeSpan Grace = TimeSpan.FromMinutes(15);

    /// <summary>Terminals that settle by themselves are watched, not trusted; the others are to be settled by the hour that the policy
    /// sets. One that has settled waits again for the cards that it took since, up to its hour.</summary>
    public static ImmutableArray<MissedSettlement> In(Overview overview, DateTimeOffset now)
    {
        var setup = overview.Result.Day.Setup;
        var late = setup.Terminals.DistinctBy(t => t.Terminal)
            .Select(t => (Place: t, Due: t.SettlesAt is { } at ? setup.At(at) + Grace
                : setup.Policy.SettledBy is { } by ? setup.At(by)
                : (DateTimeOffset?)null))
            .Where(t => t.Due is { } due && now > due).ToList();
        if (late.Count == 0)
        {
            return [];
        }

        var waiting = HeldCards.Of(overview);
        var closed = overview.Result.Day.Totals.GroupBy(t => t.Terminal)
            .ToDictionary(g => g.Key, g => (DateTimeOffset?)g.Max(t => t.Closed));
        var missed = ImmutableArray.CreateBuilder<MissedSettlement>();
        foreach (var (place, due) in late)
        {
            var byItself = place.SettlesAt is not null;
            var hour = byItself ? due!.Value - Grace : due!.Value;
            var isSettled = overview.SettledTerminals.Contains(place.Terminal);
            var last = isSettled ? closed.GetValueOrDefault(place.Terminal) : null;
            var held = waiting[place.Terminal].Where(t => !isSettled || t.Ticket.At <= hour).ToList();
            if (held.Count > 0 || (byItself && !isSettled))
            {
                missed.Add(new(place.Terminal, place.Register, hour, byItself, held.Count, held.Sum(t => t.Tender.Amount), last));
            }
        }

        return missed.ToImmutable();
    }
}
