using Fondo.Core.Proof;

namespace Fondo.Core.SetUp;

/// <summary>A control that a change of the set-up loosens: by it a shop notices that something is off (rules §11).</summary>
public abstract record Loosening
{
    private Loosening()
    {
    }

    public sealed record OtherCurrency(Currency Was, Currency Becomes) : Loosening;

    public sealed record HigherTolerance(TenderKind Tender, Money Was, Money Becomes) : Loosening;

    public sealed record HigherLimit(Money Was, Money Becomes) : Loosening;

    public sealed record OtherProof(TenderKind Tender, ProofKind Was) : Loosening;

    public sealed record OtherProgramme(PriceProgramme Was, PriceProgramme Becomes) : Loosening;

    public sealed record CountedAlone(CountKind Count) : Loosening;

    public sealed record CashiersSeeResults : Loosening;

    /// <param name="Becomes">Null: at no hour any more.</param>
    public sealed record SettledLater(TimeOnly Was, TimeOnly? Becomes) : Loosening;

    public sealed record OpensMore(Person Person, ImmutableArray<Register> Registers) : Loosening;

    /// <summary>Each control that is loosened, in the order tolerances, limits, proofs, price programme, counts, settling, people; empty
    /// where none is.</summary>
    /// <param name="before">What would hold without the change.</param>
    public static ImmutableArray<Loosening> Of(Setup before, Setup after)
    {
        var (was, becomes) = (before.Policy, after.Policy);
        return
        [
            .. before.Currency.Code != after.Currency.Code ? [new OtherCurrency(before.Currency, after.Currency)] : None,
            .. after.Tenders.Where(t => after.ToleranceOf(t.Id) > before.ToleranceOf(t.Id))
                .Select(t => new HigherTolerance(t, before.ToleranceOf(t.Id), after.ToleranceOf(t.Id))),
            .. becomes.ApprovalAbove > was.ApprovalAbove ? [new HigherLimit(was.ApprovalAbove, becomes.ApprovalAbove)] : None,
            .. after.Tenders.Select(t => (Tender: t, Was: before.Find(t.Id))).Where(t => t.Was is { } kind && kind.Proof != t.Tender.Proof)
                .Select(t => new OtherProof(t.Tender, t.Was!.Proof)),
            .. IsSame(was.PriceProgramme, becomes.PriceProgramme) ? None : [new OtherProgramme(was.PriceProgramme, becomes.PriceProgramme)],
            .. was.Witnessed.Except(becomes.Witnessed).Select(k => new CountedAlone(k)),
            .. becomes.ShowsOwnResult && !was.ShowsOwnResult ? [new CashiersSeeResults()] : None,
            .. was.SettledBy is { } by && (becomes.SettledBy is not { } at || LaterBy(before, at) > LaterBy(before, by))
                ? [new SettledLater(by, becomes.SettledBy)]
                : None,
            .. after.People.Select(p => new OpensMore(p, [.. MoreRegisters(before, after, p)])).Where(o => !o.Registers.IsEmpty),
        ];
    }

    private static ImmutableArray<Loosening> None => [];

    private static IEnumerable<Register> MoreRegisters(Setup before, Setup after, Person person) =>
        after.Registers.Where(r => person.MayOpen(r.Id) && before.Find(person.Id)?.MayOpen(r.Id) != true && before.Find(r.Id) is not null);

    /// <summary>How long after the end of the trading day before: an hour after midnight is later than one in the evening.</summary>
    private static TimeSpan LaterBy(Setup setup, TimeOnly at) => at - setup.DayEndsAt;

    private static bool IsSame(PriceProgramme one, PriceProgramme other) => one.Kind == other.Kind && (one.Kind == PriceProgrammeKind.None
        || (one.Rate == other.Rate && (one.Kind == PriceProgrammeKind.CashDiscount || one.Tenders.ToHashSet().SetEquals(other.Tenders))));
}
