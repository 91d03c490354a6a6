using System.Globalization;

namespace Fondo.Web.Settling;

/// <summary>What a page showed of a terminal, which the page sends back with the order to settle it.</summary>
/// <param name="Agrees">Whether it agreed with the journal.</param>
/// <param name="Number">How many cards it held.</param>
/// <param name="Net">Their net amount, in minor units.</param>
public sealed record SeenOnTerminal(string Terminal, bool Agrees, int Number, long Net)
{
    /// <summary>As the page's form carries it.</summary>
    public string Text => string.Create(CultureInfo.InvariantCulture, $"{(Agrees ? 'y' : 'n')}/{Number}/{Net}/{Terminal}");

    /// <returns>Null where no page wrote that.</returns>
    public static SeenOnTerminal? Read(string text) => text.Split('/', 4) is [var agrees, var number, var net, var terminal]
        && int.TryParse(number, NumberStyles.None, CultureInfo.InvariantCulture, out var cards)
        && long.TryParse(net, NumberStyles.AllowLeadingSign, CultureInfo.InvariantCulture, out var minor)
        ? new(terminal, agrees == "y", cards, minor)
        : null;
}
