using System.Globalization;
using Fondo.Core.Amounts;
using Fondo.Core.Cells;
using Fondo.Core.Entries;
using Fondo.Web.Text;
using Microsoft.AspNetCore.Html;

namespace Fondo.Web.Pictures;

/// <summary>A cell of the board as a level line: what agrees is a point on it, over stands on it, short: below the line.
/// The height grows with the logarithm of the amount; filled while it is off, outlined once explained.</summary>
internal static class CellPicture
{
    private const int Width = 72, Height = 44, Level = 22;

    public static IHtmlContent Of(Bridge bridge, Currency currency) => new HtmlString(bridge switch
    {
        { Cell.Proof: null } => Use(bridge.Cell.State == CellState.JournalOnly ? "lv-books" : "lv-waits"),
        { IsUnresolved: true } => Block(bridge.Left!.Value, currency, "off"),
        { Cell.State: CellState.Off } => Block(bridge.Cell.Variance!.Value, currency, "explained"),
        _ => Use("lv-proved"),
    });

    /// <summary>The shapes that most cells share, once a page.</summary>
    public static IHtmlContent Symbols { get; } = new HtmlString(
        $"""
        <svg class="symbols" aria-hidden="true" width="0" height="0">
        <symbol id="lv-proved" viewBox="0 0 {Width} {Height}"><path class="level" d="M4 {Level}H68"/><circle class="point" cx="36" cy="{Level}" r="2.4"/></symbol>
        <symbol id="lv-waits" viewBox="0 0 {Width} {Height}"><path class="level dotted" d="M4 {Level}H68"/><circle class="ring" cx="36" cy="{Level}" r="6"/></symbol>
        <symbol id="lv-books" viewBox="0 0 {Width} {Height}"><path class="level dotted" d="M4 {Level}H68"/><circle class="point" cx="36" cy="{Level}" r="2.4"/></symbol>
        </svg>
        """);

    /// <summary>What the picture shows, for those who cannot see it.</summary>
    public static string Describe(Bridge bridge, Currency currency) => bridge switch
    {
        { Cell.State: CellState.JournalOnly } => $"{Say.Amount(bridge.Cell.Expected, currency)}, no books imported",
        { Cell.Proof: null } => "waits for its proof",
        { IsUnresolved: true, Left.IsZero: true } =>
            $"amounts match, counts don’t: {bridge.Cell.ExpectedCount} expected, {bridge.Cell.ProofCount ?? 0} proved",
        { IsUnresolved: true, Left: { } left } =>
            Say.Variance(left, currency) + (bridge.AwaitsApproval ? ", an entry waits for approval" : ""),
        { Cell.State: CellState.Off } => $"{Say.Variance(bridge.Cell.Variance!.Value, currency)}, explained",
        _ => $"{Say.Amount(bridge.Cell.Expected, currency)} proved",
    };

    private static string Use(string symbol) => $"<svg class=\"lv\" aria-hidden=\"true\"><use href=\"#{symbol}\"/></svg>";

    private static string Block(Money variance, Currency currency, string state)
    {
        if (variance.IsZero)
        {
            return $"""<svg class="lv" viewBox="0 0 {Width} {Height}" aria-hidden="true"><path class="level" d="M4 {Level}H68"/><path class="number" d="M31 {Level - 5}l10 10M41 {Level - 5}l-10 10"/></svg>""";
        }

        var over = variance.Sign > 0;
        var size = Math.Clamp(3 + (4.2 * Math.Log10(1 + (variance.Abs().Minor / (double)currency.Unit))), 3, 18);
        var y = over ? Level - size : Level;
        var tick = state == "explained" ? $"""<path class="tick" d="M33 {Number(y + (size / 2))}l2.2 2.2 4-4.4"/>""" : "";
        return $"""
            <svg class="lv" viewBox="0 0 {Width} {Height}" aria-hidden="true"><path class="level" d="M4 {Level}H68"/><rect class="{(over ? "over" : "short")} {state}" x="27" y="{Number(y)}" width="18" height="{Number(size)}"/>{tick}<text class="{(over ? "over" : "short")}" x="36" y="{(over ? Level + 14 : Level - 6)}">{Say.Signed(variance, currency)}</text></svg>
            """;
    }

    private static string Number(double value) => value.ToString("0.#", CultureInfo.InvariantCulture);
}
