using System.Globalization;
using System.Net;
using System.Text;
using Fondo.Core.Amounts;
using Fondo.Core.Custody;
using Fondo.Store.Days;
using Fondo.Web.Text;
using Microsoft.AspNetCore.Html;

namespace Fondo.Web.Pictures;

/// <summary>The money in the safe from line to line: each step hangs or stands by what it moved, and the count closes it. Steps of a kind that follow each other are one.</summary>
internal static class SafePicture
{
    private const int Wide = 760, High = 170, Left = 8, Right = 8, Top = 26, Below = 40;

    public static IHtmlContent Of(DayView view)
    {
        var custody = view.Money.Custody;
        var begin = custody.Start.Loose ?? custody.Start.Moved;
        List<(string Name, Money Amount)> steps = [];
        foreach (var line in custody.Lines)
        {
            var name = NameOf(line.Kind);
            if (steps.Count > 0 && steps[^1].Name == name)
            {
                steps[^1] = (name, steps[^1].Amount + line.Amount);
            }
            else
            {
                steps.Add((name, line.Amount));
            }
        }

        if (steps.Count is 0 or > 14 || custody.Expected is null)
        {
            return HtmlString.Empty;
        }

        List<Money> levels = [begin];
        foreach (var (_, amount) in steps)
        {
            levels.Add(levels[^1] + amount);
        }

        var counted = custody.Count?.Cash;
        var all = levels.Select(l => l.Minor).Append(counted?.Minor ?? 0).ToList();
        double low = Math.Min(0, all.Min()), high = Math.Max(1, all.Max());
        double Y(Money level) => High - Below - ((level.Minor - low) / (high - low) * (High - Below - Top));
        var column = (Wide - Left - Right) / (double)(steps.Count + 2);
        var svg = new StringBuilder();
        var says = $"From {Say.Amount(begin, view.Setup.Currency)}: {string.Join(", ", steps.Select(s => $"{s.Name} {Say.Signed(s.Amount, view.Setup.Currency)}"))}{(counted is { } c ? $"; counted {Say.Amount(c, view.Setup.Currency)}" : "")}.";
        svg.Append(CultureInfo.InvariantCulture, $"<svg class=\"safe-steps\" viewBox=\"0 0 {Wide} {High}\" role=\"img\" aria-label=\"{WebUtility.HtmlEncode(says)}\">");
        Level(0, begin, "begins");
        for (var i = 0; i < steps.Count; i++)
        {
            var x = Left + ((i + 1) * column);
            var (from, to) = (Y(levels[i]), Y(levels[i + 1]));
            svg.Append(CultureInfo.InvariantCulture, $"<rect class=\"{(steps[i].Amount.Sign < 0 ? "out" : "in")}\" x=\"{N(x + 5)}\" y=\"{N(Math.Min(from, to))}\" width=\"{N(column - 10)}\" height=\"{N(Math.Max(1.5, Math.Abs(from - to)))}\"/><path class=\"carry\" d=\"M{N(x - 5)} {N(from)}H{N(x + 5)}\"/>");
            svg.Append(CultureInfo.InvariantCulture, $"<text class=\"money\" x=\"{N(x + (column / 2))}\" y=\"{N(Math.Min(from, to) - 5)}\">{Say.Signed(steps[i].Amount, view.Setup.Currency)}</text><text x=\"{N(x + (column / 2))}\" y=\"{High - 22}\">{steps[i].Name}</text>");
        }

        Level(steps.Count + 1, counted ?? levels[^1], counted is null ? "should be there" : "counted");
        return new HtmlString(svg.Append("</svg>").ToString());

        void Level(int place, Money level, string name)
        {
            var x = Left + (place * column);
            svg.Append(CultureInfo.InvariantCulture, $"<path class=\"level\" d=\"M{N(x + 5)} {N(Y(level))}H{N(x + column - 5)}\"/><text class=\"money strong\" x=\"{N(x + (column / 2))}\" y=\"{N(Y(level) - 6)}\">{Say.Amount(level, view.Setup.Currency)}</text><text x=\"{N(x + (column / 2))}\" y=\"{High - 22}\">{name}</text>");
        }
    }

    private static string NameOf(SafeLineKind kind) => kind switch
    {
        SafeLineKind.Opening => "beginning",
        SafeLineKind.Bag => "bags",
        SafeLineKind.Drawer or SafeLineKind.Float => "drawers",
        SafeLineKind.Loan => "loans",
        SafeLineKind.Movement => "change",
        SafeLineKind.Deposit or SafeLineKind.Unsealed => "deposits",
        _ => "entries",
    };

    private static string N(double value) => value.ToString("0.#", CultureInfo.InvariantCulture);
}
