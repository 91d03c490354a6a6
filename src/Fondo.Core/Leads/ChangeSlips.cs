using Fondo.Core.Cells;
using Fondo.Core.Journal;

namespace Fondo.Core.Leads;

/// <summary><c>change-slip</c>: change given for the wrong note, a 20 taken for a 10. Several tickets may fit alike: all are named.</summary>
internal sealed class ChangeSlips : IDifferenceSearch
{
    private const int MostNamed = 24;

    public IEnumerable<Explanation> Search(LeadCase @case, Cell drawer, Money difference)
    {
        var notes = @case.Day.Setup.Denominations.Where(d => d.IsNote && d.Worth.Minor != 2 * @case.Day.Setup.Currency.Unit).Select(d => d.Worth).Order().ToArray();
        var pairs = notes.SelectMany((a, i) => notes.Select((b, j) => (Recorded: a, Handed: b, Apart: Math.Abs(i - j))))
            .Where(p => p.Apart is 1 or 2 && p.Handed - p.Recorded == difference).OrderBy(p => p.Apart).ToList();
        var fitting = @case.Taken[drawer.Key.Drawer!.Value]
            .Where(t => t.Tender.Type == TenderId.Cash && pairs.Any(p => t.Tender.Amount == p.Recorded && t.Tender.Net <= p.Handed))
            .OrderBy(t => t.Key).ToList();
        if (fitting.Count > 0)
        {
            var (recorded, handed, apart) = pairs.First(p => fitting.Any(t => t.Tender.Amount == p.Recorded));
            yield return new(LeadKind.ChangeSlip, [new Posting(drawer.Key, difference)], [.. fitting.Take(MostNamed).Select(t => t.Key.ToString())],
                $"A {@case.Say(handed)} may have been taken for a {@case.Say(recorded)}: {(fitting.Count == 1 ? fitting[0].Key : $"{fitting.Count} tickets fit")}.",
                apart == 1 ? Odds.WrongNote : Odds.FarNote);
        }
    }
}
