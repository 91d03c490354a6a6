using System.Collections.Immutable;
using Fondo.Core.Amounts;
using Fondo.Core.Banking;
using Fondo.Core.Books;
using Fondo.Core.Closing;
using Fondo.Core.Journal;

using static Fondo.Core.Tests.MadeUp;
using static Fondo.Core.Tests.TheBooks;

namespace Fondo.Core.Tests;

/// <summary>What customers owe and are owed: files.md, <c>ref</c>; rules §13, payments on account are no sales.</summary>
public sealed class CustomersOwe
{
    private const string Accounts = "Assets:Customer accounts", GiftCards = "Liabilities:Gift cards",
        Layaways = "Liabilities:Customer deposits";

    private static string Sold(string amount, string tender, string more) =>
        Sale(Line(amount), amount, "0.00", amount, Pays(tender, amount, more));

    private static string Paid(string amount, string account, string? reference) =>
        Sale(Line(amount, more: $",\"account\":\"{account}\"{(reference is null ? "" : $",\"ref\":\"{reference}\"")}"), amount, "0.00",
            amount, Pays("cash", amount));

    private static IReadOnlyList<string> Moved(params string[] journal) =>
        [.. CustomerMovement.Of(Reconcile(journal)).Select(m => $"{m.Key.Account} {m.Key.Reference} {m.Amount.Minor}")];

    private static CustomerDay Day(IEnumerable<(string Account, string Reference, long Before)> before, params string[] journal)
    {
        var result = Reconcile(journal);
        return new(
            CustomerAccount.Of(result.Day.Setup), CustomerMovement.Of(result),
            before.ToImmutableDictionary(b => new CustomerKey(b.Account, b.Reference), b => new Money(b.Before)),
            ImmutableDictionary<string, Money>.Empty);
    }

    [Fact]
    public void Each_item_moves_by_its_number()
    {
        Assert.Equal([$"{Accounts} INV-7 4000"], Moved(Sold("40.00", "house-account", ",\"ref\":\"INV-7\"")));
        Assert.Equal([$"{Accounts} INV-7 -1500"], Moved(Paid("15.00", "account-payment", "INV-7")));
        Assert.Equal([$"{GiftCards} 1234 -2500"], Moved(Paid("25.00", "gift-card-load", "1234")));
        Assert.Equal([$"{GiftCards} 1234 1000"], Moved(Sold("10.00", "gift-card", ",\"ref\":\"1234\"")));
        Assert.Equal([$"{Layaways} LAY-1 -2000"], Moved(Paid("20.00", "layaway", "LAY-1")));
        // A deposit on a bottle, and cash, are nobody's item.
        Assert.Empty(Moved(Paid("1.20", "container-deposit", "1"), Sold("5.00", "cash", "")));
    }

    [Fact]
    public void What_comes_without_a_number_stands_on_its_account_all_the_same() =>
        Assert.Equal([$"{Accounts}  -1500"], Moved(Paid("15.00", "account-payment", null)));

    [Fact]
    public void A_layaway_that_goes_by_parts_is_owed_to_nobody()
    {
        var setup = MadeUp.Setup.Replace("\"policy\":{", "\"policy\":{\"layaway\":\"parts\",", StringComparison.Ordinal);
        Assert.Empty(CustomerMovement.Of(Reconciling.Reconciliation.Of(Read([Paid("20.00", "layaway", "LAY-1")], setup: setup).Day!)));
    }

    [Theory]
    [InlineData(40_00, "15.00", 25_00, 0)]
    [InlineData(40_00, "40.00", 0, 0)]
    [InlineData(40_00, "55.00", -15_00, 15_00)]
    [InlineData(0, "15.00", -15_00, 15_00)]
    public void A_payment_above_what_is_owed_is_told(long owed, string paid, long left, long above)
    {
        var day = Day([(Accounts, "INV-7", owed)], Paid(paid, "account-payment", "INV-7"));
        Assert.Equal(left, day.Left()[new(Accounts, "INV-7")].Minor);
        Assert.Equal(above, day.PastNothing.Sum(p => p.By.Minor));
        Assert.Single(day.PaidOnAccount);
    }

    [Fact]
    public void A_gift_card_used_past_what_is_on_it_is_told()
    {
        var day = Day([(GiftCards, "1234", -25_00)], Sold("30.00", "gift-card", ",\"ref\":\"1234\""));
        Assert.Equal(5_00, Assert.Single(day.PastNothing).By.Minor);
        Assert.Empty(Day([(GiftCards, "1234", -25_00)], Sold("25.00", "gift-card", ",\"ref\":\"1234\"")).PastNothing);
    }

    /// <summary>What the entry posts on an account and no ticket says is a movement without a number: the list and the books never
    /// part.</summary>
    [Fact]
    public void Movements_and_their_rest_are_what_the_entry_posts()
    {
        var result = Reconcile([
            Sold("40.00", "house-account", ",\"ref\":\"INV-7\""),
            Paid("15.00", "account-payment", "INV-7"),
            Paid("25.00", "gift-card-load", null)
        ]);
        var (accounts, moved) = (CustomerAccount.Of(result.Day.Setup), CustomerMovement.Of(result));
        var entry = AccountingEntry.Of(result, []);
        Assert.Empty(CustomerMovement.Rest(accounts, moved, entry, []));
        AccountingEntry more = new([.. entry.Sums, new(Accounts, null, "accepted", new(-3_00), 1)]);
        Assert.Equal(new CustomerKey(Accounts, ""), Assert.Single(CustomerMovement.Rest(accounts, moved, more, [])).Key);
        Assert.Empty(CustomerMovement.Rest(accounts, moved, more, [(Accounts, new(-3_00))]));
    }

    private static BankStatement Statement(string id, int from, int to, long opening, params (int Day, long Amount, string Key)[] lines) =>
        new(
        id, "4471", "USD", new(2026, 11, from), new(2026, 11, to), new(opening), new(opening + lines.Sum(l => l.Amount)),
        [.. lines.Select(l => new BankLine(l.Key, default, new(2026, 11, l.Day), new(l.Amount), l.Key, null))]);

    private static BankReconciliation Against(long entries, BankStatement[] statements, params (string Key, long Amount)[] booked) =>
        BankReconciliation.Of(
        "Assets:Bank", ["4471"], new(entries), statements,
            booked.ToDictionary(b => b.Key, b => (new DateOnly(2026, 11, 21), new Money(b.Amount))));

    [Fact]
    public void An_account_is_held_against_its_statements()
    {
        BankStatement[] two = [Statement("1", 20, 20, 1_000_00, (20, 500_00, "A")), Statement("2", 21, 21, 1_500_00, (21, -3_50, "B"))];
        var all = Against(496_50, two, ("A", 500_00), ("B", -3_50));
        Assert.Equal((1_496_50, 1_496_50, 0, 0), (all.Book.Minor, all.Statement.Minor, all.Outstanding.Length, all.Difference.Minor));
        // The second line waits for the next day.
        var waits = Against(500_00, two, ("A", 500_00));
        Assert.Equal(("B", -3_50, 0), (Assert.Single(waits.Outstanding).What, waits.Outstanding[0].Amount.Minor, waits.Difference.Minor));
        // Booked by a statement that ends later.
        Assert.Equal((3_50, 0), (Assert.Single(Against(496_50, two[..1], ("A", 500_00), ("B", -3_50)).Outstanding).Amount.Minor,
            Against(496_50, two[..1], ("A", 500_00), ("B", -3_50)).Difference.Minor));
    }

    [Fact]
    public void A_missing_statement_is_an_item_and_what_nothing_accounts_for_is_a_difference()
    {
        BankStatement[] gap = [Statement("1", 20, 20, 1_000_00, (20, 500_00, "A")), Statement("3", 22, 22, 1_700_00, (22, 10_00, "C"))];
        var found = Against(510_00, gap, ("A", 500_00), ("C", 10_00));
        Assert.Equal((200_00, 0), (Assert.Single(found.Outstanding).Amount.Minor, found.Difference.Minor));
        Assert.Equal(7_00, Against(517_00, gap, ("A", 500_00), ("C", 10_00)).Difference.Minor);
    }

    [Fact]
    public void Each_account_at_the_bank_has_its_own_in_the_books()
    {
        var setup = Read([], setup: MadeUp.Setup.Replace("\"policy\":{",
            "\"bankAccounts\":[{\"number\":\"4471\",\"name\":\"Current\"},{\"number\":\"9902\",\"account\":\"Assets:Savings\"}],\"policy\":{", StringComparison.Ordinal)).Day!.Setup;
        Assert.Equal(["4471 Current", "9902 "], setup.BankAccounts.Select(b => $"{b.Number} {b.Name}"));
        Assert.Equal(["Assets:Bank 4471", "Assets:Savings 9902"],
            BalanceSheet.OfBank(setup, ["4471", "9902"]).SelectMany(g => g.Select(n => $"{g.Key} {n}")).Order());
        Assert.Contains("Assets:Savings", BalanceSheet.Of(setup));
        var overview = Sheets.Overview.Of(Reconciling.Reconciliation.Of(Read([],
            setup: MadeUp.Setup.Replace("\"policy\":{",
                "\"bankAccounts\":[{\"number\":\"9902\",\"account\":\"Assets:Savings\"}],\"policy\":{", StringComparison.Ordinal)).Day!));
        BankLine line = new("A", new(new(2026, 11, 21)), new(2026, 11, 21), new(5_00), "INTEREST", null) { Account = "9902" };
        var money = MoneyDay.Of(overview, new(overview, new Dictionary<RegisterId, Proof.Count>()), [], MoneyStart.Unknown,
            Custody.CustodyActs.None, [line], []);
        Assert.Contains(AccountingEntry.Of(overview.Result, [], money).Sums, s => s is { Account: "Assets:Savings", Amount.Minor: 5_00 });
    }

    [Fact]
    public void One_number_alone_reads_as_before() =>
        Assert.Equal("4471", Assert.Single(Read([],
            setup: MadeUp.Setup.Replace("\"policy\":{", "\"bankAccount\":\"4471\",\"policy\":{",
                StringComparison.Ordinal)).Day!.Setup.BankAccounts).Number);

    [Fact]
    public void A_statement_of_another_account_names_those_of_the_store()
    {
        Assert.Null(Statement("1", 20, 20, 0).Objection(["4471", "9902"], Currency.Of("USD")));
        Assert.Contains("the store’s accounts are 4471 and 9902",
            (Statement("1", 20, 20, 0) with { Account = "1" }).Objection(["4471", "9902"], Currency.Of("USD"))
                ?.Says(Currency.Of("USD")), StringComparison.Ordinal);
    }
}
