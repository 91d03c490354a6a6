using System.Text.Json.Nodes;
using Fondo.Files.Text;

namespace Fondo.Files.Writing;

/// <summary>A count in the shape of counts.json.</summary>
public static class CountJson
{
    private static readonly string[] _contents = ["cash", "checks", "stubs"];

    public static string Of(Count count, Currency currency) => Node(count, currency).ToJsonString();

    /// <summary>Whether a written count holds the same pieces, checks and paper.</summary>
    public static bool HoldsTheSame(string written, Count count, Currency currency)
    {
        var (one, other) = (JsonNode.Parse(written)!, Node(count, currency));
        return _contents.All(part => JsonNode.DeepEquals(one[part], other[part]) || (IsEmpty(one[part]) && IsEmpty(other[part])));
    }

    private static JsonObject Node(Count count, Currency currency)
    {
        var json = new JsonObject { ["id"] = count.Id, ["kind"] = count.Kind.Written() };
        Set("drawer", count.Drawer?.Value);
        Set("bag", count.Bag);
        Set("by", count.By?.Value);
        Set("witness", count.Witness?.Value);
        json["at"] = IsoTime.Format(count.At);
        json["attempt"] = count.Attempt;
        json["cash"] = new JsonObject(count.Pieces.Select(p => Named(currency.Format(p.Denomination), p.Number)));
        json["how"] = new JsonObject(count.How.Select(r => Named(currency.Format(r.Denomination), Row(r))));
        json["checks"] = new JsonArray([.. count.Checks.Select(c => Check(c, currency))]);
        json["stubs"] = new JsonObject(count.Stubs.Select(s => Named(s.Tender.Value, currency.Format(s.Amount))));
        if (!count.IsBlind)
        {
            json["blind"] = false;
        }

        return json;

        void Set(string name, string? value)
        {
            if (value is not null)
            {
                json[name] = value;
            }
        }
    }

    private static KeyValuePair<string, JsonNode?> Named(string name, JsonNode? value) => new(name, value);

    private static bool IsEmpty(JsonNode? part) => part is null or JsonArray { Count: 0 } or JsonObject { Count: 0 };

    private static JsonObject Check(CountedCheck check, Currency currency)
    {
        var json = new JsonObject { ["number"] = check.Number, ["amount"] = currency.Format(check.Amount) };
        if (check.Routing is { } routing)
        {
            json["routing"] = routing;
        }

        return json;
    }

    private static JsonObject Row(CountedRow row)
    {
        var json = new JsonObject { ["parts"] = new JsonArray([.. row.Parts.Select(Part)]) };
        if (row.Instead is { } instead)
        {
            json["instead"] = new JsonObject { ["machine"] = instead.Machine, ["pieces"] = instead.Pieces, ["reason"] = instead.Reason };
        }

        return json;
    }

    private static JsonObject Part(CountedPart part)
    {
        var json = new JsonObject { ["by"] = part.By.Written(), ["said"] = part.Said, ["pieces"] = Math.Abs(part.Pieces) };
        if (part.Pieces < 0)
        {
            json["less"] = true;
        }

        return json;
    }
}
