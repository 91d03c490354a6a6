namespace Fondo.Core.Leads;

/// <summary>One way to look for what may have happened.</summary>
internal interface ILeadSearch
{
    IEnumerable<Explanation> Search(LeadCase @case);
}
