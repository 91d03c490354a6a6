using Fondo.Core.Days;
using Fondo.Core.Journal;
using Fondo.Core.Proof;

namespace Fondo.Core.Matching;

/// <summary>One side of a pairing: an approved batch-proved tender of the journal, or a settled row.</summary>
/// <remarks>Ordered by key: ticket and place, or terminal, batch and sequence.</remarks>
public sealed class Item : IComparable<Item>
{
    private static readonly CardSlip _noCard = new(null, null, null, null, null, null);

    private readonly TakenTender _tender;
    private readonly BatchRow? _row;
    private readonly RegisterId? _register;
    private readonly TenderId _type;

    private Item(TakenTender tender, BatchRow? row, CellKey cell, TradingDay? carriedFrom) =>
        (_tender, _row, _register, _type, CarriedFrom) = (tender, row, cell.Register, cell.Tender, carriedFrom);

    public static Item Of(TakenTender taken, TradingDay? carriedFrom)
    {
        var tender = taken.Tender;
        return new(taken, null, new(taken.Ticket.Register, null, tender.Type), carriedFrom)
        {
            Amount = tender.Amount,
            At = taken.Ticket.At,
            Card = tender.Card ?? _noCard,
        };
    }

    public static Item Of(BatchRow row, CellKey cell, TradingDay? carriedFrom) =>
        new(default, row, cell, carriedFrom) { Amount = row.Signed, At = row.At, Card = row.Card };

    /// <summary>The tender's or the row's key, as the files write it.</summary>
    public string Key => _row is null ? _tender.Key.ToString() : _row.Key.ToString();

    /// <summary>What the key begins with, in the order of keys: the ticket, or the terminal.</summary>
    internal string KeyStart => _row is null ? _tender.Ticket.Id.Value : _row.Key.Terminal.Value;

    /// <summary>Signed as in the journal: refunds negative.</summary>
    public Money Amount { get; private init; }

    public DateTimeOffset At { get; private init; }

    public CardSlip Card { get; private init; } = _noCard;

    public Direction Direction => _row?.Direction ?? (_tender.Ticket.Kind == TicketKind.Refund ? Direction.Refund : Direction.Sale);

    /// <summary>Where the card was run; null where the journal does not say.</summary>
    public TerminalId? Terminal => Card.Terminal;

    public CellKey Cell => new(_register, null, _type);

    /// <summary>The earlier day of a carried item; null for today's.</summary>
    public TradingDay? CarriedFrom { get; }

    /// <summary>The tender behind it; null for a row.</summary>
    public TakenTender? Tender => _row is null ? _tender : null;

    /// <summary>The row behind it; null for a tender.</summary>
    public BatchRow? Row => _row;

    /// <summary>Its place among the items of its side, in the order of their keys.</summary>
    internal int Rank { get; set; }

    public int CompareTo(Item? other) =>
        other is null ? 1
        : _row is not null && other._row is not null ? _row.Key.CompareTo(other._row.Key)
        : _row is null && other._row is null ? _tender.Key.CompareTo(other._tender.Key)
        : _row is null ? -1 : 1;
}

/// <summary>Tenders and rows that belong together, and the rule that says so.</summary>
public sealed record Match(ImmutableArray<Item> Journal, ImmutableArray<Item> Rows, string Rule)
{
    /// <summary>Rows less tenders.</summary>
    public Money Difference => Rows.Sum(r => r.Amount) - Journal.Sum(j => j.Amount);
}
