using System.Collections.Immutable;
using System.Globalization;
using Fondo.Core.Amounts;
using Fondo.Core.Books;
using Fondo.Core.SetUp;
using Fondo.Store.SetUp;
using Fondo.Store.Treasury;
using Fondo.Web.Closing;
using Fondo.Web.Hosting;
using Fondo.Web.Text;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Fondo.Web.Pages;

/// <summary>What customers owe and are owed: each invoice, gift card, store credit and layaway with its age and what is left.</summary>
[Authorize(Policies.Read)]
public sealed class CustomersModel(CustomerList list, SetupBook setups) : PageModel
{
    /// <summary>More items than this of a kind nobody reads at once.</summary>
    public const int Most = 200;

    /// <summary>A number or a name, or a part of one.</summary>
    [BindProperty(SupportsGet = true)]
    public string? Q { get; set; }

    /// <summary>Settled items too.</summary>
    [BindProperty(SupportsGet = true)]
    public bool All { get; set; }

    /// <summary>The last day that counts; null: all of them.</summary>
    [BindProperty(SupportsGet = true)]
    public DateOnly? To { get; set; }

    /// <summary>Null where nothing is set up.</summary>
    public Setup? Setup { get; private set; }

    /// <param name="Items">Those asked for, the oldest first.</param>
    /// <param name="Balance">What stands on the account in all, on its own side.</param>
    /// <param name="Unnamed">What of it came without a number.</param>
    /// <param name="Open">How many items are open.</param>
    /// <param name="Before">Items that no ticket here opened: they are from before the first day here.</param>
    public sealed record Kind(CustomerAccount Account, IReadOnlyList<Item> Items, Money Balance, Money Unnamed, int Open,
        IReadOnlyList<Item> Before)
    {
        /// <summary>What the open items come to that a ticket here opened.</summary>
        public Money Pending { get; init; }
    }

    /// <summary>An item on its own side: what customers owe, or what the store owes, is positive.</summary>
    public sealed record Item(CustomerItem Of, Money More, Money Less, int Days, string? Warning)
    {
        public Money Left => More - Less;

        public string Href =>
            $"/customers/item?account={Uri.EscapeDataString(Of.Key.Account)}&reference={Uri.EscapeDataString(Of.Key.Reference)}";
    }

    public IReadOnlyList<Kind> Kinds { get; private set; } = [];

    /// <summary>What each kind comes to.</summary>
    public string Headline => Kinds.All(k => k.Open == 0) ? "Customers owe nothing and are owed nothing."
        : string.Join(" ", new[]
        {
            Side("Customers owe", k => k.Account.IsOwedToStore),
            Side("The store owes", k => !k.Account.IsOwedToStore)
        }.OfType<string>());

    public async Task OnGet() => await Load();

    public async Task<IActionResult> OnGetFile()
    {
        await Load();
        return Setup is null ? NotFound() : File(CloseFiles.Csv(Tables), "text/csv", $"customers-{Date(To ?? Setup.TradingDay.Date)}.csv");
    }

    public string Amount(Money amount) => Say.Amount(amount, Setup!.Currency);

    private IEnumerable<CloseTable> Tables => Kinds.Select(k => new CloseTable(
        CustomerWords.Title(k.Account.Kind), k.Account.Kind.Written(),
        [
            new("Number"),
            new("Name"),
            new("Since"),
            new("Last"),
            new("Days", true),
            new(CustomerWords.More(k.Account.Kind), true),
            new(CustomerWords.Less(k.Account.Kind), true),
            new("Left", true)
        ],
        [.. k.Items.Concat(k.Before).Select(i => (ImmutableArray<TableValue>)[i.Of.Key.Reference, i.Of.Name, Date(i.Of.Since),
            Date(i.Of.Last), i.Days, Value(i.More), Value(i.Less), Value(i.Left)])]));

    private TableValue Value(Money amount) => new(Amount(amount), (decimal)amount.Minor / Setup!.Currency.Unit);

    private static string Date(DateOnly date) => date.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture);

    private string? Side(string who, Func<Kind, bool> isOn)
    {
        var kinds = Kinds.Where(k => isOn(k) && k.Open > 0).ToList();
        return kinds.Count == 0
            ? null
            : $"{who} {Amount(kinds.Sum(k => k.Pending))} on "
                + $"{Say.List([.. kinds.Select(k => Say.Count(k.Open, CustomerWords.One(k.Account.Kind)))])}.";
    }

    private async Task Load()
    {
        Setup = (await setups.Now())?.Setup;
        if (Setup is not { } setup)
        {
            return;
        }

        var items = (await list.Items(To ?? DateOnly.MaxValue)).ToLookup(i => i.Key.Account);
        var known = CustomerAccount.Of(setup);
        // An account of an earlier set-up keeps what is left on it.
        var others = items.Select(g => g.Key).Where(a => known.All(k => k.Account != a))
            .Select(a => new CustomerAccount(a, CustomerItemKind.StoreCredit));
        Kinds = [.. known.Concat(others).Select(a => Of(a, items[a.Account], setup))];
    }

    private Kind Of(CustomerAccount account, IEnumerable<CustomerItem> all, Setup setup)
    {
        var items = all.Select(i => OnItsSide(account, i, setup)).ToList();
        var (named, unnamed) =
            (items.Where(i => i.Of.Key.Reference.Length > 0).ToList(), items.Where(i => i.Of.Key.Reference.Length == 0).Sum(i => i.Left));
        var open = named.Where(i => !i.More.IsZero && !i.Left.IsZero).ToList();
        var asked = named.Where(i => (All || !i.Left.IsZero) && IsAskedFor(i.Of)).OrderBy(i => i.Left.IsZero).ThenBy(i => i.Warning is null)
            .ThenBy(i => i.Of.Since).ThenBy(i => i.Of.Key.Reference, StringComparer.Ordinal).ToList();
        return new(account, [.. asked.Where(i => !i.More.IsZero)], items.Sum(i => i.Left), unnamed, open.Count,
            [.. asked.Where(i => i.More.IsZero)])
        { Pending = open.Sum(i => i.Left) };
    }

    private Item OnItsSide(CustomerAccount account, CustomerItem item, Setup setup)
    {
        var (more, less) = account.IsOwedToStore ? (item.Debits, item.Credits) : (item.Credits, item.Debits);
        return new(item, more, less, (To ?? setup.TradingDay.Date).DayNumber - item.Since.DayNumber,
            CustomerWords.PastNothing(account.Kind, more, more - less, setup.Currency));
    }

    private bool IsAskedFor(CustomerItem item) => string.IsNullOrWhiteSpace(Q)
        || Q.Split(' ', StringSplitOptions.RemoveEmptyEntries)
            .All(w => item.Key.Reference.Contains(w, StringComparison.OrdinalIgnoreCase)
                || item.Words.Contains(w, StringComparison.OrdinalIgnoreCase));
}
