using Fondo.Core.Journal;
using Fondo.Core.Leads;
using Fondo.Core.Matching;
using Fondo.Core.Proof;
using Fondo.Core.Reconciling;
using Fondo.Core.SetUp;

namespace Fondo.Core.Evidence;

/// <summary>One thing behind a difference between a terminal and the journal.</summary>
/// <param name="Item">The tender or the row.</param>
/// <param name="Cause">Why it would stay open; null where it would be paired.</param>
/// <param name="Other">What it would be paired with, otherwise than it was recorded.</param>
public sealed record Behind(Item Item, Cause? Cause, Item? Other);

/// <summary>What a day would say if what its terminals hold were settled now.</summary>
public sealed class IfSettled
{
    /// <summary>The batch under which what a terminal holds is known.</summary>
    public const string HeldBatch = "held";

    private readonly Reconciliation _settled;
    private readonly ILookup<RegisterId?, Lead> _leads;

    /// <param name="held">The rows that the terminals hold, all of the batch <see cref="HeldBatch"/>.</param>
    public IfSettled(Days.Day day, IEnumerable<BatchRow> held)
    {
        _settled = Reconciliation.Of(day with { Rows = [.. day.Rows ?? [], .. held] });
        _leads = LeadFinder.Of(_settled).Leads.Where(l => l.Rank == 1 && l.Cell.Drawer is null).ToLookup(l => l.Cell.Register);
    }

    /// <summary>What would stand on one side alone, or be paired with another terminal or amount; rows that have settled already are behind
    /// no difference of what it holds.</summary>
    public IEnumerable<Behind> Of(TerminalId terminal) =>
        _settled.OpenItems.Where(o => o.Item.Terminal == terminal && o.Item.CarriedFrom is null
                && (o.Item.Row is not { } row || row.Key.Batch == HeldBatch))
            .Select(o => new Behind(o.Item, o.Cause, null))
            .Concat(_settled.Matches.Where(m => m.Rows.Any(r => r.Terminal == terminal && r.Row!.Key.Batch == HeldBatch)
                && (!m.Difference.IsZero || m.Journal.Any(j => j.Terminal != terminal)))
                .Select(m => new Behind(m.Journal[0], null, m.Rows[0])));

    /// <summary>What would most probably have happened at a register.</summary>
    public IEnumerable<Lead> LeadsOf(TerminalPlace place) => _leads[place.Register];
}
