using Fondo.Core.Days;
using Fondo.Core.Journal;
using Fondo.Core.Proof;
using Fondo.Core.SetUp;

namespace Fondo.Core.Matching;

/// <summary>One side of a pairing: an approved batch-proved tender of the journal, or a settled row.</summary>
/// <remarks>Ordered by key: ticket and place, or terminal, batch and sequence.</remarks>
public class Item : IComparable<Item>
{
    private static readonly CardSlip _noCard = new(null, null, null, default, default, null);

    private readonly object _source; // a ticket or a row
    private readonly CellKey.Takings? _cell;
    private readonly int _place;

    private Item(TakenTender taken) =>
        (_source, _place, Amount, Card) = (taken.Ticket, taken.Place, taken.Tender.Amount, taken.Tender.Card ?? _noCard);

    private Item(BatchRow row, CellKey.Takings cell) => (_source, _cell, Amount, Card) = (row, cell, row.Signed, row.Card);

    public static Item Of(TakenTender taken, TradingDay? carriedFrom) => carriedFrom is { } day ? new Carried(taken, day) : new Item(taken);

    public static Item Of(BatchRow row, CellKey.Takings cell, TradingDay? carriedFrom) =>
        carriedFrom is { } day ? new Carried(row, cell, day) : new Item(row, cell);

    /// <summary>One of an earlier day: few are.</summary>
    private sealed class Carried : Item
    {
        public Carried(TakenTender taken, TradingDay from)
            : base(taken) => CarriedFrom = from;

        public Carried(BatchRow row, CellKey.Takings cell, TradingDay from)
            : base(row, cell) => CarriedFrom = from;

        public override TradingDay? CarriedFrom { get; }
    }

    private Ticket Ticket => (Ticket)_source;

    private TakenTender OfTicket => new(Ticket, _place);

    /// <summary>The tender's or the row's key, as the files write it.</summary>
    public string Key => Row is { } row ? row.Key.ToString() : OfTicket.Key.ToString();

    /// <summary>Writes the key in ASCII, in which ids need no escapes anywhere; false when it is not all ASCII, or there is not room for
    /// it.</summary>
    public bool TryWriteKey(Span<byte> ascii, out int length)
    {
        length = 0;
        return Row is { } row
            ? Append(row.Key.Terminal.Value, ascii, ref length) && Append("/", ascii, ref length)
                && Append(row.Key.Batch, ascii, ref length)
                && Append("/", ascii, ref length) && Written(row.Key.Sequence, ascii, ref length)
            : Written(Ticket.Id.Code, ascii, ref length) && Append("#", ascii, ref length)
                && _place.TryFormat(ascii[length..], out var digits, default, System.Globalization.CultureInfo.InvariantCulture)
                && (length += digits) > 0;

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

    /// <summary>What many keys of one side begin with, and how many digits follow where these are a number: a row's terminal; what stands
    /// before the number of a ticket.</summary>
    internal (string Text, int Digits) KeyGroup =>
        Row is { } row ? (row.Key.Terminal.Value, 0) : (Ticket.Id.Code.Before, Ticket.Id.Code.Digits);

    /// <summary>What the key begins with, in the order of keys: the ticket, or the terminal.</summary>
    /// <param name="room">Where it may be written.</param>
    internal ReadOnlySpan<char> KeyStart(Span<char> room) => Row is { } row ? row.Key.Terminal.Value : Ticket.Id.Code.TextIn(room);

    /// <summary>Signed as in the journal: refunds negative.</summary>
    public Money Amount { get; }

    public DateTimeOffset At => Row?.At ?? Ticket.At;

    public CardSlip Card { get; }

    public Direction Direction => Row?.Direction ?? (Ticket.IsRefund ? Direction.Refund : Direction.Sale);

    /// <summary>Where the card was run; null where the journal does not say.</summary>
    public TerminalId? Terminal => Card.Terminal;

    public CellKey.Takings Cell => _cell ?? new(Ticket.Register, null, OfTicket.Tender.Type);

    /// <summary>Whether both are of one cell. Asked of every pair: no key is made for it.</summary>
    public bool IsBeside(Item other) => Where == other.Where;

    private (RegisterId? Register, TenderId Tender) Where =>
        _cell is { } cell ? (cell.Register, cell.Tender) : (Ticket.Register, OfTicket.Tender.Type);

    /// <summary>The earlier day of a carried item; null for today's.</summary>
    public virtual TradingDay? CarriedFrom => null;

    /// <summary>The tender behind it; null for a row.</summary>
    public TakenTender? Tender => Row is null ? OfTicket : null;

    /// <summary>The row behind it; null for a tender.</summary>
    public BatchRow? Row => _source as BatchRow;

    /// <summary>Its place among the items of its side, in the order of their keys.</summary>
    internal int Rank { get; set; }

    public int CompareTo(Item? other) =>
        other is null ? 1
        : (Row, other.Row) switch
        {
            ({ } row, { } otherRow) => row.Key.CompareTo(otherRow.Key),
            (null, null) => OfTicket.Key.CompareTo(other.OfTicket.Key),
            (var row, _) => row is null ? -1 : 1,
        };
}
