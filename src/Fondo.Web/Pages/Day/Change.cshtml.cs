using System.Collections.Immutable;
using Fondo.Core.Cash;
using Fondo.Core.Custody;
using Fondo.Core.SetUp;
using Fondo.Store;
using Fondo.Store.Days;
using Fondo.Store.People;
using Fondo.Store.Treasury;
using Fondo.Web.Hosting;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace Fondo.Web.Pages.Day;

/// <summary>Change from the bank: what is ordered, what was paid for it, what came, piece by piece.</summary>
[Authorize(Policies.Supervise)]
public sealed class ChangeModel(DayStore days, SafeDesk desk, PinSignIn pins, PeopleRegister people) : DayPage(days)
{
    protected override string Place => "safe";

    public ImmutableArray<OpenOrder> Orders => View.Money.Orders;

    public IReadOnlyDictionary<long, string> Typed { get; private set; } = new Dictionary<long, string>();

    public IReadOnlyList<Objection> Objections { get; private set; } = [];

    /// <summary>What is wrong with a step of an order.</summary>
    public (int Order, string Sentence)? Refused { get; private set; }

    public IReadOnlyList<Person> Others { get; private set; } = [];

    public Guid Form { get; private set; } = Guid.NewGuid();

    public string StateOf(OpenOrder order) => order switch
    {
        { Paid.IsZero: true, Delivered.IsZero: true } => "ordered, not paid",
        { Delivered.IsZero: true } => $"paid {Amount(order.Paid)}, not delivered",
        _ => $"paid {Amount(order.Paid)}, delivered {Amount(order.Delivered)}",
    };

    public Task OnGet()
    {
        var drawers = Floats.LastCounted(View).Count;
        Typed = ChangeOrder.Of(Floats.Pool(View), drawers * FloatsModel.DaysAhead, Setup.Denominations)
            .ToDictionary(l => l.Denomination.Minor, l => $"{l.Packs}*");
        return LoadPeople();
    }

    [Does(ActKind.OrderChange)]
    public async Task<IActionResult> OnPostOrder(Guid form)
    {
        Typed = PiecesSheet.Read(Request.Form);
        Objections = (await desk.Order(Date, form, Typed, MySelf)).Objections;
        if (Objections.Count == 0)
        {
            Notice = "The change is ordered.";
            return Redirect($"/{Setup.TradingDay}/change");
        }

        Form = form;
        await LoadPeople();
        return Page();
    }

    /// <summary>Pays for an order out of the safe, takes its delivery in, or closes it.</summary>
    [Does(ActKind.MoveChange)]
    public async Task<IActionResult> OnPostStep(Guid form, int order, SafeMovementKind kind, string? amount, string? reason,
        string? witness)
    {
        var (second, objection) = await pins.ProveChosen(witness, Request.Form["witness-pin"], MySelf.Id);
        var outcome = objection is not null ? Store.Outcome.Refused(objection)
            : kind is not (SafeMovementKind.ChangeGiven or SafeMovementKind.ChangeBought
                or SafeMovementKind.OrderClosed) ? Store.Outcome.Refused("Choose what happened to the order.")
            : await desk.Move(Date, new(form, kind, amount, reason)
            {
                Order = order,
                Pieces = kind == SafeMovementKind.ChangeBought ? PiecesSheet.Read(Request.Form) : new Dictionary<long, string>()
            }, MySelf, second?.ToPerson());
        if (outcome.IsDone)
        {
            Notice = kind switch
            {
                SafeMovementKind.ChangeGiven => "The payment is recorded.",
                SafeMovementKind.ChangeBought => "The delivery is recorded.",
                _ => "The order is closed.",
            };
            return Redirect($"/{Setup.TradingDay}/change");
        }

        Refused = (order, outcome.Objection!);
        await Reload();
        await LoadPeople();
        return Page();
    }

    private async Task LoadPeople() =>
        Others = [.. (await people.All()).Where(p => p.Id != MySelf.Id && p.May(Right.Count)).OrderBy(p => p.May(Right.Supervise) ? 0 : 1)];
}
