using System.Globalization;
using System.Text.Json.Nodes;
using Fondo.Core.Days;

namespace Fondo.Web.SetUp;

/// <summary>The set-up as a form shows it: a text in the shape of day.json, row by row. What the form does not show stays as it is.</summary>
public sealed class SetupForm
{
    public static readonly string[] RegisterKinds = ["lane", "self", "desk", "online"], Roles = ["cashier", "supervisor", "manager", "auditor"], Proofs = ["count", "batch", "ledger"],
        Programmes = ["none", "surcharge", "cash-discount"], BenefitTaxes = ["taxable-first", "pro-rata"];

    private readonly JsonObject _root;

    private SetupForm(JsonObject root) => _root = root;

    public static SetupForm Of(string json) => new(JsonNode.Parse(json)!.AsObject());

    /// <summary>A new store's: everything has a working default.</summary>
    public static SetupForm ForNewStore(IEnumerable<Person> people) => new(new JsonObject
    {
        ["fondo"] = 1,
        ["store"] = "My store",
        ["currency"] = "USD",
        ["timeZone"] = "America/New_York",
        ["dayEndsAt"] = "04:00",
        ["registers"] = new JsonArray(new JsonObject { ["id"] = "L1", ["name"] = "Lane 1", ["kind"] = "lane", ["float"] = "200.00" }),
        ["terminals"] = new JsonArray(new JsonObject { ["id"] = "T-01", ["register"] = "L1" }),
        ["people"] = new JsonArray([.. people.Select(p => new JsonObject { ["id"] = p.Id.Value, ["name"] = p.Name, ["role"] = p.Role.ToString().ToLowerInvariant() })]),
        ["tenders"] = new JsonArray(),
        ["policy"] = new JsonObject
        {
            ["cashTolerance"] = "2.00",
            ["approvalAbove"] = "20.00",
            ["ebtTax"] = "taxable-first",
            ["cashRounding"] = "0.01",
            ["matchMinutes"] = 15,
            ["disputeHours"] = 48,
        },
    });

    public string Json => _root.ToJsonString(new() { WriteIndented = true });

    public string Text(string name) => (string?)_root[name] ?? "";

    public string Policy(string name) => _root["policy"]?[name]?.ToString() ?? "";

    public string Programme(string name) => _root["policy"]?["priceProgramme"]?[name] is { } value ? value is JsonArray listed ? string.Join(", ", listed.Select(l => (string?)l)) : value.ToString() : "";

    /// <summary>The rows of a list, each with its texts by name, and spare ones to type into.</summary>
    public IEnumerable<IReadOnlyDictionary<string, string>> Rows(string list, int spare = 1) =>
        (_root[list]?.AsArray() ?? []).Select(row => (IReadOnlyDictionary<string, string>)row!.AsObject().Where(m => m.Value is not null).ToDictionary(m => m.Key, m => m.Value!.ToString()))
            .Concat(Enumerable.Repeat<IReadOnlyDictionary<string, string>>(new Dictionary<string, string>(), spare));

    /// <summary>Takes over what was typed.</summary>
    public void Read(IFormCollection form)
    {
        foreach (var name in new[] { "store", "currency", "timeZone", "dayEndsAt" })
        {
            _root[name] = form[name].ToString().Trim();
        }

        ReadRows(form, "registers", ["id", "name", "kind", "float", "dropAbove"]);
        ReadRows(form, "terminals", ["id", "register", "settlesAt", "from", "until"]);
        ReadRows(form, "people", ["id", "name", "role"]);
        ReadRows(form, "tenders", ["id", "name", "proof", "change"]);
        var policy = _root["policy"] as JsonObject ?? (JsonObject)(_root["policy"] = new JsonObject());
        foreach (var name in new[] { "cashTolerance", "approvalAbove", "ebtTax", "cashRounding" })
        {
            policy[name] = form[name].ToString().Trim();
        }

        foreach (var name in new[] { "matchMinutes", "disputeHours" })
        {
            var typed = form[name].ToString().Trim();
            policy[name] = int.TryParse(typed, NumberStyles.None, CultureInfo.InvariantCulture, out var number) ? number : typed;
        }

        var listed = form["programmeTenders"].ToString().Split(',', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries);
        policy["priceProgramme"] = new JsonObject
        {
            ["kind"] = form["programme"].ToString(),
            ["rate"] = form["rate"].ToString().Trim() is { Length: > 0 } rate ? rate : "0",
            ["tenders"] = new JsonArray([.. listed.Select(l => JsonValue.Create(l))]),
        };
    }

    private void ReadRows(IFormCollection form, string list, string[] names)
    {
        var before = (_root[list]?.AsArray() ?? []).Select(r => r!.AsObject()).ToLookup(r => (string?)r["id"] ?? "");
        var columns = names.ToDictionary(n => n, n => form[$"{list}.{n}"]);
        var rows = new JsonArray();
        for (var i = 0; i < columns["id"].Count; i++)
        {
            var id = columns["id"][i]?.Trim() ?? "";
            if (id.Length == 0)
            {
                continue;
            }

            var row = before[id].FirstOrDefault()?.DeepClone().AsObject() ?? [];
            foreach (var name in names)
            {
                var typed = i < columns[name].Count ? columns[name][i]?.Trim() : null;
                if (string.IsNullOrEmpty(typed))
                {
                    row.Remove(name);
                }
                else
                {
                    row[name] = name == "change" ? typed == "true" : typed;
                }
            }

            rows.Add(row);
        }

        _root[list] = rows;
    }
}
