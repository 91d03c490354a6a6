using Fondo.Core.Days;
using Fondo.Core.Journal;
using Fondo.Core.Proof;

namespace Fondo.Core.Matching;

/// <summary>One side of a pairing: an approved batch-proved tender of the journal, or a settled row.</summary>
/// <param name="Key">The tender's or the row's key, as the files write it.</param>
/// <param name="Amount">Signed as in the journal: refunds negative.</param>
/// <param name="Terminal">Where the card was run; null where the journal does not say.</param>
/// <param name="CarriedFrom">The earlier day of a carried item; null for today's.</param>
public sealed record Item(string Key, Money Amount, Direction Direction, CardSlip Card, TerminalId? Terminal, DateTimeOffset At, CellKey Cell, TradingDay? CarriedFrom)
{
    public static Item Of(TakenTender taken, TradingDay? carriedFrom)
    {
        var tender = taken.Tender;
        return new(
            taken.Key.ToString(), tender.Amount, taken.Ticket.Kind == TicketKind.Refund ? Direction.Refund : Direction.Sale,
            tender.Card ?? new CardSlip(null, null, null, null, null, null), tender.Card?.Terminal, taken.Ticket.At,
            new(taken.Ticket.Register, null, tender.Type), carriedFrom);
    }

    public static Item Of(BatchRow row, CellKey cell, TradingDay? carriedFrom)
    {
        return new(row.Key.ToString(), row.Signed, row.Direction, row.Card, row.Key.Terminal, row.At, cell, carriedFrom);
    }
}

/// <summary>Tenders and rows that belong together, and the rule that says so.</summary>
public sealed record Match(ImmutableArray<Item> Journal, ImmutableArray<Item> Rows, string Rule)
{
    /// <summary>Rows less tenders.</summary>
    public Money Difference => Rows.Sum(r => r.Amount) - Journal.Sum(j => j.Amount);
}
