using Fondo.Core.Cells;
using Fondo.Core.Days;

namespace Fondo.Core.Leads;

/// <summary><c>change-slip</c>: change given for the wrong note, a 20 taken for a 10. Several tickets may fit alike: all are
/// named.</summary>
internal sealed class ChangeSlips : ILeadSearch
{
    private const int MostNamed = 24;

    public IEnumerable<Explanation> SearchFor(LeadCase @case, Cell drawer, Money difference)
    {
        var facts = @case.Facts(drawer.Key.Drawer!.Value)!;
        var (fitting, best) = (new List<TakenTender>(), (NotePair?)null);
        foreach (var pair in @case.NotesApart(difference))
        {
            foreach (var taken in facts.CashByAmount[pair.Recorded].Where(t => t.Tender.Net <= pair.Handed))
            {
                fitting.Add(taken);
                best ??= pair;
            }
        }

        if (best is { } notes)
        {
            fitting.Sort((a, b) => a.Key.CompareTo(b.Key));
            yield return new(LeadKind.ChangeSlip, [new Posting(drawer.Key, difference)],
                [.. fitting.Take(MostNamed).Select(t => t.Key.ToString())],
                new LeadFact.ChangeForWrongNote(notes.Handed, notes.Recorded, fitting[0], fitting.Count),
                notes.Apart == 1 ? Odds.WrongNote : Odds.FarNote, new LeadRemedy.Accept());
        }
    }
}
