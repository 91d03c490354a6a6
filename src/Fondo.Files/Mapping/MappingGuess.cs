using System.Globalization;
using System.Text.RegularExpressions;
using Fondo.Files.Text;

namespace Fondo.Files.Mapping;

/// <summary>Guesses how a file of another shape is to be read: separator, columns, words, signs, decimal mark, order of dates. A guess to
/// look at, not to trust; what the file does not make plain is left to be asked.</summary>
public static partial class MappingGuess
{
    private const int LinesLookedAt = 400, MostSkipped = 30;

    public static Mapping Of(string file, byte[] bytes, Setup setup)
    {
        var encoding = Encoding(bytes);
        var text = string.Join('\n', (MappedSource.Decode(bytes, encoding) ?? "").Split('\n').Take(LinesLookedAt));
        var separator = Mapping.Separators.MaxBy(s => Evenness(text, s));
        var rows = MappedSource.Raw(file, text, separator, new Findings()).ConvertAll(r => r.Fields);
        var width = Width(rows);
        var (skip, hasHeader) = Header(rows, width);
        var (data, name) = (rows.Skip(skip + (hasHeader ? 1 : 0)).Where(r => r.Count == width).ToList(),
            Path.GetFileNameWithoutExtension(file));
        var columns = new GuessedColumns(hasHeader
            ? rows.ElementAtOrDefault(skip) ?? []
            : [.. Enumerable.Range(1, width).Select(n => $"{n}")], hasHeader, data, setup);
        var (kind, amounts) = (columns.Kind, columns.Amounts);
        var negative = amounts.Count(a => a.StartsWith('-') || a.StartsWith('(') || a.StartsWith('−') || a.EndsWith('-'));
        return Mapping.Blank with
        {
            Name = MappedMaking.Id(name.ToLowerInvariant().Split([' ', '_', '(']) is [var first, ..]
                && first.Length > 2 ? Digits().Replace(first, "").Trim('-', '.') : "mapping"),
            Files = $"{Prefix(name)}*{Path.GetExtension(file)}",
            Kind = kind,
            Layout = kind == MappedKind.Journal && columns.Has(MappedFields.LineAmount) ? MappedLayout.Line : MappedLayout.Tender,
            Encoding = encoding,
            Separator = separator,
            SkipLines = skip,
            HasHeader = hasHeader,
            DecimalMark = amounts.Count(a => CommaDecimals().IsMatch(a)) > amounts.Count(a => PointDecimals().IsMatch(a)) ? ',' : '.',
            Dates = Dates(columns.Texts(MappedFields.At, MappedFields.Date)),
            TimeZone = kind == MappedKind.Statement ? setup.TimeZone.Id : GuessedZone.Of(columns, setup),
            Signs = kind == MappedKind.Statement || negative == 0 ? MappedSigns.None
                : negative * 2 > amounts.Count ? MappedSigns.NegativeSales
                : MappedSigns.NegativeRefunds,
            Columns = columns.Fields,
            Words = columns.Words,
            Whole = columns.SaysMinor ? WholeAmounts.Minor : WholeAmounts.Asked,
            Change = PartOfAmount.Asked,
            Tip = columns.IsTipInside ? PartOfAmount.Inside : PartOfAmount.Asked,
            Voided = VoidedIs.Asked,
        };
    }

    /// <summary>The order in which the parts of dates stand.</summary>
    internal static DateOrder Dates(IReadOnlyList<string> texts)
    {
        var parts = texts.Select(t => DateParts().Match(t)).Where(m => m.Success)
            .Select(m => (A: int.Parse(m.Groups[1].Value, CultureInfo.InvariantCulture),
                B: int.Parse(m.Groups[2].Value, CultureInfo.InvariantCulture), Length: m.Groups[1].Length)).ToList();
        return parts.Count == 0 || parts.Any(p => p.Length == 4) ? DateOrder.Ymd
            : parts.Any(p => p.A > 12) ? DateOrder.Dmy
            : parts.Any(p => p.B > 12) ? DateOrder.Mdy
            // Neither tells: slashes or a half of the day are American, points are not.
            : texts.Any(t => t.Contains('.', StringComparison.Ordinal) && !t.Contains('/', StringComparison.Ordinal)) ? DateOrder.Dmy
            : DateOrder.Mdy;
    }

    private static string Encoding(byte[] bytes) => IsWide(bytes) ? Mapping.Utf16
        : MappedSource.Decode(bytes, Mapping.Utf8) is null ? Mapping.Windows1252
        : Mapping.Utf8;

    /// <summary>Whether every other byte is nothing, without a mark that says so.</summary>
    private static bool IsWide(byte[] bytes) => bytes is not ([0xFF, 0xFE, ..] or [0xFE, 0xFF, ..]) && !Spreadsheet.Is(bytes)
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
            if ((rows[i].Count != width && !IsShorter(i)) || (width > 2 && rows[i].Count(f => f.Trim().Length > 0) < 2))
            {
                continue;
            }

            return (i, IsNames(rows[i]));
        }

        return (0, true);

        // Some rows end with separators that the line of names does not have.
        bool IsShorter(int i) => i + 1 < rows.Count && rows[i].Count is > 2 and var own && own < width && IsNames(rows[i])
            && rows[i + 1].Count == width && rows[i + 1].Skip(own).All(f => f.Length == 0);
    }

    private static bool IsNames(IReadOnlyList<string> row) =>
        row.Count(f => f.Trim().Length > 0 && !f.Any(char.IsAsciiDigit)) * 2 > row.Count && !row.Any(f => HoldsDate().IsMatch(f));

    [GeneratedRegex(@"(?<!\d)(\d{1,4})[-./](\d{1,2})[-./]\d{1,4}")]
    private static partial Regex DateParts();

    [GeneratedRegex(@"(?<!\d)(\d{1,4}[-./]\d{1,2}[-./]\d{1,4}|20\d{6}|\d{1,2}[- ][A-Za-z]{3}[- ]\d{2,4})(?!\d)")]
    internal static partial Regex HoldsDate();

    [GeneratedRegex(@",\d{1,2}\D*$")]
    internal static partial Regex CommaDecimals();

    [GeneratedRegex(@"\.\d{1,2}\D*$")]
    internal static partial Regex PointDecimals();

    [GeneratedRegex(@"\d+")]
    private static partial Regex Digits();
}
