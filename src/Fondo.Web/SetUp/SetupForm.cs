using System.Globalization;
using System.Text.Json.Nodes;
using Fondo.Core.Amounts;
using Fondo.Core.SetUp;

namespace Fondo.Web.SetUp;

/// <summary>The set-up as a form shows it: a text in the shape of day.json, row by row. What the form does not show stays as it is, and
/// what is as standard is not written.</summary>
public sealed class SetupForm
{
    public static readonly string[] Programmes = ["none", "surcharge", "cash-discount"], BenefitTaxes = ["taxable-first", "pro-rata"],
        Layaways = ["deposit", "parts"];

    private const string Denominations = "denominations";

    private readonly JsonObject _root;

    private SetupForm(JsonObject root) => _root = root;

    public static SetupForm Of(string json)
    {
        var root = JsonNode.Parse(json)!.AsObject();
        if ((string?)root["bankAccount"] is { } only)
        {
            root.Remove("bankAccount");
            root["bankAccounts"] = new JsonArray(new JsonObject { ["number"] = only });
        }

        return new(root);
    }

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
        ["people"] = new JsonArray([.. people.Select(p =>
            new JsonObject { ["id"] = p.Id.Value, ["name"] = p.Name, ["role"] = p.Role.ToString().ToLowerInvariant() })]),
        ["policy"] = new JsonObject
        {
            ["cashTolerance"] = "2.00",
            ["approvalAbove"] = "20.00",
            ["ebtTax"] = "taxable-first",
            ["layaway"] = "deposit",
            ["cashRounding"] = "0.01",
            ["matchMinutes"] = 15,
            ["disputeHours"] = 48,
        },
    });

    public string Json => _root.ToJsonString(new() { WriteIndented = true });

    private Currency Currency =>
        Core.Amounts.Currency.IsCode(Text("currency")) ? Core.Amounts.Currency.Of(Text("currency")) : Core.Amounts.Currency.Of("USD");

    public string Text(string name) => (string?)_root[name] ?? "";

    /// <summary>Days on which the bank books nothing, as they are typed.</summary>
    public string BankHolidays => string.Join(", ", (_root["bankHolidays"] as JsonArray ?? []).Select(h => (string?)h));

    public string Policy(string name) => _root["policy"]?[name] is { } value ? Shown(value) : "";

    /// <summary>The kinds of count that need a second person; those of the standard where the set-up says nothing.</summary>
    public string Witness => _root["policy"]?["witness"] is { } value
        ? Shown(value)
        : string.Join(", ", Core.SetUp.Policy.Default.Witnessed.Select(k => k.Written()));

    public string Programme(string name) => _root["policy"]?["priceProgramme"]?[name] is { } value ? Shown(value) : "";

    /// <summary>The rows of a list, the standard ones included, each with its texts by name; the last one is spare, to type into.</summary>
    public IEnumerable<IReadOnlyDictionary<string, string>> Rows(SetupTable table) => RowsOf(table).Append([])
        .Select(row => (IReadOnlyDictionary<string, string>)row.Where(m => m.Value is not null)
            .ToDictionary(m => m.Key, m => Shown(m.Value!)));

    /// <summary>Takes over what was typed.</summary>
    public void Read(IFormCollection form)
    {
        var shown = Currency;
        foreach (var name in new[] { "store", "currency", "timeZone", "dayEndsAt" })
        {
            _root[name] = form[name].ToString().Trim();
        }

        ReadDecimalMark(form);
        _root.Remove("bankHolidays");
        if (form["bankHolidays"].ToString()
            .Split([',', ' ', ';'], StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries) is { Length: > 0 } holidays)
        {
            _root["bankHolidays"] = new JsonArray([.. holidays.Select(h => JsonValue.Create(h))]);
        }

        foreach (var table in SetupTable.All)
        {
            Read(form, table, shown);
        }

        var policy = _root["policy"] as JsonObject ?? (JsonObject)(_root["policy"] = new JsonObject());
        foreach (var name in new[] { "cashTolerance", "approvalAbove", "ebtTax", "cashRounding" })
        {
            policy[name] = form[name].ToString().Trim();
        }

        foreach (var name in new[] { "matchMinutes", "disputeHours" })
        {
            policy[name] = Typed(form[name].ToString().Trim(), SetupColumnKind.Number);
        }

        foreach (var name in new[] { "settledBy", "safeFund", "layaway", "scaleDivision", "scaleTare" })
        {
            policy.Remove(name);
            if (form[name].ToString().Trim() is { Length: > 0 } text)
            {
                policy[name] = text;
            }
        }

        if (form.ContainsKey("witness"))
        {
            policy["witness"] = Typed(form["witness"].ToString(), SetupColumnKind.Ids);
        }

        if (form["showsOwnResult"].ToString() is { Length: > 0 } shows)
        {
            policy["showsOwnResult"] = shows == "true";
        }

        policy["priceProgramme"] = new JsonObject
        {
            ["kind"] = form["programme"].ToString(),
            ["rate"] = form["rate"].ToString().Trim() is { Length: > 0 } rate ? rate : "0",
            ["tenders"] = Typed(form["programmeTenders"].ToString(), SetupColumnKind.Ids),
        };
    }

    /// <summary>How amounts are written is only told where it is not with a point.</summary>
    private void ReadDecimalMark(IFormCollection form)
    {
        _root.Remove("decimalMark");
        if (form["decimalMark"].ToString() is "," and var mark)
        {
            _root["decimalMark"] = mark;
        }
    }

    private IEnumerable<JsonObject> RowsOf(SetupTable table)
    {
        var own = (_root[table.Name]?.AsArray() ?? []).Select(r => r!.AsObject()).ToList();
        // What is counted is one list or another; of the others the standard rows stay, whatever a store says of some of them.
        var standard = table.Name == Denominations && own.Count > 0 ? [] : table.Standard(Currency);
        var keys = standard.Select(s => (string?)s[table.Key]).ToHashSet();
        return standard.Select(s => Over(s, own.FirstOrDefault(o => (string?)o[table.Key] == (string?)s[table.Key])))
            .Concat(own.Where(o => !keys.Contains((string?)o[table.Key])));
    }

    private static JsonObject Over(JsonObject standard, JsonObject? own)
    {
        var row = standard.DeepClone().AsObject();
        foreach (var (name, value) in own ?? [])
        {
            row[name] = value?.DeepClone();
        }

        return row;
    }

    /// <param name="shown">The currency in which the form was shown: its usual notes and coins give way to those of another one.</param>
    private void Read(IFormCollection form, SetupTable table, Currency shown)
    {
        var before = (_root[table.Name]?.AsArray() ?? []).Select(r => r!.AsObject()).ToLookup(r => (string?)r[table.Key] ?? "");
        var typed = table.Columns.ToDictionary(c => c.Name, c => form[table.FieldOf(c)]);
        var rows = new List<JsonObject>();
        for (var i = 0; i < typed[table.Key].Count; i++)
        {
            if (typed[table.Key][i]?.Trim() is not { Length: > 0 } key)
            {
                continue;
            }

            var row = before[key].FirstOrDefault()?.DeepClone().AsObject() ?? [];
            foreach (var column in table.Columns)
            {
                row.Remove(column.Name);
                if (i < typed[column.Name].Count && typed[column.Name][i]?.Trim() is { Length: > 0 } text)
                {
                    row[column.Name] = Typed(text, column.Kind);
                }
            }

            rows.Add(row);
        }

        var standard = table.Standard(table.Name == Denominations ? shown : Currency);
        rows = table.Name != Denominations ? [.. rows.Select(r => Without(r, standard, table.Key)).OfType<JsonObject>()]
            : rows.Count == standard.Length && rows.All(r => standard.Any(s => Same(r, s))) ? [] : rows;
        _root.Remove(table.Name);
        if (rows.Count > 0)
        {
            _root[table.Name] = new JsonArray([.. rows]);
        }
    }

    /// <summary>What of a row differs from the standard one; null where nothing does.</summary>
    private static JsonObject? Without(JsonObject row, JsonObject[] standard, string key)
    {
        if (standard.FirstOrDefault(s => JsonNode.DeepEquals(s[key], row[key])) is not { } usual)
        {
            return row;
        }

        if (Same(row, usual))
        {
            return null;
        }

        // An account is written whole; of a tender, what differs.
        foreach (var name in row.Select(m => m.Key).Where(n => n != key && n != "account" && JsonNode.DeepEquals(row[n], usual[n]))
            .ToList())
        {
            row.Remove(name);
        }

        return row;
    }

    private static bool Same(JsonObject a, JsonObject b) => a.Count == b.Count && a.All(m => JsonNode.DeepEquals(m.Value, b[m.Key]));

    private static JsonNode Typed(string text, SetupColumnKind kind) => kind switch
    {
        SetupColumnKind.Flag => text == "true",
        SetupColumnKind.Number => int.TryParse(text, NumberStyles.None, CultureInfo.InvariantCulture, out var number) ? number : text,
        SetupColumnKind.Ids => new JsonArray([.. text.Split(',', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries)
            .Select(l => JsonValue.Create(l))]),
        _ => text,
    };

    private static string Shown(JsonNode value) =>
        value is JsonArray listed ? string.Join(", ", listed.Select(l => l?.ToString())) : value.ToString();
}
