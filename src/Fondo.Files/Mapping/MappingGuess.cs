using System.Text.RegularExpressions;
using Fondo.Files.Text;

namespace Fondo.Files.Mapping;

/// <summary>Guesses how a file of another shape is to be read: separator, columns, signs, decimal mark, order of dates. A guess to look at,
/// not to trust.</summary>
public static partial class MappingGuess
{
    private const int LinesLookedAt = 400, MostSkipped = 30;

    /// <summary>Words in the names of columns that tell their field, the most telling first.</summary>
    private static readonly (string Field, string[] Words)[] _names =
    [
        (MappedFields.LineTax, ["line tax", "item tax"]),
        (MappedFields.LineAmount, ["line amount", "line total", "extended", "ext amount", "item amount", "item total", "line net"]),
        (MappedFields.Tip, ["tip", "gratuity"]),
        (MappedFields.Cashback, ["cash back", "cashback"]),
        (MappedFields.Fee, ["fee", "surcharge"]),
        (MappedFields.Change, ["change"]),
        (MappedFields.Original, ["original", "refunded ticket", "orig"]),
        (MappedFields.Rrn, ["rrn", "retrieval", "reference", "ref no", "ref num", "ref"]),
        (MappedFields.Auth, ["auth", "approval", "appr"]),
        (MappedFields.Terminal, ["terminal", "device", "pos id", "tid"]),
        (MappedFields.Batch, ["batch", "settlement"]),
        (MappedFields.Register, ["register", "lane", "till", "checkout", "pos"]),
        (MappedFields.Ticket, ["ticket", "receipt", "transaction no", "trans no", "transaction number", "transaction id", "trx",
            "invoice"]), (MappedFields.Seq, ["seq", "line no", "row no", "item no", "stan", "trace"]),
        (MappedFields.Cashier, ["cashier", "clerk", "operator", "employee"]),
        (MappedFields.Drawer, ["drawer", "session", "shift"]),
        (MappedFields.Holder, ["name on", "payer"]),
        (MappedFields.Number, ["check no", "check number", "cheque"]),
        (MappedFields.Brand, ["brand", "scheme", "card type", "network"]),
        (MappedFields.Card, ["last four", "last 4", "last4", "pan", "card no", "card number", "card"]),
        (MappedFields.Entry, ["entry", "read mode"]),
        (MappedFields.Benefit, ["benefit", "ebt"]),
        (MappedFields.Status, ["status", "state", "result"]),
        (MappedFields.Tender, ["tender", "payment", "paid by", "pay type", "method"]),
        (MappedFields.Type, ["type", "kind", "sale refund", "direction", "s/r"]),
        (MappedFields.Tax, ["tax", "vat"]),
        (MappedFields.Total, ["ticket total", "receipt total", "total"]),
        (MappedFields.Amount, ["amount", "amt", "value", "gross", "sum"]),
        (MappedFields.Sku, ["sku", "article", "plu", "item code"]),
        (MappedFields.Item, ["item", "description", "product"]),
        (MappedFields.Quantity, ["qty", "quantity", "units"]),
        (MappedFields.At, ["date time", "datetime", "timestamp", "date and time", "when", "transaction date time"]),
        (MappedFields.Date, ["date", "day"]),
        (MappedFields.Time, ["time", "hour"]),
    ];

    /// <summary>The same for statements of a bank, which are told by their balance.</summary>
    private static readonly (string Field, string[] Words)[] _statementNames =
    [
        (MappedFields.Balance, ["balance"]),
        (MappedFields.Statement, ["statement"]),
        (MappedFields.PaidIn, ["paid in", "money in", "credit", "credits", "deposits", "in"]),
        (MappedFields.PaidOut, ["paid out", "money out", "debit", "debits", "withdrawals", "out"]),
        (MappedFields.Amount, ["amount", "amt", "value"]),
        (MappedFields.Date, ["booked", "booking date", "posting date", "posted", "date"]),
        (MappedFields.Text, ["description", "details", "narrative", "particulars", "memo", "text", "payee"]),
        (MappedFields.Reference, ["reference", "ref"]), (MappedFields.Account, ["account"]), (MappedFields.Items, ["items"]),
    ];

    public static Mapping Of(string file, byte[] bytes, string timeZone)
    {
        var encoding = IsWide(bytes) ? Mapping.Utf16
            : MappedSource.Decode(bytes, Mapping.Utf8) is null ? Mapping.Windows1252
            : Mapping.Utf8;
        var text = string.Join('\n', MappedSource.Decode(bytes, encoding)!.Split('\n').Take(LinesLookedAt));
        var separator = Mapping.Separators.MaxBy(s => Evenness(text, s));
        var rows = MappedSource.Raw(file, text, separator, new Findings()).ConvertAll(r => r.Fields);
        var width = Width(rows);
        var (skip, hasHeader) = Header(rows, width);
        IReadOnlyList<string> header = hasHeader
            ? rows.ElementAtOrDefault(skip) ?? []
            : [.. Enumerable.Range(1, width).Select(n => $"{n}")];
        var data = rows.Skip(skip + (hasHeader ? 1 : 0)).Where(r => r.Count == width).ToList();
        IReadOnlyList<string> Column(int place) => [.. data.Select(r => r[place].Trim()).Where(t => t.Length > 0)];
        var isStatement = hasHeader && header.Any(h => h.Contains("balance", StringComparison.OrdinalIgnoreCase))
            && !header.Any(h => h.Contains("terminal", StringComparison.OrdinalIgnoreCase));
        var columns = hasHeader ? Named(header, isStatement ? _statementNames : _names) : [];
        if (!isStatement)
        {
            FromContent(columns, header, Column);
        }

        var isJournal = columns.ContainsKey(MappedFields.Ticket) && columns.ContainsKey(MappedFields.Register)
            && columns.ContainsKey(MappedFields.Tender);
        var isByLine = isJournal && columns.ContainsKey(MappedFields.LineAmount);
        var kind = isStatement ? MappedKind.Statement : isJournal ? MappedKind.Journal : MappedKind.Batches;
        foreach (var other in columns.Keys.Where(k => !MappedFields.Of(kind).Contains(k)).ToList())
        {
            columns.Remove(other);
        }

        IReadOnlyList<string> Texts(params string[] fields) =>
            [.. fields.Where(columns.ContainsKey).SelectMany(f => Column(PlaceOf(header, columns[f])))];
        var amounts = Texts(MappedFields.Amount, MappedFields.LineAmount, MappedFields.Total, MappedFields.PaidIn, MappedFields.PaidOut);
        var mark = amounts.Count(a => CommaDecimals().IsMatch(a)) > amounts.Count(a => PointDecimals().IsMatch(a)) ? ',' : '.';
        var isSigned = amounts.Any(a => a.StartsWith('-') || a.StartsWith('(') || a.StartsWith('−') || a.EndsWith('-'));
        var negative = amounts.Count(a => a.StartsWith('-') || a.StartsWith('(') || a.StartsWith('−') || a.EndsWith('-'));
        return Mapping.Blank with
        {
            Name = MappedMaking.Id(Path.GetFileNameWithoutExtension(file).ToLowerInvariant().Split([' ', '_', '(']) is [var first, ..]
                && first.Length > 2 ? Digits().Replace(first, "").Trim('-', '.') : "mapping"),
            Files = $"{Prefix(Path.GetFileNameWithoutExtension(file))}*{Path.GetExtension(file)}",
            Kind = kind,
            Layout = isByLine ? MappedLayout.Line : MappedLayout.Tender,
            Encoding = encoding,
            Separator = separator,
            SkipLines = skip,
            HasHeader = hasHeader,
            DecimalMark = mark,
            Dates = Dates(Texts(MappedFields.At, MappedFields.Date)),
            TimeZone = timeZone,
            Signs = isStatement || !isSigned ? MappedSigns.None
                : negative * 2 > amounts.Count ? MappedSigns.NegativeSales
                : MappedSigns.NegativeRefunds,
            Columns = columns.ToImmutableDictionary(),
            Whole = WholeAmounts.Asked,
            Change = PartOfAmount.Asked,
            Tip = PartOfAmount.Asked,
            Voided = VoidedIs.Asked,
        };
    }

    /// <summary>Whether every other byte is nothing, without a mark that says so.</summary>
    private static bool IsWide(byte[] bytes) => bytes is not ([0xFF, 0xFE, ..] or [0xFE, 0xFF, ..])
        && bytes.Take(LinesLookedAt).Count(b => b == 0) * 3 > Math.Min(bytes.Length, LinesLookedAt);

    /// <summary>The part of a name that stays from file to file: up to the first digit.</summary>
    private static string Prefix(string name) =>
        new string([.. name.TakeWhile(c => !char.IsAsciiDigit(c))]).TrimEnd('-', '_', '.', ' ') is { Length: > 1 } start ? start : "other";

    /// <summary>How evenly a character parts the lines of a text.</summary>
    private static int Evenness(string text, char separator)
    {
        var widths = MappedSource.Raw("", text, separator, new Findings()).Select(r => r.Fields.Count).Where(c => c > 1).GroupBy(c => c)
            .ToList();
        return widths.Count == 0 ? 0 : widths.Max(g => g.Count() * 100 + g.Key);
    }

    private static int Width(List<IReadOnlyList<string>> rows) =>
        rows.Count == 0 ? 0 : rows.GroupBy(r => r.Count).OrderByDescending(g => g.Count() * Math.Min(g.Key, 20)).First().Key;

    /// <summary>How many lines stand before the rows, and whether the last of them names the columns.</summary>
    private static (int Skip, bool HasHeader) Header(List<IReadOnlyList<string>> rows, int width)
    {
        for (var i = 0; i < Math.Min(rows.Count, MostSkipped); i++)
        {
            // A title that fills one field of many is no row yet.
            if (rows[i].Count != width || (width > 2 && rows[i].Count(f => f.Trim().Length > 0) < 2))
            {
                continue;
            }

            var isNames = rows[i].Count(f => f.Trim().Length > 0 && !f.Any(char.IsAsciiDigit)) * 2 > width
                && !rows[i].Any(f => HoldsDate().IsMatch(f));
            return (i, isNames);
        }

        return (0, true);
    }

    private static Dictionary<string, string> Named(IReadOnlyList<string> header, (string Field, string[] Words)[] names)
    {
        var (columns, used) = (new Dictionary<string, string>(), new HashSet<string>());
        var plain = header.Select(h => (Name: h.Trim(),
            Text: " " + Separators().Replace(CamelCase().Replace(h, "$1 $2"), " ").Trim().ToLowerInvariant() + " ")).ToList();
        // A whole name says more than a word within one.
        foreach (var isWhole in new[] { true, false })
        {
            foreach (var (field, words) in names.Where(n => !columns.ContainsKey(n.Field)))
            {
                var found = words.SelectMany(w => plain.Where(p => p.Name.Length > 0 && !used.Contains(p.Name)
                    && (isWhole
                        ? p.Text.Trim() == w
                        : p.Text.Contains($" {w} ", StringComparison.Ordinal)
                            || (w.Length > 4 && p.Text.Contains(w, StringComparison.Ordinal))))).FirstOrDefault();
                if (found.Name is { } name && !CardNumbers.Contains(name))
                {
                    columns[field] = name;
                    used.Add(name);
                }
            }
        }

        return columns;
    }

    /// <summary>What the names do not tell, the contents may.</summary>
    private static void FromContent(Dictionary<string, string> columns, IReadOnlyList<string> header,
        Func<int, IReadOnlyList<string>> column)
    {
        for (var place = 0; place < header.Count; place++)
        {
            var name = header[place].Trim();
            if (name.Length == 0 || columns.ContainsValue(name) || column(place) is not { Count: > 0 } texts)
            {
                continue;
            }

            var field = texts.All(t => HoldsDate().IsMatch(t) && HoldsTime().IsMatch(t)) ? MappedFields.At
                : texts.All(t => HoldsDate().IsMatch(t)) ? MappedFields.Date
                : texts.All(t => HoldsTime().IsMatch(t)) ? MappedFields.Time
                : texts.All(t => MaskedCard().IsMatch(t)) ? MappedFields.Card
                : texts.All(t => PointDecimals().IsMatch(t) || CommaDecimals().IsMatch(t)) ? MappedFields.Amount : null;
            if (field is not null && !columns.ContainsKey(field)
                && !(field is MappedFields.Date or MappedFields.Time && columns.ContainsKey(MappedFields.At)))
            {
                columns[field] = name;
            }
        }

        // A column that is called a date may hold the time as well.
        if (!columns.ContainsKey(MappedFields.At) && columns.TryGetValue(MappedFields.Date, out var date)
            && column(PlaceOf(header, date)) is { Count: > 0 } dates && dates.All(t => HoldsTime().IsMatch(t)))
        {
            columns.Remove(MappedFields.Date);
            columns[MappedFields.At] = date;
        }
    }

    private static int PlaceOf(IReadOnlyList<string> header, string name) => header.Select(h => h.Trim()).ToList().IndexOf(name);

    private static DateOrder Dates(IReadOnlyList<string> texts)
    {
        var parts = texts.Select(t => DateParts().Match(t)).Where(m => m.Success)
            .Select(m => (A: int.Parse(m.Groups[1].Value, System.Globalization.CultureInfo.InvariantCulture),
                B: int.Parse(m.Groups[2].Value, System.Globalization.CultureInfo.InvariantCulture), Length: m.Groups[1].Length)).ToList();
        return parts.Count == 0 || parts.Any(p => p.Length == 4) ? DateOrder.Ymd
            : parts.Any(p => p.A > 12) ? DateOrder.Dmy
            : parts.Any(p => p.B > 12) ? DateOrder.Mdy
            // Neither tells: slashes or a half of the day are American, points are not.
            : texts.Any(t => t.Contains('.', StringComparison.Ordinal) && !t.Contains('/', StringComparison.Ordinal)) ? DateOrder.Dmy
            : DateOrder.Mdy;
    }

    [GeneratedRegex(@"(?<!\d)(\d{1,4})[-./](\d{1,2})[-./]\d{1,4}")]
    private static partial Regex DateParts();

    [GeneratedRegex(@"(?<!\d)(\d{1,4}[-./]\d{1,2}[-./]\d{1,4}|20\d{6}|\d{1,2}[- ][A-Za-z]{3}[- ]\d{2,4})(?!\d)")]
    private static partial Regex HoldsDate();

    [GeneratedRegex(@"(?<!\d)\d{1,2}:\d{2}|(?:^|(?<=20\d{6})[ T])([01]\d|2[0-3])[0-5]\d([0-5]\d)?$")]
    private static partial Regex HoldsTime();

    [GeneratedRegex(@"^[*xX•·\- ]{2,}\d{4}$")]
    private static partial Regex MaskedCard();

    [GeneratedRegex(@",\d{1,2}\D*$")]
    private static partial Regex CommaDecimals();

    [GeneratedRegex(@"\.\d{1,2}\D*$")]
    private static partial Regex PointDecimals();

    [GeneratedRegex(@"[_\-./#:]+|\s+")]
    private static partial Regex Separators();

    [GeneratedRegex(@"([a-z])([A-Z])")]
    private static partial Regex CamelCase();

    [GeneratedRegex(@"\d+")]
    private static partial Regex Digits();
}
