using Fondo.Core.Cells;
using Fondo.Core.Custody;
using Fondo.Core.Days;
using Fondo.Core.Entries;
using Fondo.Core.SetUp;
using Fondo.Core.Sheets;
using Fondo.Store.Days;
using Fondo.Store.People;
using Fondo.Store.Treasury;
using Fondo.Web.Hosting;
using Fondo.Web.Text;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace Fondo.Web.Pages.Day;

/// <summary>The safe through the day: what came, what went, what lies there; its bags, and the deposits that wait in it.</summary>
[Authorize(Policies.Read)]
public sealed class SafeModel(DayStore days, SafeDesk desk, DepositDesk deposits, PinSignIn pins, PeopleRegister people) : DayPage(days)
{
    protected override string Place => "safe";

    public CustodyDay Custody => View.Money.Custody;

    public bool MayMove => !View.IsClosed && MySelf.May(Right.Supervise);

    public string? Objection { get; private set; }

    /// <summary>What was typed and not taken.</summary>
    public (string? Amount, string? Reason) Typed { get; private set; }

    public Guid Form { get; private set; } = Guid.NewGuid();

    public Bridge? Cell => View.Bridges.GetValueOrDefault(new CellKey.Safe());

    public IReadOnlyList<Bag> Bags => Bag.In(View.Day);

    /// <summary>Nothing is to be done about it.</summary>
    public bool IsQuiet(Bag bag) => !bag.Counts.IsEmpty && !bag.Drops.IsEmpty && !bag.IsOff
        && View.Bridges.GetValueOrDefault(new CellKey.Bag(bag.Name)) is not { IsUnresolved: true };

    /// <summary>Deposits that are sealed and not credited yet.</summary>
    public IEnumerable<Core.Banking.OpenDeposit> Deposits => View.Money.Bank.End.Deposits;

    public string Headline => Cell switch
    {
        null => Custody.Count is { } first
            ? $"The safe holds {Amount(first.Cash)} by its first count."
            : "The safe has not been counted yet.",
        { Cell.Proof: null } waiting => $"{Amount(waiting.Cell.Expected)} should be loose in the safe. It is not counted today.",
        { IsUnresolved: true, Left: { } left } => $"The safe is {Say.Variance(left, Setup.Currency)}.",
        _ when Custody.Lines.Any(Custody.IsAfterCount) =>
            $"The safe was right at {Say.Time(Custody.Count!.At, Setup)}. It should hold {Amount(Custody.End.Loose)} now.",
        var cell =>
            $"The safe holds {Amount(Custody.End.Loose)} and is right{(cell.Cell.State == CellState.Off ? " by what entries say" : "")}.",
    };

    /// <summary>Why nothing is known of what should be there; null where it is.</summary>
    public string? WhyNot => Cell is not null || Custody.Count is not null ? null
        : "Count the safe, or enter its opening amount here. From then on Fondo knows what it should hold.";

    public IEnumerable<string> PeopleOf(Bag bag) => bag.Counts.SelectMany(c => new[] { c.By, c.Witness }).OfType<Core.Journal.PersonId>()
        .Distinct().Select(p => Say.Person(p, Setup));

    public string StateOf(Bag bag) => bag switch
    {
        { Counts.IsEmpty: true } => "not opened",
        { Drops.IsEmpty: true } when View.Bridges[new CellKey.Bag(bag.Name)] is { IsUnresolved: false } => "not recorded; explained",
        { Drops.IsEmpty: true } => "not recorded",
        _ when View.Bridges.GetValueOrDefault(new CellKey.Bag(bag.Name)) is { IsUnresolved: true, Left: { } left } =>
            Say.Variance(left, Setup.Currency),
        { IsOff: true } => "off, and explained",
        _ => "as recorded",
    };

    /// <summary>What a person may enter here, with the words of the form.</summary>
    public IEnumerable<(SafeMovementKind Kind, string Name)> Kinds
    {
        get
        {
            if (Custody.Start.Loose is null && Custody.Count is null
                && View.Money.Acts.Movements.All(m => m.Kind != SafeMovementKind.Opening))
            {
                yield return (SafeMovementKind.Opening, "opening amount of the safe, before any float");
            }

            yield return (SafeMovementKind.FloatIssued, "float into a drawer");
            yield return (SafeMovementKind.PettyCash, "petty cash");
        }
    }

    public IReadOnlyList<Person> Others { get; private set; } = [];

    public Task OnGet() => LoadPeople();

    [Does(ActKind.MoveSafeMoney)]
    public async Task<IActionResult> OnPostMove(Guid form, SafeMovementKind kind, string? amount, string? reason, string? register,
        string? witness)
    {
        var (second, objection) = await pins.ProveChosen(witness, Request.Form["witness-pin"], MySelf.Id);
        var outcome = objection is not null ? Store.Outcome.Refused(objection)
            : await desk.Move(Date, new(form, kind, amount, reason) { Register = string.IsNullOrEmpty(register) ? null : new(register) },
                MySelf, second?.ToPerson());
        return await Answer(outcome, amount, reason);
    }

    [Does(ActKind.OpenDeposit)]
    public async Task<IActionResult> OnPostUnseal(int number, string? reason, string? witness)
    {
        var (second, objection) = await pins.ProveChosen(witness, Request.Form["witness-pin"], MySelf.Id);
        return await Answer(objection is not null
            ? Store.Outcome.Refused(objection)
            : await deposits.Unseal(Date, number, reason, MySelf, second?.ToPerson()), null, reason);
    }

    private async Task LoadPeople() =>
        Others = [.. (await people.All()).Where(p => p.Id != MySelf.Id && p.May(Right.Count)).OrderBy(p => p.May(Right.Supervise) ? 0 : 1)];

    private async Task<IActionResult> Answer(Store.Outcome outcome, string? amount, string? reason)
    {
        if (outcome.IsDone)
        {
            return Redirect($"/{Setup.TradingDay}/safe");
        }

        await Reload();
        await LoadPeople();
        (Objection, Typed) = (outcome.Objection, (PiecesSheet.Short(amount), Files.Text.CardNumbers.Contains(reason) ? "" : reason));
        return Page();
    }
}
