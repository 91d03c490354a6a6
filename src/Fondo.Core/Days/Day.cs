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
    /// <summary>Tickets rung after the close of an earlier day that wait for a drawer session of their register: they count nowhere
    /// yet.</summary>
    public ImmutableArray<Ticket> Waiting { get; init; } = [];

    /// <summary>Rows that say again, under another batch or sequence number, what one of <see cref="Rows"/> says (rules §5): they count
    /// for their batch's totals, and nowhere else.</summary>
    public ImmutableArray<BatchRow> RowsAgain { get; init; } = [];

    /// <summary>What terminals that are not connected printed.</summary>
    public ImmutableArray<PrintedLine> Printed { get; init; } = [];

    /// <summary>What persons said belongs together, or does not; in the order in which they said it.</summary>
    public ImmutableArray<Pairing> Pairings { get; init; } = [];
}

/// <summary>Open items of earlier days.</summary>
public sealed record Carried(ImmutableArray<CarriedTender> Journal, ImmutableArray<CarriedRow> Rows)
{
    public static readonly Carried Nothing = new([], []);

    public ImmutableArray<CarriedHold> Holds { get; init; } = [];

    /// <summary>Whose each item is, by its key.</summary>
    public IEnumerable<(string Key, TradingDay Day, Ownership? Owned)> Items =>
        Journal.Select(c => (c.Ticket.KeyOf(c.Place).ToString(), c.Day, c.Owned))
            .Concat(Rows.Select(c => (c.Row.Key.ToString(), c.Day, c.Owned)))
            .Concat(Holds.Select(c => (c.Hold.Id.Value, c.Day, c.Owned)));
}

/// <summary>Who watches for something that is carried, and until when.</summary>
public sealed record Ownership(PersonId Owner, DateTimeOffset Deadline);

/// <summary>A tender of an earlier day that was never found settled.</summary>
/// <param name="Place">Which tender of the ticket, from 1.</param>
/// <param name="Owned">Null where nobody owns it yet.</param>
public sealed record CarriedTender(TradingDay Day, Ticket Ticket, int Place, Ownership? Owned = null)
{
    public Tender Tender => Ticket.Tenders[Place - 1];

    /// <summary>Until when it can be put right, as it was when it was first seen; null where nobody wrote it down.</summary>
    public DateTimeOffset? RightUntil { get; init; }
}

/// <summary>A settled row of an earlier day that no journal knew.</summary>
public sealed record CarriedRow(TradingDay Day, BatchRow Row, Ownership? Owned = null)
{
    /// <summary>Until when it can be put right, as it was when it was first seen; null where nobody wrote it down.</summary>
    public DateTimeOffset? RightUntil { get; init; }
}

/// <summary>A ticket that was put on hold on an earlier day and never finished.</summary>
public sealed record CarriedHold(TradingDay Day, Hold Hold, Ownership? Owned = null);
