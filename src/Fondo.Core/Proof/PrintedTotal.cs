using Fondo.Core.Journal;

namespace Fondo.Core.Proof;

/// <summary>A line of what a terminal that is not connected printed: number and amount by brand.</summary>
/// <param name="At">When it was printed; the lines of one print share it.</param>
public sealed record PrintedLine(
    TerminalId Terminal, DateTimeOffset At, PersonId? By, string? Brand, Benefit Benefit, int SalesCount, Money SalesAmount,
    int RefundsCount, Money RefundsAmount)
{
    public int Number => SalesCount + RefundsCount;

    /// <summary>As the journal signs it: refunds negative.</summary>
    public Money Signed => SalesAmount - RefundsAmount;
}
