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

    private readonly Ticket? _ticket;
    private readonly BatchRow? _row;
    private readonly RowCell? _cell;
    private readonly int _place;

    private Item(TakenTender tender, Money amount, CardSlip card, TradingDay? carriedFrom) =>
        (_ticket, _place, Amount, Card, CarriedFrom) = (tender.Ticket, tender.Place, amount, card, carriedFrom);

    private Item(BatchRow row, RowCell cell, TradingDay? carriedFrom) =>
        (_row, _cell, Amount, Card, CarriedFrom) = (row, cell, row.Signed, row.Card, carriedFrom);

    private TakenTender OfTicket => new(_ticket!, _place);

    public static Item Of(TakenTender taken, TradingDay? carriedFrom)
    {
        var tender = taken.Tender;
        return new(taken, tender.Amount, tender.Card ?? _noCard, carriedFrom);
    }

    public static Item Of(BatchRow row, RowCell cell, TradingDay? carriedFrom) => new(row, cell, carriedFrom);

    /// <summary>The tender's or the row's key, as the files write it.</summary>
    public string Key => _row is null ? OfTicket.Key.ToString() : _row.Key.ToString();

    /// <summary>Writes the key in ASCII, in which ids need no escapes anywhere; false when it is not all ASCII, or there is not room for it.</summary>
    public bool TryWriteKey(Span<byte> ascii, out int length)
    {
        length = 0;
        return _row is null
            ? Written(_ticket!.Id.Code, ascii, ref length) && Append("#", ascii, ref length) && _place.TryFormat(ascii[length..], out var digits, default, System.Globalization.CultureInfo.InvariantCulture) && (length += digits) > 0
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
    internal ReadOnlySpan<char> KeyStart(Span<char> room) => _row is null ? _ticket!.Id.Code.TextIn(room) : _row.Key.Terminal.Value;

    /// <summary>Signed as in the journal: refunds negative.</summary>
    public Money Amount { get; }

    public DateTimeOffset At => _row?.At ?? _ticket!.At;

    public CardSlip Card { get; }

    public Direction Direction => _row?.Direction ?? (_ticket!.Kind == EventKind.Refund ? Direction.Refund : Direction.Sale);

    /// <summary>Where the card was run; null where the journal does not say.</summary>
    public TerminalId? Terminal => Card.Terminal;

    public CellKey Cell => _cell?.Key ?? new(_ticket!.Register, null, OfTicket.Tender.Type);

    /// <summary>The earlier day of a carried item; null for today's.</summary>
    public TradingDay? CarriedFrom { get; }

    /// <summary>The tender behind it; null for a row.</summary>
    public TakenTender? Tender => _row is null ? OfTicket : null;

    /// <summary>The row behind it; null for a tender.</summary>
    public BatchRow? Row => _row;

    /// <summary>Its place among the items of its side, in the order of their keys.</summary>
    internal int Rank { get; set; }

    public int CompareTo(Item? other) =>
        other is null ? 1
        : _row is not null && other._row is not null ? _row.Key.CompareTo(other._row.Key)
        : _row is null && other._row is null ? OfTicket.Key.CompareTo(other.OfTicket.Key)
        : _row is null ? -1 : 1;
}
