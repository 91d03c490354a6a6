using Fondo.Core.Amounts;
using Fondo.Core.Cash;
using Fondo.Core.Cells;
using Fondo.Core.Checks;
using Fondo.Core.Closing;
using Fondo.Core.Days;
using Fondo.Core.Entries;
using Fondo.Core.Journal;
using Fondo.Core.Leads;
using Fondo.Core.Matching;
using Fondo.Core.Proof;
using Fondo.Core.Reconciling;
using Fondo.Core.Sheets;

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
