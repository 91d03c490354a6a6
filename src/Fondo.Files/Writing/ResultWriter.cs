using System.Buffers;
using System.Text;
using System.Text.Encodings.Web;
using System.Text.Json;
using Fondo.Core.Cells;
using Fondo.Core.Checks;
using Fondo.Core.Leads;
using Fondo.Core.Matching;
using Fondo.Core.Reconciling;

namespace Fondo.Files.Writing;

/// <summary>Writes what the headless run answers (docs/formats.md), one record a line. The order is fixed, so two runs on one day are
/// byte-identical.</summary>
public sealed class ResultWriter : IDisposable
{
    private const int LongestKey = 256, ChunkLength = 8192;

    private readonly Stream _stream;
    private readonly Currency _currency;
    private readonly ArrayBufferWriter<byte> _buffer = new(1 << 16);
    private readonly Utf8JsonWriter _json;
    private readonly string _nothing;

    private ResultWriter(Stream stream, Currency currency)
    {
        (_stream, _currency, _nothing) = (stream, currency, currency.Format(Money.Zero));
        _json = new(_buffer, new JsonWriterOptions { Encoder = JavaScriptEncoder.UnsafeRelaxedJsonEscaping, SkipValidation = true });
    }

    public static void Write(Reconciliation result, ImmutableArray<Lead> leads, Stream stream) => Write(result, () => leads, stream);

    /// <param name="leads">Asked for when everything else is written, so that they may be looked for meanwhile.</param>
    public static void Write(Reconciliation result, Func<ImmutableArray<Lead>> leads, Stream stream)
    {
        using var writer = new ResultWriter(stream, result.Day.Setup.Currency);
        writer.Text($"{{\"fondo\":1,\"tradingDay\":\"{result.Day.Setup.TradingDay}\"");
        writer.List("cells", result.Cells, (w, cell) => w.Cell(cell));
        writer.List("matches", result.Matches, (w, match) => w.Match(match), (w, match) => w.IsWrittenPlainly(match));
        writer.List("openItems", result.OpenItems, (w, open) => w.OpenItem(open));
        writer.List("checks", result.TicketFindings, (w, finding) => w.Finding(finding));
        writer.List("leads", leads(), (w, lead) => w.Lead(lead));
        writer.Text("}\n");
        writer.Flush();
    }

    public void Dispose() => _json.Dispose();

    /// <summary>A list, one record a line. Of a long one, two chunks at a time are written side by side, and kept in order.</summary>
    private void List<T>(string name, ImmutableArray<T> items, Action<ResultWriter, T> write, Func<ResultWriter, T, bool>? plainly = null)
    {
        Text($",\n\"{name}\":[");
        ResultWriter? second = null;
        for (var from = 0; from < items.Length; from += 2 * ChunkLength)
        {
            var (middle, to) = (Math.Min(from + ChunkLength, items.Length), Math.Min(from + (2 * ChunkLength), items.Length));
            var other = second ??= new(_stream, _currency);
            var beside = middle < to ? Task.Run(() => other.Chunk(items, middle, to, write, plainly)) : Task.CompletedTask;
            Chunk(items, from, middle, write, plainly);
            Flush();
            beside.GetAwaiter().GetResult();
            other.Flush();
        }

        second?.Dispose();
        Text("]");
    }

    private void Chunk<T>(ImmutableArray<T> items, int from, int to, Action<ResultWriter, T> write, Func<ResultWriter, T, bool>? plainly)
    {
        for (var i = from; i < to; i++)
        {
            Text(i == 0 ? "\n" : ",\n");
            if (plainly?.Invoke(this, items[i]) == true)
            {
                continue;
            }

            _json.Reset();
            _json.WriteStartObject();
            write(this, items[i]);
            _json.WriteEndObject();
            _json.Flush();
        }
    }

    private void Text(ReadOnlySpan<char> text) => Encoding.UTF8.GetBytes(text, _buffer);

    private void Flush()
    {
        _stream.Write(_buffer.WrittenSpan);
        _buffer.ResetWrittenCount();
    }

    private void CellKey(CellKey key)
    {
        var name = key.Written;
        _json.WriteString("register"u8, name.Register);
        _json.WriteString("drawer"u8, name.Drawer);
        _json.WriteString("tender"u8, name.Tender);
    }

    private void Cell(Cell cell)
    {
        CellKey(cell.Key);
        Amount("expected"u8, cell.Expected);
        Amount("proof"u8, cell.Proof);
        Amount("variance"u8, cell.Variance);
        _json.WriteNumber("expectedCount"u8, cell.ExpectedCount);
        if (cell.ProofCount is { } count)
        {
            _json.WriteNumber("proofCount"u8, count);
        }
        else
        {
            _json.WriteNull("proofCount"u8);
        }

        _json.WriteString("state"u8, cell.State.Written());
    }

    private void Match(Match match)
    {
        Keys("journal"u8, match.Journal);
        Keys("batch"u8, match.Rows);
        _json.WriteString("rule"u8, match.Rule.Written());
        Amount("difference"u8, match.Difference);
    }

    /// <summary>Writes a match as nearly all are, one tender and one row without a difference, straight as bytes; false, and nothing
    /// written, where it is another.</summary>
    private bool IsWrittenPlainly(Match match)
    {
        if (match.Pair is not var (tender, row) || tender.Amount != row.Amount)
        {
            return false;
        }

        var text = _buffer.GetSpan((2 * LongestKey) + 128);
        var length = 0;
        Append("{\"journal\":[\""u8, text, ref length);
        if (!tender.TryWriteKey(text.Slice(length, LongestKey), out var written))
        {
            return false;
        }

        length += written;
        Append("\"],\"batch\":[\""u8, text, ref length);
        if (!row.TryWriteKey(text.Slice(length, LongestKey), out written))
        {
            return false;
        }

        length += written;
        Append("\"],\"rule\":\""u8, text, ref length);
        length += Encoding.UTF8.GetBytes(match.Rule.Written(), text[length..]);
        Append("\",\"difference\":\""u8, text, ref length);
        length += Encoding.UTF8.GetBytes(_nothing, text[length..]);
        Append("\"}"u8, text, ref length);
        _buffer.Advance(length);
        return true;

        static void Append(ReadOnlySpan<byte> part, Span<byte> text, ref int length)
        {
            part.CopyTo(text[length..]);
            length += part.Length;
        }
    }

    private void OpenItem(OpenItem open)
    {
        _json.WriteString("side"u8, open.Side.Written());
        _json.WritePropertyName("key"u8);
        Key(open.Item);
        Amount("amount"u8, open.Item.Amount);
        _json.WriteString("cause"u8, open.Cause.Written());
    }

    private void Finding(TicketFinding finding)
    {
        _json.WriteString("ticket"u8, finding.Ticket.Value);
        _json.WriteString("code"u8, finding.Code.Written());
        Amount("amount"u8, finding.Amount);
    }

    private void Lead(Lead lead)
    {
        CellKey(lead.Cell);
        _json.WriteNumber("rank"u8, lead.Rank);
        _json.WriteString("kind"u8, lead.Kind.Written());
        Amount("explains"u8, lead.Explains);
        _json.WriteStartArray("keys"u8);
        foreach (var key in lead.Keys)
        {
            _json.WriteStringValue(key);
        }

        _json.WriteEndArray();
        _json.WriteNumber("chance"u8, lead.Chance);
    }

    private void Keys(ReadOnlySpan<byte> name, ImmutableArray<Item> items)
    {
        _json.WriteStartArray(name);
        foreach (var item in items)
        {
            Key(item);
        }

        _json.WriteEndArray();
    }

    private void Key(Item item)
    {
        Span<byte> text = stackalloc byte[LongestKey];
        if (item.TryWriteKey(text, out var length))
        {
            _json.WriteStringValue(text[..length]);
        }
        else
        {
            _json.WriteStringValue(item.Key);
        }
    }

    private void Amount(ReadOnlySpan<byte> name, Money? amount)
    {
        if (amount is { } value)
        {
            Span<char> text = stackalloc char[Currency.Longest];
            _json.WriteString(name, text[_currency.Write(value, text)..]);
        }
        else
        {
            _json.WriteNull(name);
        }
    }
}
