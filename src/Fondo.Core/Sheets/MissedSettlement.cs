using Fondo.Core.Days;
using Fondo.Core.Journal;

namespace Fondo.Core.Sheets;

/// <summary>A terminal that should have settled by now and has not.</summary>
/// <param name="Due">When it should have, at the latest.</param>
/// <param name="ByItself">Whether it was to do so without anybody.</param>
/// <param name="Number">How many of its tenders wait for their batch.</param>
public sealed record MissedSettlement(TerminalId Terminal, RegisterId Register, DateTimeOffset Due, bool ByItself, int Number, Money Amount)
{
    /// <summary>So long after its time a batch that should come by itself is missed.</summary>
    public static readonly TimeSpan Grace = TimeSpan.FromMinutes(15);

    /// <summary>Terminals that settle by themselves are watched, not trusted; the others are to be settled by the hour that the policy
    /// sets, where anything waits on them.</summary>
    /// <param name="unsettled">As <see cref="TerminalComparison.Unsettled"/> says, asked only where a terminal is late.</param>
    public static ImmutableArray<MissedSettlement> In(Overview overview, DateTimeOffset now,
        Func<ILookup<TerminalId, TakenTender>>? unsettled = null)
    {
        var setup = overview.Result.Day.Setup;
        var late = setup.Terminals.DistinctBy(t => t.Terminal)
            .Select(t => (Place: t, Due: t.SettlesAt is { } at ? setup.At(at) + Grace
                : setup.Policy.SettledBy is { } by ? setup.At(by)
                : (DateTimeOffset?)null))
            .Where(t => t.Due is { } due && now > due && !overview.SettledTerminals.Contains(t.Place.Terminal)).ToList();
        if (late.Count == 0)
        {
            return [];
        }

        var waiting = unsettled?.Invoke() ?? TerminalComparison.Unsettled(overview.Result);
        return
        [
            .. late.Where(t => t.Place.SettlesAt is not null || waiting.Contains(t.Place.Terminal)).Select(t => new MissedSettlement(
                t.Place.Terminal, t.Place.Register, t.Place.SettlesAt is null ? t.Due!.Value : t.Due!.Value - Grace,
                t.Place.SettlesAt is not null,
                waiting[t.Place.Terminal].Count(), waiting[t.Place.Terminal].Sum(w => w.Tender.Amount))),
        ];
    }
}
