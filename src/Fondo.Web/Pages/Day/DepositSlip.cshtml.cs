using System.Text;
using Fondo.Core.Custody;
using Fondo.Core.SetUp;
using Fondo.Files.Writing;
using Fondo.Store.Days;
using Fondo.Store.Treasury;
using Fondo.Web.Hosting;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace Fondo.Web.Pages.Day;

/// <summary>The slip of a sealed deposit, to be printed; and to whom it went.</summary>
[Authorize(Policies.Read)]
public sealed class DepositSlipModel(DayStore days, MoneyBook book, DepositDesk desk) : DayPage(days)
{
    protected override string Place => "safe";

    public Deposit Deposit { get; private set; } = null!;

    public string? Objection { get; private set; }

    public (string? To, string? Seal) Typed { get; private set; }

    public async Task<IActionResult> OnGet(int number) => await Load(number) ? Page() : NotFound();

    public async Task<IActionResult> OnGetFile(int number) =>
        await Load(number) ? File(Encoding.UTF8.GetBytes(DepositCsv.Of(Deposit, Setup)), "text/csv", $"deposit-{number}.csv") : NotFound();

    [Does(ActKind.HandOverDeposit)]
    public async Task<IActionResult> OnPost(int number, string? to, string? seal)
    {
        Objection = (await desk.HandOver(number, to, seal, MySelf)).Objection;
        if (Objection is null)
        {
            return Redirect($"/{Setup.TradingDay}/deposit/{number}");
        }

        Typed = (PiecesSheet.Short(to), PiecesSheet.Short(seal));
        return await Load(number) ? Page() : NotFound();
    }

    private async Task<bool> Load(int number)
    {
        if (await book.Deposit(number) is not { } found)
        {
            return false;
        }

        Deposit = found;
        return true;
    }
}
