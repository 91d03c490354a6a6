using System.Globalization;
using System.Net;
using System.Text;
using Fondo.Core.Amounts;
using Fondo.Core.Custody;
using Fondo.Store.Days;
using Fondo.Web.Text;
using Microsoft.AspNetCore.Html;

namespace Fondo.Web.Pictures;

/// <summary>The money in the safe from line to line: each step hangs or stands by what it moved, and the count closes it. Lines of a kind
/// are one step.</summary>
internal static class SafePicture
{
    private const int Wide = 760, High = 170, Left = 8, Right = 8, Top = 26, Below = 40;

    /// <param name="Level">What lies there; null for what moves it.</param>
    private readonly record struct Step(string Name, Money Amount, Money? Level);

    public static IHtmlContent Of(DayView view)
    {
        var custody = view.Money.Custody;
        var steps = Steps(view);
        if (custody.Expected is null || steps.Count is < 3 or > 14)
        {
            return HtmlString.Empty;
        }

        var currency = view.Setup.Currency;
        var levels = new List<Money>();
        foreach (var step in steps)
        {
            levels.Add(step.Level ?? (levels[^1] + step.Amount));
        }

        double low = Math.Min(0, levels.Min(l => l.Minor)), high = Math.Max(1, levels.Max(l => l.Minor));
        double Y(Money level) => High - Below - ((level.Minor - low) / (high - low) * (High - Below - Top));
        var column = (Wide - Left - Right) / (double)steps.Count;
        var svg = new StringBuilder();
        var says = string.Join(", ", steps.Select(s =>
            $"{s.Name} {(s.Level is { } level ? Say.Amount(level, currency) : Say.Signed(s.Amount, currency))}"));
        svg.Append(CultureInfo.InvariantCulture,
            $"<svg class=\"safe-steps\" viewBox=\"0 0 {Wide} {High}\" role=\"img\" aria-label=\"{WebUtility.HtmlEncode(says)}\">");
        for (var i = 0; i < steps.Count; i++)
        {
            var (x, to) = (Left + (i * column), Y(levels[i]));
            var from = i == 0 ? to : Y(levels[i - 1]);
            if (steps[i].Level is { } level)
            {
                svg.Append(CultureInfo.InvariantCulture,
                    $"<path class=\"level\" d=\"M{N(x + 4)} {N(to)}H{N(x + column - 4)}\"/><text class=\"money strong\" "
                        + $"x=\"{N(x + (column / 2))}\" y=\"{N(to - 6)}\">{Say.Amount(level, currency)}</text>");
            }
            else
            {
                svg.Append(CultureInfo.InvariantCulture,
                    $"<rect class=\"{(steps[i].Amount.Sign < 0 ? "out" : "in")}\" x=\"{N(x + 5)}\" y=\"{N(Math.Min(from, to))}\" "
                        + $"width=\"{N(column - 10)}\" height=\"{N(Math.Max(1.5, Math.Abs(from - to)))}\"/>");
                svg.Append(CultureInfo.InvariantCulture,
                    $"<text class=\"money\" x=\"{N(x + (column / 2))}\" "
                        + $"y=\"{N(Math.Min(from, to) - 5)}\">{Say.Signed(steps[i].Amount, currency)}</text>");
            }

            svg.Append(CultureInfo.InvariantCulture,
                $"<path class=\"carry\" d=\"M{N(x - 4)} {N(from)}H{N(x + 5)}\"/><text x=\"{N(x + (column / 2))}\" "
                    + $"y=\"{High - 22}\">{steps[i].Name}</text>");
        }

        return new HtmlString(svg.Append("</svg>").ToString());
    }

    /// <summary>What it begins with, what moved it until it was counted, the count, what moved it since, and what should be there
    /// now.</summary>
    private static List<Step> Steps(DayView view)
    {
        var custody = view.Money.Custody;
        List<Step> steps = [new("opening", Money.Zero, custody.Start.Loose ?? custody.Start.Moved)];
        Add(custody.Lines.Where(l => !custody.IsAfterCount(l)));
        if (custody.Count is { } count)
        {
            steps.Add(new($"counted {Say.Time(count.At, view.Setup)}", Money.Zero, count.Cash));
        }

        var counted = steps.Count;
        Add(custody.Lines.Where(custody.IsAfterCount));
        if (custody.Count is null || steps.Count > counted)
        {
            steps.Add(new("expected", Money.Zero, custody.End.Loose ?? Money.Zero));
        }

        return steps;

        // Lines of a kind are one step: what one wants to see is where it went.
        void Add(IEnumerable<SafeLine> lines) =>
            steps.AddRange(lines.GroupBy(l => NameOf(l.Kind)).Select(g => new Step(g.Key, g.Sum(l => l.Amount), null)));
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
