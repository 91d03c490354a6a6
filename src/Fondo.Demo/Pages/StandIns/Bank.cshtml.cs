using Fondo.Core.Amounts;
using Fondo.Core.SetUp;
using Fondo.Standins.Bank;
using Fondo.Web.Hosting;
using Fondo.Web.Text;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Fondo.Demo.Pages.StandIns;

/// <summary>Lets the stand-in bank write its next statement, and misbehave.</summary>
[Authorize(Policies.Supervise)]
public sealed class BankModel(BankStandIn standIn) : PageModel
{
    public StandInBank Bank { get; private set; } = null!;

    public IReadOnlyList<string> Written => standIn.Written;

    [TempData]
    public string? Notice { get; set; }

    /// <summary>The next bank day after the last statement.</summary>
    public DateOnly Next => StandInBank.NextBankDay(Bank.Stated ?? DateOnly.FromDateTime(DemoStore.Evening.DateTime));

    public string Amount(long minor) => Say.Amount(new Money(minor), Currency.Of(Bank.State.Currency));

    public static string Said(BankFault fault) => fault switch
    {
        BankFault.None => "everything is normal",
        BankFault.NoteShort => "a note of 20.00 is short in the deposits",
        BankFault.InParts => "deposits are credited in two parts",
        BankFault.PaysLate => "the processors pay three days late",
        BankFault.PaysLess => "the processors pay 1.37 less",
        BankFault.TakesBack => "a processor takes a disputed charge back",
        BankFault.DoesNotAddUp => "the closing balance is wrong",
        _ => "the file is cut off",
    };

    public async Task OnGet() => Bank = await standIn.Open();

    [Does(ActKind.PlayStandIn)]
    public async Task<IActionResult> OnPost(DateOnly to, string? version, BankFault fault)
    {
        var (name, text) = await standIn.Write(to, version == "02" ? "02" : "08", fault);
        Notice = name is null ? text : $"{name} is in the watched folder.";
        return Redirect("/stand-ins/bank");
    }
}
