using Fondo.Core.Proof;

namespace Fondo.Core.SetUp;

public enum BenefitTax
{
    TaxableFirst,
    ProRata,
}

/// <summary>What the books make of a payment on a layaway (rules §13).</summary>
public enum LayawayPosting
{
    /// <summary>It stays a customer's deposit until the goods go.</summary>
    Deposit,

    /// <summary>Each payment moves its part of the goods and of their tax.</summary>
    Parts,
}

/// <summary>What the store has decided for the day.</summary>
public sealed record Policy(Money CashTolerance, Money ApprovalAbove, PriceProgramme PriceProgramme, BenefitTax BenefitTax,
    Money CashRounding, TimeSpan MatchWindow, TimeSpan DisputeTime)
{
    /// <summary>The kinds of count at which a second person stands by and says so with their PIN.</summary>
    public ImmutableArray<CountKind> Witnessed { get; init; } = [CountKind.Safe];

    /// <summary>Whether cashiers see over and short of their own drawer once they have handed in.</summary>
    public bool ShowsOwnResult { get; init; } = true;

    /// <summary>The local time by which every terminal that is settled by hand should be; null: no such time.</summary>
    public TimeOnly? SettledBy { get; init; }

    /// <summary>How much cash stays in the safe for change when a deposit is made; null: what it began the day with.</summary>
    public Money? SafeFund { get; init; }

    public LayawayPosting Layaway { get; init; }

    public Scale Scale { get; init; } = Scale.Standard;

    public static readonly Policy Default =
        new(Money.Zero, Money.Zero, PriceProgramme.None, BenefitTax.TaxableFirst, new(1), TimeSpan.FromMinutes(15), TimeSpan.FromHours(48));
}
