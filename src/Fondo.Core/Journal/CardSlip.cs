namespace Fondo.Core.Journal;

/// <summary>What a terminal said of a card: never more than the last four digits.</summary>
/// <param name="Reference">Retrieval reference number (ISO 8583, data element 37); null where the terminal is not connected.</param>
public sealed record CardSlip(CardUse Use, string? LastFour, Code ApprovalCode, Code Reference)
{
    public CardSlip(TerminalId? terminal, string? brand, string? lastFour, Code approvalCode, Code reference, string? entry)
        : this(new CardUse(terminal, brand, entry), lastFour, approvalCode, reference)
    {
    }

    public TerminalId? Terminal => Use.Terminal;

    public string? Brand => Use.Brand;

    public string? Entry => Use.Entry;

    public string? Approval => ApprovalCode.Text;

    public string? Rrn => Reference.Text;
}

/// <summary>Where a card was run, of which brand, and how it was read. A day has few of these: cards that were run alike share
/// one.</summary>
/// <param name="Terminal">Null where the journal does not say.</param>
public sealed record CardUse(TerminalId? Terminal, string? Brand, string? Entry)
{
    public override int GetHashCode() => HashOf(Terminal, Brand, Entry);

    /// <summary>The hash of one that need not be made for that.</summary>
    public static int HashOf(TerminalId? terminal, string? brand, string? entry) => QuickHash.Of(terminal?.Value, brand, entry);
}
