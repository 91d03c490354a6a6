using Fondo.Core.Journal;
using Fondo.Core.SetUp;

namespace Fondo.Core.Banking;

/// <summary>One booking on the store's bank account, as a statement has it.</summary>
/// <param name="Key">The bank's own reference of it, else the statement and the place in it; unique in the store.</param>
/// <param name="Day">The trading day on which it is looked at: the first one that was open when it came.</param>
/// <param name="Amount">To the store positive, from it negative.</param>
/// <param name="Text">What the bank says of it.</param>
/// <param name="Number">How many items it gathers; null where the bank does not say.</param>
public sealed record BankLine(string Key, TradingDay Day, DateOnly Booked, Money Amount, string Text, int? Number)
{
    /// <summary>The account on whose statement it stands.</summary>
    public string? Account { get; init; }

    /// <summary>Whether the bank says that it takes an earlier line back.</summary>
    public bool IsReversal { get; init; }

    /// <summary>What the line is made of, where the bank lists it.</summary>
    public ImmutableArray<BankDetail> Details { get; init; } = [];

    /// <summary>Whether its text holds a name as a word of its own: bag 12 is not named by bag 123.</summary>
    public bool Names(string name) => BankText.Of(Text).Names(BankText.Of(name));

    public bool Equals(BankLine? other) =>
        other is not null && (Key, Account, Day, Booked, Amount, Text, Number, IsReversal) == (other.Key, other.Account, other.Day,
            other.Booked, other.Amount, other.Text, other.Number, other.IsReversal) && Details.SequenceEqual(other.Details);

    public override int GetHashCode() => HashCode.Combine(Key, Booked, Amount);
}

/// <summary>One transaction of a line that gathers several.</summary>
public readonly record struct BankDetail(Money Amount, string Text);

/// <summary>A card tender of the weeks before that a processor may have taken back with a line.</summary>
/// <param name="Line">The line's key.</param>
public sealed record ChargeTakenBack(string Line, EventId Ticket, TradingDay Day, RegisterId Register, DateTimeOffset At, TenderId Tender,
    string? LastFour);

/// <summary>A statement of the store's account: from an opening to a closing balance.</summary>
/// <param name="Id">As the bank numbers it.</param>
public sealed record BankStatement(string Id, string Account, string Currency, DateOnly From, DateOnly To, Money Opening, Money Closing,
    ImmutableArray<BankLine> Lines)
{
    /// <summary>What is wrong with it as a whole; null when nothing is.</summary>
    /// <param name="accounts">The numbers of the store's accounts; empty where none is known yet.</param>
    public StatementObjection? Objection(IReadOnlyCollection<string> accounts, Currency currency)
    {
        if (Currency != currency.Code)
        {
            return new StatementObjection.OtherCurrency(Currency, currency.Code);
        }

        if (accounts.Count > 0 && !accounts.Contains(Account))
        {
            return new StatementObjection.OtherAccount(Account, [.. accounts]);
        }

        if (To < From)
        {
            return new StatementObjection.EndsBeforeItStarts(From, To);
        }

        var lines = Lines.Sum(l => l.Amount);
        return Opening + lines == Closing ? null
            : new StatementObjection.DoesNotAddUp(Opening, Lines.Length, lines, Closing, Opening + lines);
    }
}
