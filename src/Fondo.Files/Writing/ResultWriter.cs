using System.Buffers;
using System.Text;
using System.Text.Encodings.Web;
using System.Text.Json;
using Fondo.Core.Checks;
using Fondo.Core.Leads;
using Fondo.Core.Matching;

namespace Fondo.Files.Writing;

/// <summary>Writes what the headless run answers (docs/formats.md), one record a line. The order is fixed, so two runs on one day are byte-identical.</summary>
public sealed class ResultWriter : IDisposable
{
    private const int LongestKey = 256, FlushAbove = 1 << 16;

    private readonly Stream _stream;
    private readonly Currency _currency;
    private readonly ArrayBufferWriter<byte> _buffer = new(FlushAbove * 2);
    private readonly Utf8JsonWriter _json;

    private ResultWriter(Stream stream, Currency currency)
    {
        (_stream, _currency) = (stream, currency);
        _json = new(_buffer, new JsonWriterOptions { Encoder = JavaScriptEncoder.UnsafeRelaxedJsonEscaping, SkipValidation = true });
    }

    public static void Write(Reconciliation result, Stream stream)
    {
        using var writer = new ResultWriter(stream, result.Day.Setup.Currency);
        writer.Text($"{{\"fondo\":1,\"tradingDay\":\"{result.Day.Setup.TradingDay}\"");
        writer.List("cells", result.Cells, writer.Cell);
        writer.List("matches", result.Matches, writer.Match);
        writer.List("openItems", result.OpenItems, writer.OpenItem);
        writer.List("checks", result.TicketFindings, writer.Finding);
        writer.List("leads", result.Leads, writer.Lead);
        writer.Text("}\n");
        writer.Flush();
    }

    public void Dispose() => _json.Dispose();

    public static string StateName(CellState state) => state switch
    {
        CellState.Waiting => "waiting",
        CellState.Proved => "proved",
        CellState.Off => "off",
        _ => "journal-only",
    };

    private void List<T>(string name, ImmutableArray<T> items, Action<T> write)
    {
        Text($",\n\"{name}\":[");
        for (var i = 0; i < items.Length; i++)
        {
            Text(i == 0 ? "\n" : ",\n");
            _json.Reset();
            _json.WriteStartObject();
            write(items[i]);
            _json.WriteEndObject();
            _json.Flush();
            if (_buffer.WrittenCount > FlushAbove)
            {
                Flush();
            }
        }

        Text("]");
    }

    private void Text(ReadOnlySpan<char> text) => Encoding.UTF8.GetBytes(text, _buffer);

    private void Flush()
    {
        _stream.Write(_buffer.WrittenSpan);
        _buffer.ResetWrittenCount();
    }

    private void CellKey(CellKey key)
    {
        _json.WriteString("register"u8, key.Register?.Value);
        _json.WriteString("drawer"u8, key.Drawer?.Value);
        _json.WriteString("tender"u8, key.Tender.Value);
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

        _json.WriteString("state"u8, StateName(cell.State));
    }

    private void Match(Match match)
    {
        Keys("journal"u8, match.Journal);
        Keys("batch"u8, match.Rows);
        _json.WriteString("rule"u8, match.Rule);
        Amount("difference"u8, match.Difference);
    }

    private void OpenItem(OpenItem open)
    {
        _json.WriteString("side"u8, open.Side == Side.Batch ? "batch" : "journal");
        _json.WritePropertyName("key"u8);
        Key(open.Item);
        Amount("amount"u8, open.Item.Amount);
        _json.WriteString("cause"u8, open.Cause);
    }

    private void Finding(TicketFinding finding)
    {
        _json.WriteString("ticket"u8, finding.Ticket.Value);
        _json.WriteString("code"u8, finding.Code);
        Amount("amount"u8, finding.Amount);
    }

    private void Lead(Lead lead)
    {
        CellKey(lead.Cell);
        _json.WriteNumber("rank"u8, lead.Rank);
        _json.WriteString("kind"u8, lead.Kind);
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
        Span<char> text = stackalloc char[LongestKey];
        _json.WriteStringValue(item.TryWriteKey(text, out var length) ? text[..length] : item.Key);
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
