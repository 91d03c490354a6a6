namespace Fondo.Core.Banking;

/// <summary>What is wrong with a statement of the bank as a whole.</summary>
public abstract record StatementObjection
{
    private StatementObjection()
    {
    }

    public sealed record OtherCurrency(string Statement, string Store) : StatementObjection;

    public sealed record OtherAccount(string Statement, ImmutableArray<string> Store) : StatementObjection;

    public sealed record EndsBeforeItStarts(DateOnly From, DateOnly To) : StatementObjection;

    /// <param name="Sum">What the opening balance and the lines come to.</param>
    public sealed record DoesNotAddUp(Money Opening, int Lines, Money LinesSum, Money Closing, Money Sum) : StatementObjection;
}
