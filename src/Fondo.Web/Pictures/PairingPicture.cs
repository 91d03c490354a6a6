using System.Globalization;
using System.Text;
using Fondo.Core.Matching;
using Fondo.Web.Pages.Day;
using Microsoft.AspNetCore.Html;

namespace Fondo.Web.Pictures;

/// <summary>What is paired with what, drawn between two lists: a line from each tender to each of its rows. Dashed where the two are not of
/// one amount.</summary>
internal static class PairingPicture
{
    /// <summary>As high as a line of the lists.</summary>
    private const int Row = 46, Head = 26, Width = 90;

    public static IHtmlContent Of(IReadOnlyList<PairingModel.Line> journal, IReadOnlyList<PairingModel.Line> rows)
    {
        var places = rows.Select((l, i) => (l.Item, i)).ToDictionary(l => l.Item, l => l.i);
        var svg = new StringBuilder();
        var drawn = 0;
        for (var i = 0; i < journal.Count; i++)
        {
            if (journal[i].Match is not { } match)
            {
                continue;
            }

            foreach (var row in match.Rows.Where(places.ContainsKey))
            {
                var (from, to) = (Head + (i * Row) + (Row / 2), Head + (places[row] * Row) + (Row / 2));
                var style = match.Rule == MatchRule.ByHand ? "hand" : match.Difference.IsZero ? "same" : "apart";
                svg.Append(CultureInfo.InvariantCulture,
                    $"<path class=\"{style}\" d=\"M0 {from}C{Width / 2} {from} {Width / 2} {to} {Width} {to}\"/>");
                drawn++;
            }
        }

        var height = Head + (Math.Max(journal.Count, rows.Count) * Row);
        return new HtmlString(
            $"<svg class=\"pairing-picture\" width=\"{Width}\" height=\"{height}\" viewBox=\"0 0 {Width} {height}\" role=\"img\" "
                + $"aria-label=\"{(drawn == 0 ? "Nothing is paired here" : $"{drawn} lines between the two sides")}\">{svg}</svg>");
    }
}
