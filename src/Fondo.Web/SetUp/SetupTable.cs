using System.Globalization;
using System.Text.Json.Nodes;
using Fondo.Core.Amounts;
using Fondo.Core.SetUp;
using Fondo.Store;

namespace Fondo.Web.SetUp;

/// <summary>What is typed into a column of a list of the set-up, and how day.json writes it.</summary>
public enum SetupColumnKind
{
    Text,
    Amount,

    /// <summary>Yes or no; nothing where the standard holds.</summary>
    Flag,

    /// <summary>A whole number, written as a JSON integer.</summary>
    Number,

    /// <summary>Some of a list, ticked; none: all of it.</summary>
    Picks,
    Choice,

    /// <summary>Per cent, written as a part of one.</summary>
    Percent,
    Time,
}

/// <param name="Name">The member of day.json.</param>
/// <param name="Says">What a person reads of the field where its heading is not seen.</param>
/// <param name="From">The list of the set-up whose rows one chooses among.</param>
public sealed record SetupColumn(string Name, string Title, string Says, SetupColumnKind Kind = SetupColumnKind.Text, int Size = 0,
    string Placeholder = "", string[]? Options = null, string? From = null)
{
    public bool IsNumber => Kind is SetupColumnKind.Amount or SetupColumnKind.Number or SetupColumnKind.Percent;
}

/// <summary>What stands against a set-up that was sent, at the fields of its tables.</summary>
public sealed record SetupObjections(IReadOnlyList<Objection> All)
{
    public static readonly SetupObjections None = new([]);

    /// <param name="row">From 0.</param>
    public string? At(SetupTable table, int row, SetupColumn column) =>
        All.FirstOrDefault(o => o.Field == Place(table, row, column))?.Sentence;

    /// <summary>At a field that stands alone.</summary>
    /// <param name="path">In day.json.</param>
    public string? At(string path) => All.FirstOrDefault(o => o.Field == path)?.Sentence;

    /// <summary>For the attribute of that name.</summary>
    public string? Invalid(string path) => At(path) is null ? null : "true";

    /// <summary>Those that belong to no field of the page.</summary>
    public IEnumerable<string> OfTheWhole(SetupPart part) => All.Where(o => o.Field is not { } field || !part.Shows(field)).Select(Says);

    /// <summary>An objection with the place that it concerns, as the pages name it.</summary>
    public static string Says(Objection objection)
    {
        foreach (var table in SetupTable.All.Where(t => objection.Field?.StartsWith($"{t.Name}[", StringComparison.Ordinal) == true))
        {
            var parts = objection.Field![(table.Name.Length + 1)..].Split("].");
            if (parts is [var row, var name] && table.Columns.FirstOrDefault(c => c.Name == name) is { } column)
            {
                return $"{table.Title}, row {row}, {column.Title.ToLowerInvariant()}: {objection.Sentence}";
            }
        }

        return objection.Field is { } field ? $"{field}: {objection.Sentence}" : objection.Sentence;
    }

    private static string Place(SetupTable table, int row, SetupColumn column) =>
        string.Create(CultureInfo.InvariantCulture, $"{table.Name}[{row + 1}].{column.Name}");
}

/// <summary>One list of the set-up as a table to type into.</summary>
/// <param name="Name">The member of day.json. A row whose first column is empty is none.</param>
public sealed record SetupTable(string Name, string Title, string Hint, params SetupColumn[] Columns)
{
    /// <summary>Its rows are always the same ones; what stands in them may be changed.</summary>
    public bool IsFixed { get; private init; }

    private const SetupColumnKind Amount = SetupColumnKind.Amount, Flag = SetupColumnKind.Flag, Number = SetupColumnKind.Number,
        Picks = SetupColumnKind.Picks, Choice = SetupColumnKind.Choice, Percent = SetupColumnKind.Percent, Time = SetupColumnKind.Time;

    public static readonly SetupTable Registers = new(
        "registers", "Registers", "A register without a list takes all tenders.",
        new("name", "Name", "register name"),
        new("kind", "Kind", "kind of register", Choice, Options: ["lane", "self", "desk", "online"]),
        new("float", "Standard float", "standard float", Amount), new("dropAbove", "Drop above", "drop above", Amount),
        new("tenders", "Takes", "tenders that it takes", Picks, Placeholder: "all", From: "tenders"),
        new("id", "In files", "its id in files", Size: 6, Placeholder: "made"));

    public static readonly SetupTable Terminals = new(
        "terminals", "Terminals and their registers",
        "A terminal that moved during the day needs two rows, with from and until like 2026-11-21T12:00:00-05:00.",
        new("id", "Terminal", "number of the terminal", Size: 7),
        new("register", "Register", "register of the terminal", Choice, From: "registers"),
        new("settlesAt", "Settles at", "settles at", Time, 7, "by hand"),
        new("connected", "Connected", "is connected to its processor", Flag),
        new("from", "From", "from", Placeholder: "begin of day"),
        new("until", "Until", "until", Placeholder: "end of day"));

    public static readonly SetupTable Tenders = new(
        "tenders", "Tenders", "Each tender is proved by a count, a settled batch, or the store’s books. You can add rows.",
        new("name", "Name", "tender name"),
        new("proof", "Proof", "proof", Choice, Options: ["count", "batch", "ledger"]),
        new("change", "Change", "gives change", Flag), new("twice", "Twice on a ticket", "may be used twice on a ticket", Flag),
        new("tolerance", "Tolerance", "tolerance", Amount),
        new("account", "Account", "account of the tender", Size: 24),
        new("id", "In files", "its id in files", Size: 11, Placeholder: "made"));

    public static readonly SetupTable Denominations = new(
        "denominations", "Notes and coins",
        "In a float: how many pieces of it a float should have, where it can. A pack is a strap of notes or a roll of coins.",
        new("worth", "Worth", "worth", Amount), new("note", "Note", "is a note", Flag),
        new("pack", "Pieces to a pack", "pieces to a pack", Number, 6), new("grams", "Grams", "weight in grams", Size: 8),
        new("keep", "In a float", "pieces in a float", Number, 6));

    public static readonly SetupTable People = new(
        "people", "People in journals and counts", "A person without a list can open any register.",
        new("name", "Name", "name"),
        new("role", "Role", "role", Choice, Options: ["cashier", "supervisor", "manager", "auditor"]),
        new("registers", "Opens", "registers that the person may open", Picks, Placeholder: "any", From: "registers"),
        new("id", "In files", "their id in files", Size: 6, Placeholder: "made"));

    public static readonly SetupTable Accounts = new(
        "accounts", "Accounts in the store’s books",
        "Accounts for everything except tenders. A tender’s account stands in its row under Tenders.",
        new("name", "For", "name of the use"), new("account", "Account", "account", Size: 34), new("id", "In files", "use", Size: 16))
    {
        IsFixed = true,
    };

    public static readonly SetupTable Processors = new(
        "processors", "Who pays for cards and benefits",
        "Days are bank days after the trading day. Net means they pay less their fee; otherwise they bill it.",
        new("name", "Name", "processor name"),
        new("reference", "In the bank’s text", "the text in its bank lines", Size: 14),
        new("tenders", "Pays for", "tenders that it pays for", Picks, Placeholder: "none", From: "tenders"),
        new("days", "Days", "usual bank days until it pays", Number, 4), new("net", "Net", "pays less its fee", Flag),
        new("id", "In files", "its id in files", Size: 10, Placeholder: "made"));

    public static readonly SetupTable BankAccounts = new(
        "bankAccounts", "Accounts at the bank",
        "Without a row, the first statement’s account is the store’s. The last column is its account in the books.",
        new("number", "Number", "number of the account, as its statements write it", Size: 26),
        new("name", "Name", "name of the account at the bank"),
        new("account", "Account", "account in the books", Size: 26, Placeholder: "that of the bank"));

    public static readonly SetupTable CardFees = new(
        "cardFees", "What they keep", "By brand. A row without a brand applies to all others.",
        new("processor", "Processor", "processor of the fee", Choice, From: "processors"),
        new("brand", "Brand", "brand", Size: 10, Placeholder: "all others"), new("rate", "Per cent", "rate in per cent", Percent),
        new("perItem", "Per item", "fee per item", Amount));

    public static readonly SetupTable[] All =
        [Registers, Terminals, Tenders, Denominations, People, BankAccounts, Processors, CardFees, Accounts];

    /// <summary>The column by which its rows are known.</summary>
    public string Key => Columns.Any(c => c.Name == "id") ? "id" : Columns[0].Name;

    /// <summary>A choice in words.</summary>
    public static string SaysOption(string option) => option switch
    {
        "self" => "self-service",
        "count" => "counted",
        "batch" => "settled in batches",
        "ledger" => "own books",
        _ => option,
    };

    public string FieldOf(SetupColumn column) => $"{Name}.{column.Name}";

    /// <summary>The field of a row, where several things of it can be ticked.</summary>
    public string FieldOf(SetupColumn column, int row) => string.Create(CultureInfo.InvariantCulture, $"{Name}.{column.Name}.{row}");

    /// <summary>The rows that hold where the store says nothing else.</summary>
    public JsonObject[] Standard(Currency currency) => Name switch
    {
        "tenders" => [.. TenderKind.Standard.Select(t => new JsonObject
        {
            ["id"] = t.Id.Value,
            ["name"] = t.Name,
            ["proof"] = t.Proof.Written(),
            ["change"] = t.GivesChange,
            ["twice"] = t.MayRepeat,
            ["account"] = t.Account,
        })],
        "processors" => [.. Processor.Standard.Select(p => new JsonObject
        {
            ["id"] = p.Id,
            ["name"] = p.Name,
            ["tenders"] = new JsonArray([.. p.Tenders.Select(t => JsonValue.Create(t.Value))]),
            ["days"] = p.Days,
            ["net"] = p.IsNet,
        })],
        "accounts" => [.. AccountUse.Standard.Select(a => new JsonObject { ["id"] = a.Id, ["name"] = a.Name, ["account"] = a.Account })],
        "denominations" => [.. Core.Amounts.Denominations.Of(currency).Select(d => Row(d, currency))],
        _ => [],
    };

    internal static JsonObject Row(Denomination d, Currency currency)
    {
        var row = new JsonObject { ["worth"] = currency.Format(d.Worth), ["note"] = d.IsNote };
        if (d.Pack is { } pack)
        {
            row["pack"] = pack;
        }

        if (d.Grams is { } grams)
        {
            row["grams"] = grams.ToString(CultureInfo.InvariantCulture);
        }

        if (d.Kept > 0)
        {
            row["keep"] = d.Kept;
        }

        return row;
    }
}
