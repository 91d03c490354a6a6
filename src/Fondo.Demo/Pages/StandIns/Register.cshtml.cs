using System.Globalization;
using Fondo.Core.SetUp;
using Fondo.Files.Text;
using Fondo.Standins.Registers;
using Fondo.Store.Days;
using Fondo.Store.SetUp;
using Fondo.Web.Hosting;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.Filters;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Fondo.Demo.Pages.StandIns;

/// <summary>The page of the stand-in registers; only the demo has it.</summary>
public sealed class RegisterModel(StandInHost host, SetupBook book, DayStore days) : PageModel
{
    private const int MostTickets = 5_000, MostFaults = 40;

    public StandInRegister? Till { get; private set; }

    public IReadOnlyList<Register> Registers { get; private set; } = [];

    /// <summary>The latest past day of which nothing is known yet: one to be played.</summary>
    public DateOnly FreeDay { get; private set; }

    public PlayedDay? Played => host.Played;

    [TempData]
    public string? Says { get; set; }

    public override async Task OnPageHandlerExecutionAsync(PageHandlerExecutingContext context, PageHandlerExecutionDelegate next)
    {
        if (!host.IsThere || await book.Now() is not { Setup: var setup })
        {
            context.Result = NotFound();
            return;
        }

        Registers = [.. setup.Registers.Where(r => r.Kind != RegisterKind.Online)];
        var known = (await days.List()).Select(d => d.Date).ToHashSet();
        FreeDay = setup.TradingDay.Date;
        do
        {
            FreeDay = FreeDay.AddDays(-1);
        }
        while (known.Contains(FreeDay));

        if (RouteData.Values["id"]?.ToString() is { } id && (Till = await host.Register(id)) is null)
        {
            context.Result = NotFound();
            return;
        }

        await next();
    }

    public void OnGet()
    {
    }

    [Does(ActKind.PlayStandIn)]
    public async Task<IActionResult> OnPostPlay(int seed, DateOnly date, int tickets, int faults, double speed)
    {
        if (tickets is < 100 or > MostTickets || faults is < 0 or > MostFaults || speed is not (>= 1 and <= 1_000_000))
        {
            Says = $"Tickets from 100 to {MostTickets}, troubles up to {MostFaults}, a speed from 1 on.";
        }
        else
        {
            await host.Play(seed, date, tickets, faults, speed);
        }

        return Back();
    }

    [Does(ActKind.PlayStandIn)]
    public Task<IActionResult> OnPostOpen(string? amount) => With(amount, cents => Till!.Open(cents));

    [Does(ActKind.PlayStandIn)]
    public async Task<IActionResult> OnPostClose()
    {
        await Till!.Close();
        host.Forget(Till.Id);
        return Back();
    }

    [Does(ActKind.PlayStandIn)]
    public IActionResult OnPostRing(string? sku, string? quantity)
    {
        Till!.Ring(sku, decimal.TryParse(quantity, NumberStyles.AllowDecimalPoint, CultureInfo.InvariantCulture, out var number)
            ? number
            : 0);
        return Back();
    }

    [Does(ActKind.PlayStandIn)]
    public Task<IActionResult> OnPostAccount(string account, string? amount) => With(amount, cents =>
    {
        Till!.RingAccount(account, cents);
        return Task.CompletedTask;
    });

    [Does(ActKind.PlayStandIn)]
    public IActionResult OnPostRemove(int place)
    {
        Till!.Basket.Remove(place);
        return Back();
    }

    [Does(ActKind.PlayStandIn)]
    public Task<IActionResult> OnPostTicket(string? discount, bool exempt, string? note) => With(discount, cents =>
    {
        var basket = Till!.Basket;
        if (CardNumbers.Contains(note) || cents > basket.Subtotal)
        {
            Says = cents > basket.Subtotal ? "A discount is not more than the goods." : "A note holds no card number.";
            return Task.CompletedTask;
        }

        (basket.Discount, basket.IsExempt, basket.Note) = (cents, exempt, note);
        return Task.CompletedTask;
    });

    [Does(ActKind.PlayStandIn)]
    public IActionResult OnPostRefund(string? ticket)
    {
        Till!.Refund(ticket);
        return Back();
    }

    [Does(ActKind.PlayStandIn)]
    public async Task<IActionResult> OnPostVoid(string? ticket)
    {
        await Till!.Void(ticket ?? "");
        return Back();
    }

    [Does(ActKind.PlayStandIn)]
    public async Task<IActionResult> OnPostHold()
    {
        await Till!.Hold();
        return Back();
    }

    [Does(ActKind.PlayStandIn)]
    public async Task<IActionResult> OnPostRecall(string hold)
    {
        await Till!.Recall(hold);
        return Back();
    }

    [Does(ActKind.PlayStandIn)]
    public IActionResult OnPostAbandon()
    {
        Till!.Abandon();
        return Back();
    }

    [Does(ActKind.PlayStandIn)]
    public async Task<IActionResult> OnPostNoSale()
    {
        await Till!.NoSale();
        return Back();
    }

    [Does(ActKind.PlayStandIn)]
    public async Task<IActionResult> OnPostCable()
    {
        Till!.Line.IsDown = !Till.Line.IsDown;
        await Till.Line.Flush();
        return Back();
    }

    [Does(ActKind.PlayStandIn)]
    public Task<IActionResult> OnPostCash(string? amount) => With(amount, cents => Till!.PayCash(cents));

    [Does(ActKind.PlayStandIn)]
    public async Task<IActionResult> OnPostCard(string type, string brand, string card, string? amount, string? tip, string? cashback,
        bool again)
    {
        if (Cents(amount) is not { } due || Cents(tip) is not { } extra || Cents(cashback) is not { } cash || card is not { Length: 4 }
            || !card.All(char.IsAsciiDigit))
        {
            Says = "Type amounts like 12.93, and the last four digits of the card.";
            return Back();
        }

        await Till!.PayCard(type, brand, card, due, extra, cash, again);
        return Back();
    }

    [Does(ActKind.PlayStandIn)]
    public IActionResult OnPostReverse()
    {
        Till!.ReverseCards();
        return Back();
    }

    [Does(ActKind.PlayStandIn)]
    public Task<IActionResult> OnPostPaper(string type, string? amount, string? number, string? holder) =>
        With(amount, cents => Till!.PayPaper(type, cents, number, holder));

    [Does(ActKind.PlayStandIn)]
    public IActionResult OnPostMood(CardMood mood, string? rate)
    {
        Till!.Reader.Mood = mood;
        Till.CardRate = decimal.TryParse(rate, NumberStyles.AllowDecimalPoint, CultureInfo.InvariantCulture, out var percent)
            && percent < 100 ? percent / 100 : 0;
        return Back();
    }

    [Does(ActKind.PlayStandIn)]
    public Task<IActionResult> OnPostDrawer(string kind, string? amount, string? says) =>
        With(amount, cents => kind == "drop"
            ? Till!.Drop(cents, string.IsNullOrWhiteSpace(says) ? "B-900" : says.Trim())
            : Till!.Move(kind, cents, says?.Trim() ?? ""));

    /// <summary>A mood of the reader, in words.</summary>
    internal static string Said(CardMood mood) => mood switch
    {
        CardMood.Approves => "approves",
        CardMood.Declines => "declines",
        CardMood.Waits => "waits, then approves",
        CardMood.TimesOut => "times out",
        _ => "is aborted by the customer",
    };

    private async Task<IActionResult> With(string? amount, Func<long, Task> work)
    {
        if (Cents(amount) is { } cents)
        {
            await work(cents);
        }
        else
        {
            Says = "Type an amount like 12.93.";
        }

        return Back();
    }

    private static long? Cents(string? amount) =>
        decimal.TryParse(amount, NumberStyles.AllowDecimalPoint, CultureInfo.InvariantCulture, out var value)
            && value is >= 0 and < 1_000_000 && decimal.Round(value, 2) == value ? (long)(value * 100) : null;

    private RedirectResult Back() => Redirect(Till is null ? "/stand-ins/register" : $"/stand-ins/register/{Till.Id}");
}
