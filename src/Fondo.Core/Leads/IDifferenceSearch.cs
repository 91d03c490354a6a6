using Fondo.Core.Cells;

namespace Fondo.Core.Leads;

/// <summary>Looks for what would explain a drawer's difference to the cent, where no record points to it by itself.</summary>
internal interface IDifferenceSearch
{
    /// <summary>Whether it is also asked for what other explanations leave of the difference, which happens hundreds of times a
    /// drawer.</summary>
    bool LooksAtRests => true;

    /// <param name="drawer">A cash cell.</param>
    /// <param name="difference">Its variance, or what stronger explanations leave of it; not zero.</param>
    IEnumerable<Explanation> Search(LeadCase @case, Cell drawer, Money difference);
}
