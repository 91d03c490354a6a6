using Fondo.Core.Days;
using Fondo.Core.Journal;
using Fondo.Core.Proof;
using Fondo.Core.SetUp;

namespace Fondo.Core.Matching;

/// <summary>One side of a pairing: an approved batch-proved tender of the journal, or a settled row.</summary>
/// <remarks>Ordered by key: ticket and place, or terminal, batch and sequence.</remarks>
public sealed class Item : IComparable<Item>
{
    private static readonly CardSlip _noCard = new(null, null, null, default, default, null);

    private readonly TakenTender _tender;
    private readonly BatchRow? _row;
    private readonly RowCell? _cell;

    private Item(TakenTender tender, Money amount, CardSlip card, TradingDay? carriedFrom) =>
        (_tender, Amount, Card, CarriedFrom) = (tender, amount, card, carriedFrom);

    private Item(BatchRow row, RowCell cell, TradingDay? carriedFrom) =>
        (_row, _cell, Amount, Card, CarriedFrom) = (row, cell, row.Signed, row.Card, carriedFrom);

    public static Item Of(TakenTender taken, TradingDay? carriedFrom)
    {
        var tender = taken.Tender;
        return new(taken, tender.Amount, tender.Card ?? _noCard, carriedFrom);
    }

    public static Item Of(BatchRow row, RowCell cell, TradingDay? carriedFrom) => new(row, cell, carriedFrom);

    /// <summary>The tender's or the row's key, as the files write it.</summary>
    public string Key => _row is null ? _tender.Key.ToString() : _row.Key.ToString();

    /// <summary>Writes the key in ASCII, in which ids need no escapes anywhere; false when it is not all ASCII, or there is not room for it.</summary>
    public bool TryWriteKey(Span<byte> ascii, out int length)
    {
        length = 0;
        return _row is null
            ? Written(_tender.Ticket.Id.Code, ascii, ref length) && Append("#", ascii, ref length) && _tender.Place.TryFormat(ascii[length..], out var digits, default, System.Globalization.CultureInfo.InvariantCulture) && (length += digits) > 0
            : Append(_row.Key.Terminal.Value, ascii, ref length) && Append("/", ascii, ref length) && Append(_row.Key.Batch, ascii, ref length)
                && Append("/", ascii, ref length) && Written(_row.Key.Sequence, ascii, ref length);

        static bool Written(Code code, Span<byte> ascii, ref int length)
        {
            var fits = code.TryWrite(ascii[length..], out var written);
            length += written;
            return fits;
        }

        static bool Append(string part, Span<byte> ascii, ref int length)
        {
            var fits = System.Text.Ascii.FromUtf16(part, ascii[length..], out var written) == System.Buffers.OperationStatus.Done;
            length += written;
            return fits;
        }
    }

    /// <summary>What the key begins with, in the order of keys: the ticket, or the terminal.</summary>
    /// <param name="room">Where it may be written.</param>
    internal ReadOnlySpan<char> KeyStart(Span<char> room) => _row is null ? _tender.Ticket.Id.Code.TextIn(room) : _row.Key.Terminal.Value;

    /// <summary>Signed as in the journal: refunds negative.</summary>
    public Money Amount { get; }

    public DateTimeOffset At => _row?.At ?? _tender.Ticket.At;

    public CardSlip Card { get; }

    public Direction Direction => _row?.Direction ?? (_tender.Ticket.Kind == EventKind.Refund ? Direction.Refund : Direction.Sale);

    /// <summary>Where the card was run; null where the journal does not say.</summary>
    public TerminalId? Terminal => Card.Terminal;

    public CellKey Cell => _cell?.Key ?? new(_tender.Ticket.Register, null, _tender.Tender.Type);

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
public sealed record Match(ImmutableArray<Item> Journal, ImmutableArray<Item> Rows, MatchRule Rule)
{
    /// <summary>Whether it is as nearly all are: one tender and one row, of one cell and amount, of today, found by a rule.</summary>
    public bool IsPlain => Rule != MatchRule.ByHand && Journal is [{ CarriedFrom: null } j] && Rows is [{ CarriedFrom: null } r] && j.Amount == r.Amount && j.Cell == r.Cell;

    /// <summary>Rows less tenders.</summary>
    public Money Difference => Sum(Rows) - Sum(Journal);

    /// <summary>What the items of one side add up to.</summary>
    public static Money Sum(ImmutableArray<Item> items)
    {
        var sum = Money.Zero;
        foreach (var item in items)
        {
            sum += item.Amount;
        }

        return sum;
    }
}
