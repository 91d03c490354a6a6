using System.Text;
using Fondo.Files.Text;

namespace Fondo.Files.Reading;

/// <summary>Reads settled rows that are written plainly, ASCII without quotes, straight from their bytes. At the first row that is anything
/// else, or at fault, it stops, and
/// <see cref="CsvFile"/> goes on from there: the answer is the same, most files are plain to their end, and that is several times as
/// fast.</summary>
internal sealed class PlainRows
{
    private const int BufferSize = 1 << 18, Terminal = 0, Batch = 1, Sequence = 2, At = 3, Type = 4, Amount = 5, Tip = 6, Cashback = 7,
        Brand = 8, Card = 9, Auth = 10, Rrn = 11, Entry = 12, BenefitColumn = 13;

    private readonly Strings _texts = new();
    private readonly Code.Shared _shared;
    private readonly Vocabulary _words;
    private readonly int[] _places;
    private readonly int[] _ends;

    private PlainRows(Vocabulary words, int[] places, int width) =>
        (_words, _places, _ends, _shared) = (words, places, new int[width], _texts.Known);

    /// <summary>Takes rows while they are plain.</summary>
    /// <returns>Where the strict reader goes on: the line, its byte, and the header before it. Null when the file is done with.</returns>
    public static (int Line, long Byte, byte[] Header)? Read(Stream stream, Vocabulary words, Action<int, BatchRow> take)
    {
        var start = stream.Position;
        var (buffer, held, line, consumed) = (new byte[BufferSize], 0, 1, start);
        PlainRows? rows = null;
        byte[] header = [];
        while (true)
        {
            var read = stream.ReadAtLeast(buffer.AsSpan(held), buffer.Length - held, throwOnEndOfStream: false);
            var isLast = held + read < buffer.Length;
            held += read;
            var at = 0;
            while (true)
            {
                var end = buffer.AsSpan(at, held - at).IndexOf((byte)'\n');
                if (end < 0 && !(isLast && at < held))
                {
                    break;
                }

                var text = buffer.AsSpan(at, end < 0 ? held - at : end);
                var bare = text.Length > 0 && text[^1] == '\r' ? text[..^1] : text;
                if (rows is null)
                {
                    header = [.. text, (byte)'\n'];
                    if ((rows = Of(bare, words)) is null)
                    {
                        return (1, start, []);
                    }
                }
                else if (bare.Length > 0)
                {
                    if (rows.Row(bare) is not { } row)
                    {
                        return (line, consumed + at, header);
                    }

                    take(line, row);
                }

                at = end < 0 ? held : at + end + 1;
                line++;
            }

            if (isLast)
            {
                return rows is null ? (1, start, []) : null;
            }

            if (at == 0)
            {
                return (line, rows is null ? start : consumed, header); // longer than the buffer
            }

            buffer.AsSpan(at, held - at).CopyTo(buffer);
            (consumed, held) = (consumed + at, held - at);
        }
    }

    /// <summary>Null where the header is not plain, lacks a column or has one twice.</summary>
    private static PlainRows? Of(ReadOnlySpan<byte> header, Vocabulary words)
    {
        if (!IsPlain(header))
        {
            return null;
        }

        var names = Encoding.ASCII.GetString(header).Split(',', StringSplitOptions.TrimEntries);
        var places = ProofReader.RowColumns.Select(c => Array.IndexOf(names, c)).ToArray();
        return places.Contains(-1) || names.Distinct().Count() != names.Length || names.Length > Limits.MostMembers
            || names.Any(n => n.Length >= CardNumbers.Shortest && CardNumbers.Contains(n)) ? null : new(words, places, names.Length);
    }

    private static bool IsPlain(ReadOnlySpan<byte> text) =>
        !text.ContainsAnyExceptInRange((byte)' ', (byte)'~') && !text.Contains((byte)'"');

    private BatchRow? Row(ReadOnlySpan<byte> line)
    {
        if (!IsPlain(line) || !Split(line))
        {
            return null;
        }

        var currency = _words.Setup.Currency;
        ReadOnlySpan<byte> batch = Field(line, Batch), seq = Field(line, Sequence), type = Field(line, Type),
            benefit = Field(line, BenefitColumn), card = Field(line, Card);
        if (!Limits.IsId(batch) || !Limits.IsId(seq) || !IsoTime.TryParse(Field(line, At), out var at)
            || !currency.TryParse(Field(line, Amount), out var amount) || amount.Sign < 0
            || !OrZero(Field(line, Tip), out var tip) || !OrZero(Field(line, Cashback), out var cashback) || !LastFours.Are(card))
        {
            return null;
        }

        Direction? direction = type.SequenceEqual("sale"u8) ? Direction.Sale : type.SequenceEqual("refund"u8) ? Direction.Refund : null;
        Benefit? paid = benefit.IsEmpty ? Benefit.None
            : benefit.SequenceEqual("food"u8) ? Benefit.Food
            : benefit.SequenceEqual("cash"u8) ? Benefit.Cash
            : null;
        var place = _texts.Known(Field(line, Terminal));
        return direction is { } way && paid is { } of && _words.HasTerminal(place)
            ? new(new(new(place), _texts.Known(batch), Code.OfUtf8(seq, _shared)), at, way, amount, tip, cashback,
                _words.Slip(new TerminalId(place), Known(line, Brand), LastFours.Of(card), Own(line, Auth), Own(line, Rrn),
                    Known(line, Entry))!, of)
            : null;

        bool OrZero(ReadOnlySpan<byte> text, out Money value)
        {
            value = Money.Zero;
            return text.IsEmpty || currency.TryParse(text, out value);
        }
    }

    private string? Known(ReadOnlySpan<byte> line, int column) =>
        Field(line, column) is { IsEmpty: false } text ? _texts.Known(text) : null;

    private Code Own(ReadOnlySpan<byte> line, int column) =>
        Field(line, column) is { IsEmpty: false } text ? Code.OfUtf8(text, _shared) : default;

    private ReadOnlySpan<byte> Field(ReadOnlySpan<byte> line, int column)
    {
        var place = _places[column];
        return place == 0 ? line[.._ends[0]] : line[(_ends[place - 1] + 1).._ends[place]];
    }

    /// <summary>Finds where the fields end; false where there are not as many as columns, or one could hold a full card number.</summary>
    private bool Split(ReadOnlySpan<byte> line)
    {
        var (number, from) = (0, 0);
        while (true)
        {
            var comma = line[from..].IndexOf((byte)',');
            var end = comma < 0 ? line.Length : from + comma;
            if (number == _ends.Length || (end - from >= CardNumbers.Shortest && CardNumbers.MayBeIn(line[from..end])))
            {
                return false;
            }

            _ends[number++] = end;
            if (comma < 0)
            {
                return number == _ends.Length;
            }

            from = end + 1;
        }
    }
}
