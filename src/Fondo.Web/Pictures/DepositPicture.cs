using System.Globalization;
using System.Net;
using System.Text;
using Fondo.Core.Cash;
using Fondo.Core.Custody;
using Fondo.Core.SetUp;
using Fondo.Web.Text;
using Microsoft.AspNetCore.Html;

namespace Fondo.Web.Pictures;

/// <summary>What lies in the bag: a row for each denomination; a strap is a banded block, a roll a capsule, loose pieces are
/// strokes.</summary>
internal static class DepositPicture
{
    private const int Wide = 760, Row = 20, Left = 78, Pack = 30, MostPacks = 14, MostLoose = 100;

    public static IHtmlContent Of(Deposit deposit, Setup setup)
    {
        var rows = SlipRow.Of(deposit.Pieces, setup.Denominations);
        if (rows.IsEmpty)
        {
            return HtmlString.Empty;
        }

        var svg = new StringBuilder();
        var says = string.Join("; ",
            rows.Select(r =>
                $"{Say.Amount(r.Denomination, setup.Currency)}: "
                    + $"{(r.Packs > 0 ? Say.Count(r.Packs, r.IsNote ? "strap" : "roll") + (r.Loose > 0 ? " and " : "") : "")}"
                    + $"{(r.Loose > 0 || r.Packs == 0 ? $"{r.Loose} loose" : "")}"));
        svg.Append(CultureInfo.InvariantCulture,
            $"<svg class=\"deposit-pieces\" viewBox=\"0 0 {Wide} {(rows.Length * Row) + 4}\" role=\"img\" "
                + $"aria-label=\"{WebUtility.HtmlEncode(says)}\">");
        var y = 2;
        foreach (var row in rows)
        {
            svg.Append(CultureInfo.InvariantCulture,
                $"<text x=\"{Left - 12}\" y=\"{y + 14}\">{Say.Amount(row.Denomination, setup.Currency)}</text>");
            var x = Left;
            for (var i = 0; i < Math.Min(row.Packs, MostPacks); i++, x += Pack + 5)
            {
                svg.Append(row.IsNote
                    ? string.Create(CultureInfo.InvariantCulture,
                        $"<rect class=\"strap\" x=\"{x}\" y=\"{y + 3}\" width=\"{Pack}\" height=\"13\"/><rect class=\"band\" "
                            + $"x=\"{x + 11}\" y=\"{y + 3}\" width=\"8\" height=\"13\"/>")
                    : string.Create(CultureInfo.InvariantCulture,
                        $"<rect class=\"roll\" x=\"{x}\" y=\"{y + 4}\" width=\"{Pack}\" height=\"11\" rx=\"5.5\"/>"));
            }

            if (row.Packs > MostPacks)
            {
                svg.Append(CultureInfo.InvariantCulture,
                    $"<text class=\"more\" x=\"{x + 2}\" y=\"{y + 14}\">and {row.Packs - MostPacks} more</text>");
                x += 90;
            }

            for (var i = 0; i < Math.Min(row.Loose, MostLoose); i++, x += 3)
            {
                svg.Append(row.IsNote
                    ? string.Create(CultureInfo.InvariantCulture, $"<path class=\"note\" d=\"M{x + 1} {y + 3}v13\"/>")
                    : string.Create(CultureInfo.InvariantCulture,
                        $"<circle class=\"coin\" cx=\"{x + 1}\" cy=\"{y + 9 + (i % 2 * 4) - 2}\" r=\"1.6\"/>"));
            }

            y += Row;
        }

        return new HtmlString(svg.Append("</svg>").ToString());
    }
}
