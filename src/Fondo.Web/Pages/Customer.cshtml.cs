using Fondo.Core.Amounts;
using Fondo.Core.Books;
using Fondo.Core.SetUp;
using Fondo.Store.SetUp;
using Fondo.Store.Treasury;
using Fondo.Web.Hosting;
using Fondo.Web.Text;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Fondo.Web.Pages;

/// <summary>One item of a customer: the ticket that opened it, and everything that came since.</summary>
[Authorize(Policies.Read)]
public sealed class CustomerModel(CustomerList list, SetupBook setups) : PageModel
{
    /// <param name="Left">What was left behind it, on the item's own side.</param>
    public sealed record Step(DateOnly Day, string Ticket, string What, Money Amount, Money Left);

    public Setup Setup { get; private set; } = null!;

    public CustomerAccount Account { get; private set; } = null!;

    public string Reference { get; private set; } = "";

    public IReadOnlyList<Step> Steps { get; private set; } = [];

    public Money Left => Steps[^1].Left;

    private string? Warning =>
        CustomerWords.PastNothing(Account.Kind, Steps.Where(s => s.Amount.Sign > 0).Sum(s => s.Amount), Left, Setup.Currency);

    public string Headline => Warning ?? (Left.IsZero ? $"{Say.Capital(CustomerWords.One(Account.Kind))} {Reference} is settled."
        : Account.IsOwedToStore ? $"{Amount(Left)} of invoice {Reference} is still owed."
        : $"{Amount(Left)} is left of {CustomerWords.One(Account.Kind)} {Reference}.");

    public string Amount(Money amount) => Say.Amount(amount, Setup.Currency);

    public string Signed(Money amount) => Say.Signed(amount, Setup.Currency);

    public async Task<IActionResult> OnGet(string? account, string? reference)
    {
        if (string.IsNullOrEmpty(account) || string.IsNullOrEmpty(reference) || (await setups.Now())?.Setup is not { } setup
            || await list.Steps(new CustomerKey(account, reference)) is not { Count: > 0 } steps)
        {
            return NotFound();
        }

        (Setup, Reference) = (setup, reference);
        Account = CustomerAccount.Of(setup).FirstOrDefault(a => a.Account == account) ?? new(account, CustomerItemKind.StoreCredit);
        var left = Money.Zero;
        Steps = [.. steps.Select(s => (Step: s, Amount: Account.IsOwedToStore ? s.Movement.Amount : -s.Movement.Amount))
            .Select(s => new Step(s.Step.Day, s.Step.Movement.Source,
                string.Join(", ", new[] { s.Step.Movement.What, s.Step.Movement.Name }.OfType<string>()), s.Amount, left += s.Amount))];
        return Page();
    }
}
