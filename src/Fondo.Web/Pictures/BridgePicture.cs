using System.Globalization;
using System.Net;
using System.Text;
using Fondo.Core.Amounts;
using Fondo.Core.Entries;
using Fondo.Web.Text;
using Microsoft.AspNetCore.Html;

namespace Fondo.Web.Pictures;

/// <summary>The bridge: the level that is expected, a step for each entry, and the level of the proof. Levels, not bars:
/// the axis is broken, so no bar can pretend a proportion.</summary>
internal static class BridgePicture
{
    private const int Width = 372, Height = 208, Top = 34, Bottom = 150;

    /// <param name="proposed">A step that is only being considered.</param>
    public static IHtmlContent Of(Bridge bridge, Currency currency, Money? proposed)
    {
        if (bridge.Cell.Proof is not { } proof)
        {
            return HtmlString.Empty;
        }

        List<(string Name, Money Amount, string Class)> steps =
            [.. bridge.Entries.Select(e => (Say.Kind(e.Kind), e.On(bridge.Cell.Key), e.Holds ? "held" : "pending"))];
        if (proposed is { } amount)
        {
            steps.Add(("This entry", amount, "proposed"));
        }

        const int MostSteps = 5;
        if (steps.Count > MostSteps)
        {
            var early = steps[..^(MostSteps - 1)];
            steps = [($"{early.Count} entries", early.Sum(s => s.Amount), "held"), .. steps[^(MostSteps - 1)..]];
        }

        return Draw(bridge.Cell.Expected, steps, proof, Describe(bridge, currency, steps), currency, Width);
    }

    /// <summary>The bridge over several cells, a step for each kind of entry.</summary>
    public static IHtmlContent Of(WideBridge bridge, Currency currency)
    {
        List<(string Name, Money Amount, string Class)> steps =
        [
            .. bridge.Steps.Where(s => !s.Held.IsZero).Select(s => (Say.Kind(s.Kind), s.Held, "held")),
            .. bridge.Steps.Where(s => !s.Pending.IsZero).Select(s => ($"{Say.Kind(s.Kind)}, waits", s.Pending, "pending")),
            .. bridge.Within.IsZero ? [] : new[] { ("Within tolerance", bridge.Within, "held") },
        ];
        return Draw(bridge.Expected, steps, bridge.Proof,
            $"Expected {Say.Amount(bridge.Expected, currency)}; "
                + $"{string.Concat(steps.Select(s => $"{s.Name} {Say.Signed(s.Amount, currency)}; "))}proof "
                + $"{Say.Amount(bridge.Proof, currency)}; left {Say.Amount(bridge.Left, currency)}.", currency, 860);
    }

    private static HtmlString Draw(Money expected, List<(string Name, Money Amount, string Class)> steps, Money proof, string describes,
        Currency currency, int width)
    {
        var levels = new List<Money> { expected };
        steps.ForEach(s => levels.Add(levels[^1] + s.Amount));
        var (low, high) = (levels.Append(proof).Min(), levels.Append(proof).Max());
        var span = Math.Max(1, (high - low).Minor);
        double Y(Money level) => Bottom - ((level - low).Minor / (double)span * (Bottom - Top));

        var columns = steps.Count + 2;
        var column = width / (double)columns;
        double Middle(int i) => (i + 0.5) * column;
        var half = Math.Min(30, (column / 2) - 6);

        var svg = new StringBuilder();
        svg.Append(CultureInfo.InvariantCulture,
            $"<svg class=\"bridge\" viewBox=\"0 0 {width} {Height}\" role=\"img\" aria-label=\"{WebUtility.HtmlEncode(describes)}\">");
        svg.Append(CultureInfo.InvariantCulture, $"<path class=\"axis\" d=\"M6 178H{(width / 2) - 8}l4 -5 6 10 4 -5H{width - 6}\"/>");
        Level(0, expected, "Expected", "level-end");
        for (var i = 0; i < steps.Count; i++)
        {
            var (from, to) = (levels[i], levels[i + 1]);
            var sign = steps[i].Amount.Sign < 0 ? "short" : "over";
            svg.Append(CultureInfo.InvariantCulture,
                $"<path class=\"carry\" d=\"M{N(Middle(i) + half)} {N(Y(from))}H{N(Middle(i + 1) - half)}\"/>");
            var (top, height) = (Math.Min(Y(from), Y(to)), Math.Max(2, Math.Abs(Y(from) - Y(to))));
            svg.Append(CultureInfo.InvariantCulture,
                $"<rect class=\"step {sign} {steps[i].Class}\" x=\"{N(Middle(i + 1) - half)}\" y=\"{N(top)}\" width=\"{N(half * 2)}\" "
                    + $"height=\"{N(height)}\"/>");
            Text(Middle(i + 1), top - 7, Say.Signed(steps[i].Amount, currency), sign);
            Text(Middle(i + 1), 196, steps[i].Name, "name");
        }

        svg.Append(CultureInfo.InvariantCulture,
            $"<path class=\"carry\" d=\"M{N(Middle(columns - 2) + half)} {N(Y(levels[^1]))}H{N(Middle(columns - 1) + half)}\"/>");
        var left = proof - levels[^1];
        if (!left.IsZero)
        {
            var x = Middle(columns - 1) + half + 10;
            svg.Append(CultureInfo.InvariantCulture,
                $"<path class=\"gap {(left.Sign < 0 ? "short" : "over")}\" d=\"M{N(x)} {N(Y(levels[^1]))}V{N(Y(proof))}\"/>");
        }

        Level(columns - 1, proof, "Proof", "level-end");
        return new HtmlString(svg.Append("</svg>").ToString());

        void Level(int i, Money at, string name, string style)
        {
            svg.Append(CultureInfo.InvariantCulture,
                $"<path class=\"{style}\" d=\"M{N(Middle(i) - half)} {N(Y(at))}H{N(Middle(i) + half)}\"/>");
            Text(Middle(i), Y(at) - 8, Say.Amount(at, currency), "figure");
            Text(Middle(i), 196, name, "name");
        }

        void Text(double x, double y, string text, string style) =>
            svg.Append(CultureInfo.InvariantCulture,
                $"<text class=\"{style}\" x=\"{N(x)}\" y=\"{N(y)}\">{WebUtility.HtmlEncode(text)}</text>");
    }

    private static string Describe(Bridge bridge, Currency currency, List<(string Name, Money Amount, string Class)> steps) =>
        $"Expected {Say.Amount(bridge.Cell.Expected, currency)}; "
        + string.Concat(steps.Select(s =>
            $"{s.Name} {Say.Signed(s.Amount, currency)}{(s.Class == "pending" ? " (waits for approval)" : "")}; "))
        + $"proof {Say.Amount(bridge.Cell.Proof, currency)}; left {Say.Amount(bridge.Left, currency)}.";

    private static string N(double value) => value.ToString("0.#", CultureInfo.InvariantCulture);
}
