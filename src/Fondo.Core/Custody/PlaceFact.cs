using Fondo.Core.Days;
using Fondo.Core.Journal;
using Fondo.Core.Leads;

namespace Fondo.Core.Custody;

/// <summary>What may have happened to the safe, a bag or a float.</summary>
public static class PlaceFact
{
    /// <summary>A bag without a drop, and a drawer that is off by as much.</summary>
    public sealed record BagOfDrawer(string Bag, CellKey Drawer, Money Left) : LeadFact;

    public sealed record BagDiffersAndDrawer(string Bag, Money Recorded, Money Held, CellKey Drawer, Money Left) : LeadFact;

    /// <param name="Apart">What lay in the drawer less than was declared; negative: more.</param>
    public sealed record FloatAndDrawer(Money Apart, Money Left) : LeadFact;

    public sealed record FloatsExchanged(CellKey Other, Money Left) : LeadFact;

    public sealed record DrawerMiscounted(CellKey Drawer, Money Left) : LeadFact;

    /// <param name="Register">Whose float or drawer it was; null for all else.</param>
    public sealed record SafeLineTwice(SafeLine Line, RegisterId? Register) : LeadFact;

    /// <param name="Register">Whose float or drawer it was; null for all else.</param>
    public sealed record SafeLineStillThere(SafeLine Line, RegisterId? Register) : LeadFact;

    public sealed record BagCountedWithSafe(string Bag, Money Amount) : LeadFact;
}
