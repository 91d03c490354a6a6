using Fondo.Core.Journal;

namespace Fondo.Core.SetUp;

public enum PriceProgrammeKind
{
    None,

    /// <summary>The listed price is the cash price; listed tenders pay the rate more.</summary>
    Surcharge,

    /// <summary>The listed price is the card price; cash and checks pay the rate less.</summary>
    CashDiscount,
}

public sealed record PriceProgramme(PriceProgrammeKind Kind, decimal Rate, ImmutableArray<TenderId> Tenders)
{
    public static readonly PriceProgramme None = new(PriceProgrammeKind.None, 0, []);
}
