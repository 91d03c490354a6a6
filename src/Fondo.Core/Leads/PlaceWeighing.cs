using Fondo.Core.Days;

namespace Fondo.Core.Leads;

/// <summary>Weighs what may have happened at one place, the safe or a bank line for example, against each other and against that nothing on
/// record explains it.</summary>
internal static class PlaceWeighing
{
    private const int MostLeads = 5;

    /// <param name="left">What is to be explained; each explanation explains all of it.</param>
    public static IEnumerable<Lead> Leads(CellKey place, Money left, IEnumerable<Explanation> explanations)
    {
        var shown = explanations.OrderByDescending(e => e.Weight).Take(MostLeads).ToList();
        var all = shown.Sum(e => e.Weight) + 1;
        return shown.Select((e, i) =>
            new Lead(place, i + 1, e.Kind, left, e.Keys, e.Fact, e.Effects, e.Remedy, Math.Round(1 - (e.Weight / all), 4)));
    }
}
