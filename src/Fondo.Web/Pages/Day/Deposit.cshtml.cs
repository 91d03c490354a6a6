using Fondo.Core.Amounts;
using Fondo.Core.Cash;
using Fondo.Core.Custody;
using Fondo.Core.SetUp;
using Fondo.Files.Text;
using Fondo.Store;
using Fondo.Store.Days;
using Fondo.Store.People;
using Fondo.Store.Treasury;
using Fondo.Web.Hosting;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace Fondo.Web.Pages.Day;

/// <summary>A deposit piece by piece: what stays for change is kept, the rest is proposed; checks one by one, a bag, two people.</summary>
[Authorize(Policies.Supervise)]
public sealed class DepositModel(DayStore days, DepositDesk desk, PinSignIn pins, PeopleRegister people) : DayPage(days)
{
    protected override string Place => "safe";

    public IReadOnlyDictionary<long, string> Typed { get; private set; } = new Dictionary<long, string>();

    public IReadOnlySet<string> Chosen { get; private set; } = new HashSet<string>();

    public string? Bag { get; private set; }

    public string? Second { get; private set; }

    public IReadOnlyList<Objection> Objections { get; private set; } = [];

    public IReadOnlyList<Person> Others { get; private set; } = [];

    /// <summary>Made with the page: the same form posted twice is one deposit.</summary>
    public Guid Form { get; private set; } = Guid.NewGuid();

    public CustodyStart There => View.Money.Custody.End;

    /// <summary>What stays in the safe: as the set-up says, else what it began the day with; never less than tomorrow's floats
    /// need.</summary>
    public Money Stays => View.Money.Custody.Stays(Setup);

    public async Task OnGet()
    {
        Typed = DepositProposal.Of(There.Pieces, Stays, Setup.Denominations)
            .ToDictionary(p => p.Denomination.Minor, p => p.Number.ToString(System.Globalization.CultureInfo.InvariantCulture));
        Chosen = There.Checks.Select(c => c.Key).ToHashSet();
        await LoadPeople();
    }

    [Does(ActKind.SealDeposit)]
    public async Task<IActionResult> OnPost(Guid form, string? bag, List<string> check, string? witness)
    {
        Typed = PiecesSheet.Read(Request.Form);
        Chosen = check.ToHashSet();
        var (second, objection) = await pins.ProveSecond(witness, Request.Form["witness-pin"], MySelf.Id);
        Objections = objection is not null
            ? [new("witness", objection)]
            : (await desk.Seal(Date, form, bag, Typed, check, MySelf, second!.ToPerson())).Objections;
        if (Objections.Count == 0)
        {
            await Reload();
            return Redirect($"/{Setup.TradingDay}/deposit/{View.Money.Acts.Deposits[^1].Number}");
        }

        (Form, Bag, Second) = (form, CardNumbers.Contains(bag) ? "" : bag, witness);
        await Reload();
        await LoadPeople();
        return Page();
    }

    public string? ObjectionAt(string? field) => Objections.FirstOrDefault(o => o.Field == field)?.Sentence;

    private async Task LoadPeople() =>
        Others = [.. (await people.All()).Where(p => p.Id != MySelf.Id && p.May(Right.Count)).OrderBy(p => p.May(Right.Supervise) ? 0 : 1)];
}
