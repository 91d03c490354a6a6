namespace Fondo.Core.SetUp;

/// <summary>Where in the store's books something is posted that is not a tender: what a line of a ticket sells, taxes, fees,
/// differences.</summary>
/// <param name="Id">An account of a ticket line as the journal names it, or one of the further uses below.</param>
/// <param name="Account">As the books name it.</param>
public sealed record AccountUse(string Id, string Name, string Account)
{
    public static readonly ImmutableArray<AccountUse> Standard =
    [
        new("goods", "Goods", "Income:Sales"),
        new("service", "Services", "Income:Services"),
        new("donation", "Donations", "Liabilities:Donations"),
        new("container-deposit", "Container deposits", "Liabilities:Container deposits"),
        new("gift-card-load", "Gift cards sold", "Liabilities:Gift cards"),
        new("account-payment", "Payments on account", "Assets:Customer accounts"),
        new("layaway", "Layaway", "Liabilities:Customer deposits"),
        new("discount", "Discounts", "Income:Discounts"),
        new("rounding", "Cash rounding", "Expenses:Cash rounding"),
        new("tax", "Tax", "Liabilities:Sales tax"),
        new("fee", "Card fees", "Income:Card fees"),
        new("tip", "Tips", "Liabilities:Tips"),
        new("over-short", "Over and short", "Expenses:Over and short"),
        new("cost", "Cost of goods", "Expenses:Cost of goods"),
        new("inventory", "Inventory", "Assets:Inventory"),
        new("carried", "Carried items", "Assets:Carried items"),
        new("claim-owed", "Claims owed to the store", "Assets:Claims"),
        new("claim-owing", "Claims the store owes", "Liabilities:Claims"),
        new("bank", "The bank", "Assets:Bank"),
        new("deposit", "Deposits on the way", "Assets:Deposits on the way"),
        new("change", "Change on the way", "Assets:Change on the way"),
        new("card-cost", "What processors keep", "Expenses:Card costs"),
        new("card-cost-owed", "Fees the processors will bill", "Liabilities:Card costs owed"),
        new("bank-cost", "Bank charges", "Expenses:Bank charges"),
        new("opening", "Opening balances", "Equity:Opening balances"),
        new("paid-in", "Paid in", "Income:Other"),
        new("paid-out", "Paid out", "Expenses:Petty cash"),
    ];
}
