using System.Globalization;
using Fondo.Core.SetUp;

namespace Fondo.Wording;

/// <summary>What a change of the set-up loosens, as a sentence's part.</summary>
public static class LooseningText
{
    public static string Says(this Loosening loosening, Currency currency) => loosening switch
    {
        Loosening.OtherCurrency l => $"the currency from {l.Was.Code} to {l.Becomes.Code}",
        Loosening.HigherTolerance l =>
            $"the tolerance of {l.Tender.Name.ToLowerInvariant()} from {currency.Say(l.Was)} to {currency.Say(l.Becomes)}",
        Loosening.HigherLimit l => $"approval above {currency.Say(l.Was)} becomes approval above {currency.Say(l.Becomes)}",
        Loosening.OtherProof l =>
            $"{l.Tender.Name.ToLowerInvariant()} is proved by {Of(l.Tender.Proof)} instead of {Of(l.Was)}",
        Loosening.OtherProgramme l => $"the price programme from {Of(l.Was)} to {Of(l.Becomes)}",
        Loosening.CountedAlone l => $"a {l.Count.Written()} count no longer needs a second person",
        Loosening.CashiersSeeResults => "cashiers see over and short of their own drawer",
        Loosening.SettledLater l => $"terminals are to be settled by {(l.Becomes is { } at ? Of(at) : "no hour")} instead of {Of(l.Was)}",
        Loosening.OpensMore l => $"{l.Person.Name} opens {string.Join(", ", l.Registers.Select(r => r.Name))} besides",
        _ => throw new ArgumentOutOfRangeException(nameof(loosening)),
    };

    private static string Of(TimeOnly at) => at.ToString("HH:mm", CultureInfo.InvariantCulture);

    private static string Of(ProofKind kind) => kind switch
    {
        ProofKind.Count => "a count",
        ProofKind.Batch => "a settled batch",
        _ => "the store's own books",
    };

    private static string Of(PriceProgramme programme) => programme.Kind switch
    {
        PriceProgrammeKind.None => "none",
        PriceProgrammeKind.CashDiscount => $"a cash discount of {Percent(programme.Rate)}",
        _ => $"a surcharge of {Percent(programme.Rate)} on "
            + string.Join(", ", programme.Tenders.Select(t => t.Value).Order(StringComparer.Ordinal)),
    };

    private static string Percent(decimal rate) => string.Create(CultureInfo.InvariantCulture, $"{rate * 100:0.###} %");
}
