using Fondo.Core.Journal;
using Fondo.Core.Proof;
using Fondo.Core.SetUp;

namespace Fondo.Core.Days;

/// <summary>All that is known of one trading day: one immutable value. The order of its parts has no meaning.</summary>
/// <param name="Rows">Null while no settled batch has been taken in.</param>
/// <param name="Totals">What the hosts say they settled; empty where they do not say.</param>
/// <param name="Ledger">Null while the store's own books have not been taken in.</param>
public sealed record Day(
    Setup Setup,
    ImmutableArray<JournalEvent> Journal,
    ImmutableArray<BatchRow>? Rows,
    ImmutableArray<BatchTotal> Totals,
    ImmutableArray<LedgerRow>? Ledger,
    ImmutableArray<Count> Counts,
    Carried Carried)
{
    /// <summary>Tickets rung after the close of an earlier day that wait for a drawer session of their register: they count nowhere yet.</summary>
    public ImmutableArray<Ticket> Waiting { get; init; } = [];

    /// <summary>What terminals that are not connected printed.</summary>
    public ImmutableArray<PrintedLine> Printed { get; init; } = [];
}

/// <summary>Open items of earlier days.</summary>
public sealed record Carried(ImmutableArray<CarriedTender> Journal, ImmutableArray<CarriedRow> Rows)
{
    public static readonly Carried Nothing = new([], []);
}

/// <summary>A tender of an earlier day that was never found settled.</summary>
/// <param name="Place">Which tender of the ticket, from 1.</param>
public sealed record CarriedTender(TradingDay Day, Ticket Ticket, int Place)
{
    public Tender Tender => Ticket.Tenders[Place - 1];
}

/// <summary>A settled row of an earlier day that no journal knew.</summary>
public sealed record CarriedRow(TradingDay Day, BatchRow Row);
