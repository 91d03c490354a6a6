namespace Fondo.Core.SetUp;

public enum BenefitTax
{
    TaxableFirst,
    ProRata,
}

/// <summary>What the store has decided for the day.</summary>
public sealed record Policy(Money CashTolerance, Money ApprovalAbove, PriceProgramme PriceProgramme, BenefitTax BenefitTax, Money CashRounding, TimeSpan MatchWindow, TimeSpan DisputeTime)
{
    public static readonly Policy Default = new(Money.Zero, Money.Zero, PriceProgramme.None, BenefitTax.TaxableFirst, new(1), TimeSpan.FromMinutes(15), TimeSpan.FromHours(48));
}
