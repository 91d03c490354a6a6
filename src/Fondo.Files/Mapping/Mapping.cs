namespace Fondo.Files.Mapping;

/// <summary>What a file of another shape becomes.</summary>
public enum MappedKind
{
    /// <summary>Settled rows, as batches.csv.</summary>
    Batches,

    /// <summary>Tickets, as journal.jsonl.</summary>
    Journal,

    /// <summary>One statement of the bank.</summary>
    Statement,

    /// <summary>Lines of the store's own books of gift cards and accounts, as ledger.csv.</summary>
    Ledger,

    /// <summary>What hosts say they settled, as batch-totals.csv.</summary>
    Totals,
}

/// <summary>What one row of a flat journal is.</summary>
public enum MappedLayout
{
    /// <summary>A tender of a ticket.</summary>
    Tender,

    /// <summary>A line of a ticket, with its tender repeated.</summary>
    Line,
}

/// <summary>The order of the parts of a date.</summary>
public enum DateOrder
{
    Ymd,
    Dmy,
    Mdy,
}

/// <summary>What the sign of an amount says.</summary>
public enum MappedSigns
{
    /// <summary>Amounts carry no sign: a column says what is a refund.</summary>
    None,
    NegativeRefunds,

    /// <summary>The other way round: sales are written negative.</summary>
    NegativeSales,
}

/// <summary>How a CSV file of a shape that cannot be changed is read.</summary>
/// <param name="Name">As people call it; made like an id.</param>
/// <param name="Files">The names of files that it reads, with * for anything.</param>
/// <param name="SkipLines">Lines before the one with the names of the columns, or before the first row.</param>
/// <param name="HasHeader">Whether a line names the columns; else they are called 1, 2, 3.</param>
/// <param name="TimeZone">IANA name of the zone of times that say none; empty: a person says.</param>
/// <param name="Columns">By field of <see cref="MappedFields"/>, the column.</param>
/// <param name="Fixed">By field, what it is on every row.</param>
/// <param name="Words">By field, what the file's words mean.</param>
/// <param name="Totals">A row that begins with one of these words is a row of totals, and left out.</param>
/// <param name="Voids">Words of the status or type that say that a row was voided.</param>
public sealed record Mapping(
    string Name, string Files, MappedKind Kind, MappedLayout Layout, string Encoding, char Separator, int SkipLines, bool HasHeader,
    char DecimalMark, DateOrder Dates, string TimeZone, MappedSigns Signs,
    ImmutableDictionary<string, string> Columns, ImmutableDictionary<string, string> Fixed,
    ImmutableDictionary<string, ImmutableDictionary<string, string>> Words,
    ImmutableArray<string> Totals, ImmutableArray<string> Voids)
{
    public const string Utf8 = "utf-8", Latin1 = "iso-8859-1", Windows1252 = "windows-1252", Utf16 = "utf-16";

    public static readonly ImmutableArray<string> Encodings = [Utf8, Windows1252, Latin1, Utf16];

    /// <summary>The sheet of a workbook; empty: its first.</summary>
    public string Sheet { get; init; } = "";

    /// <summary>What amounts without decimals are.</summary>
    public WholeAmounts Whole { get; init; }

    /// <summary>Whether the change given is in the amount of its tender.</summary>
    public PartOfAmount Change { get; init; }

    /// <summary>Whether a tip is in the amount.</summary>
    public PartOfAmount Tip { get; init; }

    /// <summary>What a voided row takes out of its ticket.</summary>
    public VoidedIs Voided { get; init; }

    /// <summary>The fields, of <see cref="Fondo.Files.Mapping.LongNumbers"/>, whose columns hold numbers as long as those of cards, as a
    /// person says.</summary>
    public ImmutableArray<string> LongNumbers { get; init; } = [];

    public static readonly ImmutableArray<char> Separators = [',', ';', '\t', '|'];

    public static readonly ImmutableArray<string> UsualTotals = ["total", "totals", "sum", "subtotal", "grand total", "summe",
            "gesamt"],
        UsualVoids = ["void", "voided", "cancelled", "canceled", "storno", "storniert", "annulé", "anulado"];

    /// <summary>What is begun with where nothing is known.</summary>
    public static readonly Mapping Blank = new(
        "", "*.csv", MappedKind.Batches, MappedLayout.Tender, Utf8, ',', 0, true, '.', DateOrder.Ymd, "America/New_York", MappedSigns.None,
        ImmutableDictionary<string, string>.Empty, ImmutableDictionary<string, string>.Empty,
        ImmutableDictionary<string, ImmutableDictionary<string, string>>.Empty, UsualTotals, UsualVoids);

    /// <summary>Whether a file of this name is read by it.</summary>
    public bool Reads(string file) => System.IO.Enumeration.FileSystemName.MatchesSimpleExpression(Files, Path.GetFileName(file),
        ignoreCase: true) && !DayFiles.All.Contains(Path.GetFileName(file));
}

/// <summary>The fields that a mapping fills, by what the file becomes.</summary>
public static class MappedFields
{
    public const string At = "at", Date = "date", Time = "time", Type = "type", Status = "status", Amount = "amount", Terminal = "terminal",
        Batch = "batch", Seq = "seq", Tip = "tip", Cashback = "cashback",
        Brand = "brand", Card = "card", Auth = "auth", Rrn = "rrn", Entry = "entry", Benefit = "benefit", Ticket = "ticket",
        Register = "register", Drawer = "drawer", Cashier = "cashier", Original = "original",
        Total = "total", Tax = "tax", Tender = "tender", Change = "change", Fee = "fee", Number = "number", Holder = "name", Ref = "ref",
        Sku = "sku", Item = "item", Quantity = "qty", LineAmount = "lineAmount", LineTax = "lineTax",
        Statement = "statement", Account = "account", Balance = "balance", PaidIn = "paidIn", PaidOut = "paidOut", Text = "text",
        Reference = "reference", Items = "items", Reason = "reason",
        SalesCount = "salesCount", SalesAmount = "salesAmount", RefundsCount = "refundsCount", RefundsAmount = "refundsAmount";

    public static readonly ImmutableArray<string> Batches =
        [Terminal, Batch, Seq, At, Date, Time, Type, Status, Amount, Tip, Cashback, Brand, Card, Auth, Rrn, Entry, Benefit];

    public static readonly ImmutableArray<string> Journal =
        [Ticket, Register, Drawer, Cashier, At, Date, Time, Type, Status, Original, Total, Tax, Tender, Amount, Change, Tip, Cashback, Fee,
            Terminal, Brand, Card, Auth, Rrn, Entry, Number, Holder, Ref, Sku, Item, Quantity, LineAmount, LineTax, Reason];

    public static readonly ImmutableArray<string> OfStatement =
        [Statement, Account, Date, Amount, PaidIn, PaidOut, Balance, Text, Reference, Items];

    public static readonly ImmutableArray<string> Ledger = [Tender, Seq, At, Date, Time, Register, Type, Status, Amount, Ref];

    public static readonly ImmutableArray<string> Totals =
        [Terminal, Batch, At, Date, Time, SalesCount, SalesAmount, RefundsCount, RefundsAmount];

    public static ImmutableArray<string> Of(MappedKind kind) => kind switch
    {
        MappedKind.Batches => Batches,
        MappedKind.Journal => Journal,
        MappedKind.Ledger => Ledger,
        MappedKind.Totals => Totals,
        _ => OfStatement
    };

    /// <summary>The field whose amounts make up the file.</summary>
    public static string AmountOf(MappedKind kind, MappedLayout layout) => kind == MappedKind.Totals ? SalesAmount
        : kind == MappedKind.Journal && layout == MappedLayout.Line ? LineAmount
        : Amount;

    /// <summary>What must be filled, as alternatives: a column, or a fixed value, for one of each.</summary>
    public static ImmutableArray<ImmutableArray<string>> Needed(MappedKind kind, MappedLayout layout) => kind == MappedKind.Batches
        ? [[Terminal], [At, Date], [Amount]]
        : kind == MappedKind.Ledger ? [[Tender], [At, Date], [Register], [Amount]]
        : kind == MappedKind.Totals ? [[Terminal], [Batch], [At, Date], [SalesCount], [SalesAmount]]
        : kind == MappedKind.Statement ? [[Account], [Date], [Amount, PaidIn, PaidOut], [Balance]]
        : layout == MappedLayout.Tender ? [[Ticket], [Register], [At, Date], [Tender], [Amount]]
        : [[Ticket], [Register], [At, Date], [Tender], [LineAmount]];

    /// <summary>A part of an amount, in the middle of a sentence.</summary>
    public static string Part(string field) => field switch { Tip => "tip", Cashback => "cash back", Change => "change given", _ => field };

    /// <summary>A field in words.</summary>
    public static string Says(string field) => field switch
    {
        At => "date and time",
        Date => "date",
        Time => "time of day",
        Type => "sale or refund",
        Status => "status",
        Amount => "amount",
        Terminal => "terminal",
        Batch => "batch number",
        Seq => "number in the batch",
        Tip => "tip",
        Cashback => "cash back in it",
        Brand => "brand",
        Card => "card, last four",
        Auth => "approval code",
        Rrn => "reference",
        Entry => "chip, tap, swipe",
        Benefit => "benefit: food, cash",
        Ticket => "ticket number",
        Register => "register",
        Drawer => "drawer session",
        Cashier => "cashier",
        Original => "ticket refunded",
        Total => "total of the ticket",
        Tax => "tax of the ticket",
        Tender => "tender",
        Change => "change given",
        Fee => "fee in it",
        Number => "check number",
        Holder => "name on the check",
        Ref => "gift card or account",
        Sku => "article number",
        Item => "article",
        Quantity => "quantity",
        LineAmount => "amount of the line",
        Statement => "number of the statement",
        Account => "account",
        Balance => "balance after the line",
        PaidIn => "amount paid in",
        PaidOut => "amount paid out",
        Text => "what the bank says",
        Reference => "the bank’s reference",
        Items => "how many items",
        Reason => "reason, or the bag",
        SalesCount => "number of sales",
        SalesAmount => "amount of sales",
        RefundsCount => "number of refunds",
        RefundsAmount => "amount of refunds",
        _ => "tax of the line",
    };
}
