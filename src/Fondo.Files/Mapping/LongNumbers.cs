using System.Text;
using Fondo.Files.Text;

namespace Fondo.Files.Mapping;

/// <summary>Numbers of articles, tickets and terminals that are as long as those of cards, and pass their check digit by chance. A person
/// says of a column that it holds such numbers; everywhere else they are refused.</summary>
public static class LongNumbers
{
    /// <summary>No group of so few digits is the number of a card.</summary>
    private const int Group = 6;

    /// <summary>The fields whose columns may hold them.</summary>
    public static readonly ImmutableArray<string> Fields =
        [MappedFields.Ticket, MappedFields.Original, MappedFields.Terminal, MappedFields.Sku];

    /// <summary>Whether a file holds the full number of a card: anywhere but in the columns of which the mapping says otherwise, and in any
    /// sheet of a workbook.</summary>
    /// <param name="mapping">That reads the file; null where none does.</param>
    public static bool HidesCardNumber(byte[] bytes, Mapping? mapping)
    {
        if (mapping is null || mapping.LongNumbers.IsEmpty)
        {
            return Spreadsheet.HoldsCardNumber(bytes);
        }

        var findings = new Findings();
        var source = MappedSource.Read("", bytes, mapping, findings);
        return findings.Any ? Spreadsheet.HoldsCardNumber(bytes)
            : source.Above.Any(f => CardNumbers.Contains(f)) || source.Rows.Any(r => HoldsCardNumber(r, mapping))
                || (Spreadsheet.Is(bytes) && Spreadsheet.Others(bytes, mapping.Sheet)
                    .Any(s => CardNumberScan.IsIn(new MemoryStream(Encoding.UTF8.GetBytes(s)))));
    }

    /// <summary>Whether a full card number stands in a column that may not hold one.</summary>
    internal static bool HoldsCardNumber(MappedRow row, Mapping mapping) => row.Fields.Index()
        .Any(f => CardNumbers.Contains(f.Item) && !mapping.LongNumbers.Any(l => row.Places.GetValueOrDefault(l, -1) == f.Index));

    /// <summary>Set apart in groups, so that nobody takes it for the number of a card any more.</summary>
    internal static string Apart(string number)
    {
        if (!CardNumbers.Contains(number))
        {
            return number;
        }

        var (text, digits) = (new StringBuilder(), 0);
        foreach (var c in number)
        {
            if (char.IsDigit(c) && digits++ is > 0 and var before && before % Group == 0)
            {
                text.Append(':');
            }

            text.Append(c);
        }

        return text.ToString();
    }
}
