using System.Text;
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
    /// <summary>Whether its text holds a name as a word of its own: bag 12 is not named by bag 123.</summary>
    public bool Names(string name) => name.Length > 0 && $" {Plain(Text)} ".Contains($" {Plain(name)} ", StringComparison.Ordinal);

    /// <summary>Letters and digits in small letters, everything else a space.</summary>
    private static string Plain(string text)
    {
        var plain = new StringBuilder(text.Length);
        foreach (var c in text)
        {
            var next = char.IsLetterOrDigit(c) ? char.ToLowerInvariant(c) : ' ';
            if (next != ' ' || (plain.Length > 0 && plain[^1] != ' '))
            {
                plain.Append(next);
            }
        }

        return plain.ToString().TrimEnd();
    }
}

/// <summary>A card tender of the weeks before that a processor may have taken back with a line.</summary>
/// <param name="Line">The line's key.</param>
public sealed record ChargeTakenBack(string Line, EventId Ticket, TradingDay Day, RegisterId Register, DateTimeOffset At, TenderId Tender, string? LastFour);

/// <summary>A statement of the store's account: from an opening to a closing balance.</summary>
/// <param name="Id">As the bank numbers it.</param>
public sealed record BankStatement(string Id, string Account, string Currency, DateOnly From, DateOnly To, Money Opening, Money Closing, ImmutableArray<BankLine> Lines)
{
    /// <summary>What is wrong with it as a whole; null when nothing is.</summary>
    /// <param name="known">The statements that are there.</param>
    /// <param name="account">The store's account; null where none is known yet.</param>
    public string? Objection(IReadOnlyCollection<BankStatement> known, string? account, Currency currency)
    {
        if (Currency != currency.Code)
        {
            return $"This statement is in {Currency}; the store’s books are in {currency.Code}.";
        }

        if (account is not null && account != Account)
        {
            return $"This statement is of account {Account}; the store’s account is {account}.";
        }

        if (To < From)
        {
            return $"This statement ends on {Date(To)}, before it begins on {Date(From)}.";
        }

        if (Opening + Lines.Sum(l => l.Amount) is var sum && sum != Closing)
        {
            return $"This statement does not add up: it opens with {currency.Say(Opening)}, its {Lines.Length} lines come to {currency.Say(Lines.Sum(l => l.Amount))}, and it closes with {currency.Say(Closing)} instead of {currency.Say(sum)}.";
        }

        if (known.FirstOrDefault(s => s.Id == Id) is { } same)
        {
            return $"Statement {Id} is here already, of {Date(same.From)} to {Date(same.To)}, and says something else.";
        }

        if (known.FirstOrDefault(s => s.From <= To && From <= s.To && !(s.To == From && s.Closing == Opening) && !(To == s.From && Closing == s.Opening)) is { } overlaps)
        {
            return $"This statement is of {Date(From)} to {Date(To)} and overlaps statement {overlaps.Id} of {Date(overlaps.From)} to {Date(overlaps.To)}.";
        }

        return Lines.GroupBy(l => l.Key, StringComparer.Ordinal).FirstOrDefault(g => g.Count() > 1) is { } twice
            ? $"This statement has the bank’s reference {twice.Key} on {twice.Count()} lines." : null;
    }

    /// <summary>Whether another one says the same, line by line.</summary>
    public bool SaysTheSame(BankStatement other) =>
        (Id, Account, Currency, From, To, Opening, Closing) == (other.Id, other.Account, other.Currency, other.From, other.To, other.Opening, other.Closing)
        && Lines.Select(l => (l.Key, l.Booked, l.Amount, l.Text, l.Number)).SequenceEqual(other.Lines.Select(l => (l.Key, l.Booked, l.Amount, l.Text, l.Number)));

    private static string Date(DateOnly date) => date.ToString("d MMM yyyy", System.Globalization.CultureInfo.InvariantCulture);
}
