using Fondo.Core.SetUp;

namespace Fondo.Core.Books;

/// <summary>The accounts on which something stays from day to day: what the store has and owes. All others are income, expense, or where
/// the books began.</summary>
public static class BalanceSheet
{
    private static readonly string[] _results =
        ["goods", "service", "discount", "rounding", "fee", "over-short", "cost", "card-cost", "bank-cost", "paid-in", "paid-out",
            "opening"];

    /// <summary>As the set-up names them.</summary>
    public static ImmutableHashSet<string> Of(Setup setup)
    {
        var uses = new Uses(setup);
        var results = _results.Select(u => uses[u]).ToHashSet(StringComparer.Ordinal);
        return AccountUse.Standard.Select(a => uses[a.Id]).Concat(setup.Tenders.Select(t => t.Account))
            .Concat(setup.BankAccounts.Select(b => uses.OfBank(b.Number)))
            .Where(a => !results.Contains(a)).ToImmutableHashSet(StringComparer.Ordinal);
    }

    /// <summary>Where the lines of each account at the bank are posted.</summary>
    /// <param name="numbers">As statements name them.</param>
    public static ILookup<string, string> OfBank(Setup setup, IEnumerable<string> numbers)
    {
        var uses = new Uses(setup);
        return numbers.ToLookup(uses.OfBank, StringComparer.Ordinal);
    }
}
