using Fondo.Core.Cells;

namespace Fondo.Core.Leads;

/// <summary>One way to look for what may have happened. It looks where it can: what it leaves out, it finds nothing by.</summary>
internal interface ILeadSearch
{
    /// <summary>What records point to by themselves.</summary>
    IEnumerable<Explanation> Search(LeadCase @case) => [];

    /// <summary>What only shows beside what else may have happened.</summary>
    /// <param name="known">What all searches found by themselves.</param>
    IEnumerable<Explanation> SearchBeside(LeadCase @case, ByCell known) => [];

    /// <summary>What would explain a drawer's difference to the cent, where no record points to it by itself.</summary>
    /// <param name="drawer">A cash cell.</param>
    /// <param name="difference">Its variance, or what stronger explanations leave of it; not zero.</param>
    IEnumerable<Explanation> SearchFor(LeadCase @case, Cell drawer, Money difference) => [];

    /// <summary>Whether <see cref="SearchFor"/> is also asked for what other explanations leave of the difference, which happens hundreds
    /// of times a drawer.</summary>
    bool LooksAtRests => true;
}
