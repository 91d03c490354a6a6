using Fondo.Core.Amounts;
using Fondo.Core.Journal;
using Fondo.Core.SetUp;

namespace Fondo.Core.Tests;

/// <summary>What a change of the set-up loosens (rules §11): tolerances, the approval limit, proofs, the price programme, who opens
/// what.</summary>
public sealed class Loosenings
{
    private static readonly Setup _before = new(
        "Mossgate Market Hall", new(new(2026, 11, 21)), Currency.Of("USD")!, TimeZoneInfo.Utc, new(4, 0),
        [new(new("L1"), "Lane 1", RegisterKind.Lane, new(200_00)), new(new("L2"), "Lane 2", RegisterKind.Lane, new(200_00))], [],
        [new(new("p07"), "Ansel Ruiz", Role.Cashier) { Registers = [new("L1")] }, new(new("p08"), "Bryn Halloran", Role.Cashier)],
        TenderKind.Standard,
        Policy.Default with
        {
            CashTolerance = new(2_00),
            ApprovalAbove = new(20_00),
            PriceProgramme = new(PriceProgrammeKind.Surcharge, 0.03m, [TenderId.Credit])
        });

    private static Setup Tender(TenderId id, Func<TenderKind, TenderKind> change) =>
        _before with { Tenders = [.. _before.Tenders.Select(t => t.Id == id ? change(t) : t)] };

    private static Setup People(params Person[] people) => _before with { People = [.. people] };

    public static TheoryData<string, string, Setup> Looser => new()
    {
        { "a higher tolerance", "the tolerance of cash from 2.00 to 500.00",
            _before with { Policy = _before.Policy with { CashTolerance = new(500_00) } } },
        { "a tolerance where there was none", "the tolerance of checks from 0.00 to 0.01",
            Tender(TenderId.Check, t => t with { Tolerance = new(1) }) },
        { "a tender's own tolerance above the policy's", "the tolerance of cash from 2.00 to 2.01",
            Tender(TenderId.Cash, t => t with { Tolerance = new(2_01) }) },
        { "a higher approval limit", "approval above 20.00 becomes approval above 20.01",
            _before with { Policy = _before.Policy with { ApprovalAbove = new(20_01) } } },
        { "another proof", "credit is proved by the store's own books instead of a settled batch",
            Tender(TenderId.Credit, t => t with { Proof = ProofKind.Ledger }) },
        { "a lower rate", "the price programme from a surcharge of 3 % on credit to a surcharge of 2.5 % on credit",
            _before with { Policy = _before.Policy with { PriceProgramme = _before.Policy.PriceProgramme with { Rate = 0.025m } } } },
        { "no programme", "the price programme from a surcharge of 3 % on credit to none",
            _before with { Policy = _before.Policy with { PriceProgramme = PriceProgramme.None } } },
        { "a register more", "Ansel Ruiz opens Lane 2 besides", People(new(new("p07"), "Ansel Ruiz", Role.Cashier), _before.People[1]) },
        { "somebody new", "Odile Marchetti opens Lane 1, Lane 2 besides",
            People(_before.People[0], _before.People[1], new(new("p01"), "Odile Marchetti", Role.Supervisor)) },
    };

    [Theory]
    [MemberData(nameof(Looser))]
    public void A_control_that_is_loosened_is_named(string what, string says, Setup after)
    {
        Assert.True(Loosening.Of(_before, after) is [var only] && only.Says(_before.Currency) == says, what);
    }

    public static TheoryData<string, Setup> Tighter => new()
    {
        { "nothing", _before },
        { "a lower tolerance", _before with { Policy = _before.Policy with { CashTolerance = new(1_99) } } },
        { "a tender's own tolerance as the policy's", Tender(TenderId.Cash, t => t with { Tolerance = new(2_00) }) },
        { "a lower limit", _before with { Policy = _before.Policy with { ApprovalAbove = new(0) } } },
        { "another name", Tender(TenderId.Credit, t => t with { Name = "Cards" }) },
        { "a register less", People(_before.People[0], _before.People[1] with { Registers = [new("L2")] }) },
        { "somebody less", People(_before.People[0]) },
        { "a new register", _before with { Registers = [.. _before.Registers, new(new("L3"), "Lane 3", RegisterKind.Lane, new(200_00))] } },
    };

    [Theory]
    [MemberData(nameof(Tighter))]
    public void What_stays_or_becomes_stricter_is_not(string what, Setup after)
    {
        Assert.True(Loosening.Of(_before, after) is [], what);
    }
}
