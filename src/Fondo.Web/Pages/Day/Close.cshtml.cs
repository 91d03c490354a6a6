using Fondo.Core.Amounts;
using Fondo.Core.Books;
using Fondo.Core.Closing;
using Fondo.Core.SetUp;
using Fondo.Store.Days;
using Fondo.Store.Model;
using Fondo.Store.People;
using Fondo.Web.Closing;
using Fondo.Web.Hosting;
using Fondo.Web.Text;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;


namespace Fondo.Web.Pages.Day;

/// <summary>The gates, each naming what is left; registers signed off one by one; the close, and opening again what was closed.</summary>
[Authorize(Policies.Read)]
public sealed class CloseModel(DayStore days, ClosingDesk desk, CloseOffice office, PinSignIn pins, PeopleRegister people) : DayPage(days)
{
    /// <summary>How far one register is.</summary>
    public sealed record RegisterLine(Register Register, IReadOnlyList<GateItem> Left, SignOff? Signed, bool HasChanged);

    protected override string Place => "close";

    public string? Objection { get; private set; }

    public string? ReopenObjection { get; private set; }

    public string? ReopenReason { get; private set; }

    public bool MaySupervise => MySelf.May(Right.Supervise);

    public IReadOnlyList<Person> Managers { get; private set; } = [];

    public IReadOnlyList<(FrozenClose Close, ReopeningRow? Reopened)> Revisions { get; private set; } = [];

    public IEnumerable<RegisterLine> Registers => Setup.Registers.Where(r => View.Bridges.Keys.Any(k => k.Register == r.Id)).Select(r =>
        View.SignedOff(r.Id) is var signed && signed is null
            ? new RegisterLine(r, [.. View.LeftOf(r.Id)], null, false)
            : new RegisterLine(r, [.. View.LeftOf(r.Id)], signed, View.HasChangedSince(signed!)));

    /// <summary>More notes of one kind are gathered in a sentence.</summary>
    private const int MostNotes = 3;

    /// <summary>What the day did to what customers owe and are owed, as far as it is worth a look.</summary>
    public IEnumerable<(string Says, bool IsWarning)> CustomerNotes
    {
        get
        {
            var customers = View.Customers;
            foreach (var kind in customers.PastNothing.GroupBy(p => customers.Accounts.First(a => a.Account == p.Key.Account).Kind))
            {
                var done = kind.Key == CustomerItemKind.Invoice ? "paid beyond what is owed" : "used beyond the balance";
                if (kind.Count() > MostNotes)
                {
                    var number = Say.Capital(CustomerWords.Number(kind.Count(), kind.Key));
                    yield return ($"{number} were {done}, by {Amount(kind.Sum(p => p.By))} in all.", true);
                    continue;
                }

                foreach (var (key, by) in kind)
                {
                    yield return ($"{Say.Capital(CustomerWords.One(kind.Key))} {key.Reference} was {done}, by {Amount(by)}.", true);
                }
            }

            if (customers.PaidOnAccount.ToList() is { Count: > 0 } paid)
            {
                yield return ($"{Say.Capital(Say.Count(paid.Count, "payment"))} on account, {Amount(-paid.Sum(p => p.Amount))} in all.",
                    false);
            }
        }
    }

    public Task OnGet() => Load();

    [Does(ActKind.Excuse)]
    public async Task<IActionResult> OnPostExcuse(GateId gate, string item, string? reason)
    {
        var outcome = await desk.Excuse(Date, gate, item, reason ?? "", MySelf);
        Failed = outcome.Objection is { } why ? TypedReason.Of($"{gate}/{item}", reason, why) : null;
        return await Answer(outcome, $"/{Setup.TradingDay}/close");
    }

    /// <param name="register">One register; null: all of which nothing is left.</param>
    [Does(ActKind.SignOff)]
    public async Task<IActionResult> OnPostSignOff(string? register)
    {
        var outcome = Store.Outcome.Done;
        foreach (var line in Registers.Where(r => register is null
            ? r.Left.Count == 0 && (r.Signed is null || r.HasChanged)
            : r.Register.Id.Value == register).ToList())
        {
            outcome = await desk.SignOff(Date, line.Register.Id, MySelf);
            if (!outcome.IsDone)
            {
                break;
            }
        }

        return await Answer(outcome, $"/{Setup.TradingDay}/close");
    }

    [Does(ActKind.Close)]
    public async Task<IActionResult> OnPostClose()
    {
        var outcome = await desk.Close(Date, MySelf);
        if (outcome.IsDone)
        {
            await Reload();
            Notice = View.Close is { } close ? await office.Send(close) : null;
        }

        return await Answer(outcome, $"/{Setup.TradingDay}/close/document");
    }

    /// <summary>A manager opens the day again, with their own PIN wherever they are.</summary>
    [Does(ActKind.Reopen)]
    public async Task<IActionResult> OnPostReopen(string? manager, string? pin, string? reason)
    {
        // Whoever may not use this form is not told anything by it.
        var (person, objection) = await pins.ProveSecond(manager, pin, MySelf.Id);
        ReopenObjection = objection ?? (await desk.Reopen(Date, reason, person!.ToPerson())).Objection;
        if (ReopenObjection is null)
        {
            Notice = "The day is open again. The earlier close stays readable, and the next close becomes revision 2 or higher.";
            return Redirect($"/{Setup.TradingDay}/close");
        }

        ReopenReason = Fondo.Files.Text.CardNumbers.Contains(reason) ? "" : reason;
        await Reload();
        await Load();
        return Page();
    }

    /// <summary>Where the thing that is left can be done.</summary>
    public string? HrefOf(Gate gate, GateItem item) => gate.Id switch
    {
        GateId.Counts => $"/{Setup.TradingDay}/count/{item.Key}",
        GateId.Cells => View.Bridges.Keys.Where(k => k.ToString() == item.Key).Select(k => CellModel.Href(Setup.TradingDay, k))
            .FirstOrDefault(),
        GateId.Approvals => $"/{Setup.TradingDay}/approvals",
        GateId.Checks => $"/{Setup.TradingDay}/checks",
        GateId.Batches => $"/{Setup.TradingDay}/settle",
        GateId.Holds or GateId.Carried => $"/{Setup.TradingDay}/carried",
        GateId.DayBefore => $"/{item.Key}/close",
        GateId.Safe => $"/{Setup.TradingDay}/count/safe:",
        _ => null,
    };

    private async Task<IActionResult> Answer(Store.Outcome outcome, string then)
    {
        if (outcome.IsDone)
        {
            return Redirect(then);
        }

        Objection = outcome.Objection;
        await Reload();
        await Load();
        return Page();
    }

    private async Task Load()
    {
        Revisions = await Days.Revisions(Date);
        Managers = View.IsClosed && MaySupervise ? [.. (await people.All()).Where(p => p.May(Right.Manage))] : [];
    }
}
