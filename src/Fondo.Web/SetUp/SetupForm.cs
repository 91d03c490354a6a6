using System.Globalization;
using System.Text.Json.Nodes;
using Fondo.Core.Amounts;
using Fondo.Core.SetUp;
using Fondo.Store;

namespace Fondo.Web.SetUp;

/// <summary>The set-up as a form shows it: a text in the shape of day.json, row by row. What the form does not show stays as it is, and
/// what is as standard is not written.</summary>
public sealed partial class SetupForm
{
    private const string Denominations = "denominations";

    private readonly JsonObject _root;

    private readonly List<Objection> _objections = [];

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
        Core.Amounts.Currency.Of(Core.Amounts.Currency.IsCode(Text("currency")) ? Text("currency") : "USD") with
        {
            DecimalMark = Text("decimalMark") == "," ? Core.Amounts.Currency.Comma : Core.Amounts.Currency.Point,
        };

    public string Text(string name) => (string?)_root[name] ?? "";

    /// <summary>Days on which the bank books nothing, as they are typed.</summary>
    public string BankHolidays => string.Join(", ", (_root["bankHolidays"] as JsonArray ?? []).Select(h => (string?)h));

    public string Policy(string name) => _root["policy"]?[name] is { } value ? Shown(value) : "";

    /// <summary>An amount of the policy as the store writes it.</summary>
    public string PolicyAmount(string name) => Amount(Policy(name));

    /// <summary>Whether a second person stands by at that kind of count; the standard's where the set-up says nothing.</summary>
    public bool IsWitnessed(string kind) => _root["policy"]?["witness"] is JsonArray kinds
        ? kinds.Any(k => (string?)k == kind)
        : Core.SetUp.Policy.Default.Witnessed.Any(k => k.Written() == kind);

    public string Programme(string name) => _root["policy"]?["priceProgramme"]?[name] is { } value ? Shown(value) : "";

    /// <summary>The rate of the price programme in per cent.</summary>
    public string ProgrammePercent => Percent(Programme("rate"));

    public bool IsProgrammeOn(string tender) => Programme("tenders").Split(", ").Contains(tender);

    /// <summary>What of the form could not be read, by its path in day.json; empty where all of it could.</summary>
    public IReadOnlyList<Objection> Objections => _objections;

    /// <summary>What the rules object to, at the rows as the form shows them: of a list with standard rows, only those are written that
    /// differ.</summary>
    public IReadOnlyList<Objection> Placed(IEnumerable<Objection> objections) =>
        [.. objections.Select(o => o with { Field = Placed(o.Field) })];

    private string? Placed(string? path)
    {
        var parts = path?.Split('[', ']');
        if (parts is not [var list, var number, var column] || SetupTable.All.FirstOrDefault(t => t.Name == list) is not { } table
            || !int.TryParse(number, NumberStyles.None, CultureInfo.InvariantCulture, out var place)
            || _root[list]?[place - 1]?[table.Key] is not { } key || table.Standard(Currency).Length == 0)
        {
            return path;
        }

        var shown = RowsOf(table).Index().First(r => JsonNode.DeepEquals(r.Item[table.Key], key)).Index;
        return string.Create(CultureInfo.InvariantCulture, $"{list}[{shown + 1}]{column}");
    }

    /// <summary>The rows of a list, the standard ones included, each with its texts by name; the last one is spare, to type into.</summary>
    public IEnumerable<IReadOnlyDictionary<string, string>> Rows(SetupTable table) =>
        (table.IsFixed ? RowsOf(table) : RowsOf(table).Append([])).Select(Named)
        .Select(row => (IReadOnlyDictionary<string, string>)row.Where(m => m.Value is not null)
            .ToDictionary(m => m.Key, m => Written(table, m.Key, Shown(m.Value!))));

    /// <summary>The rows of a list, to choose among: by id, with their names.</summary>
    public IEnumerable<(string Id, string Name)> Choices(string list) =>
        RowsOf(SetupTable.All.Single(t => t.Name == list)).Select(r => ((string)r["id"]!, (string?)r["name"] ?? (string)r["id"]!));

    public IEnumerable<(string Id, string Name)> ChoicesOf(SetupColumn column) => column.From is { } list ? Choices(list)
        : column.Kind == SetupColumnKind.Flag ? [("true", "yes"), ("false", "no")]
        : (column.Options ?? []).Select(o => (o, SetupTable.SaysOption(o)));

    /// <summary>The names of what is ticked.</summary>
    public string NamesOf(SetupColumn column, string? ids) => string.Join(", ", (ids ?? "")
        .Split(", ", StringSplitOptions.RemoveEmptyEntries)
        .Select(id => Choices(column.From!).FirstOrDefault(c => c.Id == id).Name ?? id));

    /// <summary>Takes over what was typed on the page of a part.</summary>
    public void Read(IFormCollection form, SetupPart part)
    {
        _objections.Clear();
        var shown = Currency;
        part.Read(this, form);
        foreach (var table in part.Tables)
        {
            Read(form, table, shown);
        }
    }

    /// <summary>Takes over texts of the store; an empty one is not written.</summary>
    internal void ReadTexts(IFormCollection form, params ReadOnlySpan<string> names)
    {
        foreach (var name in names)
        {
            Set(_root, name, form[name].ToString().Trim() is { Length: > 0 } text ? text : null);
        }
    }

    /// <summary>How amounts are written is only told where it is not with a point.</summary>
    internal void ReadDecimalMark(IFormCollection form) =>
        Set(_root, "decimalMark", form["decimalMark"].ToString() is "," and var mark ? mark : null);

    internal void ReadTimes(IFormCollection form, params ReadOnlySpan<string> names)
    {
        foreach (var name in names)
        {
            var (to, path) = name == "dayEndsAt" ? (_root, name) : (PolicyRoot, $"policy.{name}");
            Set(to, name, form[name].ToString().Trim() is { Length: > 0 } text ? Time(text, path) : null);
        }
    }

    internal void ReadHolidays(IFormCollection form)
    {
        var days = form["bankHolidays"].ToString()
            .Split([',', ' ', ';'], StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries);
        Set(_root, "bankHolidays", days.Length > 0 ? new JsonArray([.. days.Select(h => JsonValue.Create(h))]) : null);
    }

    internal void ReadPolicyAmounts(IFormCollection form, params ReadOnlySpan<string> names)
    {
        foreach (var name in names)
        {
            Set(PolicyRoot, name, form[name].ToString().Trim() is { Length: > 0 } text ? TypedMoney(text, $"policy.{name}") : null);
        }
    }

    internal void ReadPolicy(IFormCollection form, params ReadOnlySpan<string> names)
    {
        foreach (var name in names)
        {
            Set(PolicyRoot, name, form[name].ToString().Trim() is not { Length: > 0 } text ? null
                : name is "matchMinutes" or "disputeHours" ? WholeNumber(text, $"policy.{name}")
                : name == "showsOwnResult" ? text == "true"
                : text);
        }
    }

    internal void ReadWitness(IFormCollection form) =>
        Set(PolicyRoot, "witness", new JsonArray([.. form["witness"].OfType<string>().Select(k => JsonValue.Create(k))]));

    internal void ReadProgramme(IFormCollection form) => PolicyRoot["priceProgramme"] = new JsonObject
    {
        ["kind"] = form["programme"].ToString(),
        ["rate"] = form["rate"].ToString().Trim() is { Length: > 0 } rate ? Rate(rate, "policy.priceProgramme.rate") : "0",
        ["tenders"] = new JsonArray([.. form["programmeTenders"].OfType<string>().Select(t => JsonValue.Create(t))]),
    };

    private JsonObject PolicyRoot => _root["policy"] as JsonObject ?? (JsonObject)(_root["policy"] = new JsonObject());

    private static void Set(JsonObject to, string name, JsonNode? value)
    {
        to.Remove(name);
        if (value is not null)
        {
            to[name] = value;
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

    /// <summary>What has no name of its own is called by its id.</summary>
    private static JsonObject Named(JsonObject row)
    {
        if (row["id"] is { } id && row["name"] is null)
        {
            row = row.DeepClone().AsObject();
            row["name"] = id.DeepClone();
        }

        return row;
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
        var ids = MadeIds.After(typed[table.Key]);
        for (var i = 0; i < typed[table.Columns[0].Name].Count; i++)
        {
            if (At(table.Columns[0].Name, i) is not { } first)
            {
                continue;
            }

            var key = At(table.Key, i) ?? ids.Make(table.Name, table.Columns.Any(c => c.Name == "kind") ? At("kind", i) ?? "" : first);
            var row = before[key].FirstOrDefault()?.DeepClone().AsObject() ?? [];
            foreach (var column in table.Columns)
            {
                var path = string.Create(CultureInfo.InvariantCulture, $"{table.Name}[{rows.Count + 1}].{column.Name}");
                Set(row, column.Name, column.Name == table.Key ? Typed(key, column.Kind, path)
                    : column.Kind == SetupColumnKind.Picks ? Picked(form, table, column, i)
                    : At(column.Name, i) is { } text ? Typed(text, column.Kind, path)
                    : null);
            }

            rows.Add(row);
        }

        string? At(string column, int row) =>
            row < typed[column].Count && typed[column][row]?.Trim() is { Length: > 0 } text ? text : null;

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

    /// <summary>What is ticked in a row; null where nothing is: then it is all of them.</summary>
    private static JsonArray? Picked(IFormCollection form, SetupTable table, SetupColumn column, int row) =>
        form[table.FieldOf(column, row)] is { Count: > 0 } picked ? new JsonArray([.. picked.Select(p => JsonValue.Create(p))]) : null;

    private JsonNode Typed(string text, SetupColumnKind kind, string path) => kind switch
    {
        SetupColumnKind.Flag => text == "true",
        SetupColumnKind.Number => WholeNumber(text, path),
        SetupColumnKind.Amount => TypedMoney(text, path),
        SetupColumnKind.Percent => Rate(text, path),
        SetupColumnKind.Time => Time(text, path),
        _ => text,
    };

    private JsonValue TypedMoney(string text, string path)
    {
        if (TypedAmount.Read(text, Currency) is { Sign: >= 0 } amount)
        {
            return JsonValue.Create(Currency.Format(amount));
        }

        _objections.Add(new(path, $"Amounts look like {Currency.Typed(new(600 * Currency.Unit))}."));
        return JsonValue.Create(text);
    }

    private JsonValue WholeNumber(string text, string path)
    {
        if (int.TryParse(text, NumberStyles.None, CultureInfo.InvariantCulture, out var number))
        {
            return JsonValue.Create(number);
        }

        _objections.Add(new(path, "Type a whole number, like 15."));
        return JsonValue.Create(text);
    }

    /// <summary>Typed in per cent, written as a part of one.</summary>
    private JsonValue Rate(string text, string path)
    {
        if (decimal.TryParse(text.TrimEnd('%', ' ').Replace(',', '.'), NumberStyles.AllowDecimalPoint, CultureInfo.InvariantCulture,
            out var percent))
        {
            return JsonValue.Create((percent / 100).ToString("0.########", CultureInfo.InvariantCulture));
        }

        _objections.Add(new(path, "Type a percentage, like 3 or 1.75."));
        return JsonValue.Create(text);
    }

    /// <summary>A time of day, as 9:30, 09:30 or 0930.</summary>
    private JsonValue Time(string text, string path)
    {
        if (TimeOnly.TryParseExact(text.Replace('.', ':'), ["H:mm", "HH:mm", "HHmm"], CultureInfo.InvariantCulture, DateTimeStyles.None,
            out var time))
        {
            return JsonValue.Create(time.ToString("HH:mm", CultureInfo.InvariantCulture));
        }

        _objections.Add(new(path, "Times look like 17:40."));
        return JsonValue.Create(text);
    }

    /// <summary>As a person reads and types it.</summary>
    private string Written(SetupTable table, string name, string text) => table.Columns.FirstOrDefault(c => c.Name == name)?.Kind switch
    {
        SetupColumnKind.Amount => Amount(text),
        SetupColumnKind.Percent => Percent(text),
        _ => text,
    };

    private string Amount(string text) => Currency.TryParse(text, out var amount) ? Currency.Typed(amount) : text;

    private static string Percent(string rate) => decimal.TryParse(rate, NumberStyles.AllowDecimalPoint, CultureInfo.InvariantCulture,
        out var part) ? (part * 100).ToString("0.######", CultureInfo.InvariantCulture) : rate;

    private static string Shown(JsonNode value) =>
        value is JsonArray listed ? string.Join(", ", listed.Select(l => l?.ToString())) : value.ToString();
}
