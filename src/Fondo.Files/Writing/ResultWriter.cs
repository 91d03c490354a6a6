using System.Text.Encodings.Web;
using System.Text.Json;
using Fondo.Core.Matching;

namespace Fondo.Files.Writing;

/// <summary>Writes what the headless run answers (docs/formats.md). The order is fixed, so two runs on one day are byte-identical.</summary>
public static class ResultWriter
{
    public static void Write(Reconciliation result, Stream stream)
    {
        var currency = result.Day.Setup.Currency;
        using var json = new Utf8JsonWriter(stream, new JsonWriterOptions { Indented = true, Encoder = JavaScriptEncoder.UnsafeRelaxedJsonEscaping });
        json.WriteStartObject();
        json.WriteNumber("fondo", 1);
        json.WriteString("tradingDay", result.Day.Setup.TradingDay.ToString());

        json.WriteStartArray("cells");
        foreach (var cell in result.Cells)
        {
            json.WriteStartObject();
            WriteKey(json, cell.Key);
            json.WriteString("expected", currency.Format(cell.Expected));
            WriteAmount(json, "proof", cell.Proof, currency);
            WriteAmount(json, "variance", cell.Variance, currency);
            json.WriteNumber("expectedCount", cell.ExpectedCount);
            WriteNumber(json, "proofCount", cell.ProofCount);
            json.WriteString("state", StateName(cell.State));
            json.WriteEndObject();
        }

        json.WriteEndArray();

        json.WriteStartArray("matches");
        foreach (var match in result.Matches)
        {
            json.WriteStartObject();
            WriteKeys(json, "journal", match.Journal);
            WriteKeys(json, "batch", match.Rows);
            json.WriteString("rule", match.Rule);
            json.WriteString("difference", currency.Format(match.Difference));
            json.WriteEndObject();
        }

        json.WriteEndArray();

        json.WriteStartArray("openItems");
        foreach (var open in result.OpenItems)
        {
            json.WriteStartObject();
            json.WriteString("side", open.Side == Side.Batch ? "batch" : "journal");
            json.WriteString("key", open.Item.Key);
            json.WriteString("amount", currency.Format(open.Item.Amount));
            json.WriteString("cause", open.Cause);
            json.WriteEndObject();
        }

        json.WriteEndArray();

        json.WriteStartArray("checks");
        foreach (var finding in result.TicketFindings)
        {
            json.WriteStartObject();
            json.WriteString("ticket", finding.Ticket.Value);
            json.WriteString("code", finding.Code);
            json.WriteString("amount", currency.Format(finding.Amount));
            json.WriteEndObject();
        }

        json.WriteEndArray();
        json.WriteEndObject();
        json.Flush();
        stream.WriteByte((byte)'\n');
    }

    public static string StateName(CellState state) => state switch
    {
        CellState.Waiting => "waiting",
        CellState.Proved => "proved",
        CellState.Off => "off",
        _ => "journal-only",
    };

    private static void WriteKey(Utf8JsonWriter json, CellKey key)
    {
        json.WriteString("register", key.Register?.Value);
        json.WriteString("drawer", key.Drawer?.Value);
        json.WriteString("tender", key.Tender.Value);
    }

    private static void WriteKeys(Utf8JsonWriter json, string name, ImmutableArray<Item> items)
    {
        json.WriteStartArray(name);
        foreach (var item in items)
        {
            json.WriteStringValue(item.Key);
        }

        json.WriteEndArray();
    }

    private static void WriteAmount(Utf8JsonWriter json, string name, Money? amount, Currency currency)
    {
        if (amount is { } value)
        {
            json.WriteString(name, currency.Format(value));
        }
        else
        {
            json.WriteNull(name);
        }
    }

    private static void WriteNumber(Utf8JsonWriter json, string name, int? number)
    {
        if (number is { } value)
        {
            json.WriteNumber(name, value);
        }
        else
        {
            json.WriteNull(name);
        }
    }
}
