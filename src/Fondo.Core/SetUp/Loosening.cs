namespace Fondo.Core.SetUp;

/// <summary>What a change of the set-up loosens: the controls by which a shop notices that something is off (rules §11).</summary>
public static class Loosening
{
    /// <summary>Each loosened control as a sentence's part, in the order tolerances, limits, proofs, price programme, counts, settling,
    /// people; empty where nothing is loosened.</summary>
    /// <param name="before">What would hold without the change.</param>
    public static ImmutableArray<string> Of(Setup before, Setup after)
    {
        var currency = before.Currency;
        string Text(Money amount) => currency.Say(amount);
        var said = ImmutableArray.CreateBuilder<string>();
        if (before.Currency != after.Currency)
        {
            said.Add($"the currency from {before.Currency.Code} to {after.Currency.Code}");
        }

        foreach (var tender in after.Tenders)
        {
            var (was, becomes) = (before.ToleranceOf(tender.Id), after.ToleranceOf(tender.Id));
            if (becomes > was)
            {
                said.Add($"the tolerance of {tender.Name.ToLowerInvariant()} from {Text(was)} to {Text(becomes)}");
            }
        }

        if (after.Policy.ApprovalAbove > before.Policy.ApprovalAbove)
        {
            said.Add($"approval above {Text(before.Policy.ApprovalAbove)} becomes approval above {Text(after.Policy.ApprovalAbove)}");
        }

        foreach (var tender in after.Tenders)
        {
            if (before.Find(tender.Id) is { } was && was.Proof != tender.Proof)
            {
                said.Add($"{tender.Name.ToLowerInvariant()} is proved by {Proof(tender.Proof)} instead of {Proof(was.Proof)}");
            }
        }

        if (Says(before.Policy.PriceProgramme) is var programme && Says(after.Policy.PriceProgramme) is var next && programme != next)
        {
            said.Add($"the price programme from {programme} to {next}");
        }

        foreach (var kind in before.Policy.Witnessed.Except(after.Policy.Witnessed))
        {
            said.Add($"a {kind.Written()} count no longer needs a second person");
        }

        if (after.Policy.ShowsOwnResult && !before.Policy.ShowsOwnResult)
        {
            said.Add("cashiers see over and short of their own drawer");
        }

        if (before.Policy.SettledBy is { } by && (after.Policy.SettledBy is not { } later || LaterBy(before, later) > LaterBy(before, by)))
        {
            said.Add(
                $"terminals are to be settled by {(after.Policy.SettledBy is { } time ? Clock(time) : "no hour")} instead of {Clock(by)}");
        }

        foreach (var person in after.People)
        {
            var was = before.Find(person.Id);
            var more = after.Registers.Where(r => person.MayOpen(r.Id) && was?.MayOpen(r.Id) != true && before.Find(r.Id) is not null)
                .ToList();
            if (more.Count > 0)
            {
                said.Add($"{person.Name} opens {string.Join(", ", more.Select(r => r.Name))} besides");
            }
        }

        return said.ToImmutable();
    }

    /// <summary>How long after the end of the trading day before: an hour after midnight is later than one in the evening.</summary>
    private static TimeSpan LaterBy(Setup setup, TimeOnly at) => at - setup.DayEndsAt;

    private static string Clock(TimeOnly at) => at.ToString("HH:mm", System.Globalization.CultureInfo.InvariantCulture);

    private static string Proof(ProofKind kind) => kind switch
    {
        ProofKind.Count => "a count",
        ProofKind.Batch => "a settled batch",
        _ => "the store's own books",
    };

    private static string Says(PriceProgramme programme) => programme.Kind switch
    {
        PriceProgrammeKind.None => "none",
        PriceProgrammeKind.CashDiscount => $"a cash discount of {Percent(programme.Rate)}",
        _ =>
            $"a surcharge of {Percent(programme.Rate)} on "
                + $"{string.Join(", ", programme.Tenders.Select(t => t.Value).Order(StringComparer.Ordinal))}",
    };

    private static string Percent(decimal rate) =>
        string.Create(System.Globalization.CultureInfo.InvariantCulture, $"{rate * 100:0.###} %");
}
