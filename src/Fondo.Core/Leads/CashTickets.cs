using Fondo.Core.Days;
using Fondo.Core.Entries;
using Fondo.Core.Journal;

namespace Fondo.Core.Leads;

/// <summary><c>unvoided-ticket</c>: a cash ticket of exactly this amount that may never have been paid. Several tickets may fit alike: all are named.</summary>
internal sealed class UnvoidedTickets : IDifferenceSearch
{
    private const int MostNamed = 8, Around = 250;

    public IEnumerable<Explanation> Search(LeadCase @case, Cell drawer, Money difference)
    {
        if (difference.Sign > 0)
        {
            yield break;
        }

        var tickets = @case.Taken[drawer.Key.Drawer!.Value].Where(t => t.Tender.Type == TenderId.Cash && t.Ticket.Kind == TicketKind.Sale).ToList();
        var fitting = tickets.Where(t => t.Tender.Amount - t.Tender.Change == -difference).OrderBy(t => t.Key).ToList();
        if (fitting.Count > 0)
        {
            // How many tickets one would expect at any one cent near this amount, had it nothing to do with them.
            var near = tickets.Count(t => Math.Abs((t.Tender.Amount - t.Tender.Change + difference).Minor) <= Around);
            var expected = near / (2.0 * Around);
            yield return new("unvoided-ticket", [new Posting(drawer.Key, difference)], [.. fitting.Take(MostNamed).Select(t => t.Key.ToString())],
                fitting.Count == 1
                    ? $"{fitting[0].Key} at {@case.Say(fitting[0].Ticket.At)} is a cash ticket of exactly {@case.Say(difference)}; it may never have been paid."
                    : $"{fitting.Count} cash tickets are of exactly {@case.Say(difference)}; one of them may never have been paid.",
                Math.Clamp(Weights.UnvoidedPrior / expected, Weights.UnvoidedLeast, Weights.UnvoidedMost));
        }
    }
}

/// <summary><c>change-slip</c>: change given for the wrong note, a 20 taken for a 10. Several tickets may fit alike: all are named.</summary>
internal sealed class ChangeSlips : IDifferenceSearch
{
    private const int MostNamed = 8;

    public IEnumerable<Explanation> Search(LeadCase @case, Cell drawer, Money difference)
    {
        var notes = Cash.Denominations.Of(@case.Day.Setup.Currency).Where(d => d.IsNote && d.Worth.Minor != 2 * @case.Day.Setup.Currency.Unit).Select(d => d.Worth).Order().ToArray();
        var pairs = notes.Zip(notes.Skip(1)).SelectMany(p => new[] { (Recorded: p.First, Handed: p.Second), (Recorded: p.Second, Handed: p.First) }).Where(p => p.Handed - p.Recorded == difference).ToList();
        var fitting = @case.Taken[drawer.Key.Drawer!.Value]
            .Where(t => t.Tender.Type == TenderId.Cash && pairs.Any(p => t.Tender.Amount == p.Recorded && t.Tender.Amount - t.Tender.Change <= p.Handed))
            .OrderBy(t => t.Key).ToList();
        if (fitting.Count > 0)
        {
            var (recorded, handed) = pairs[0];
            yield return new("change-slip", [new Posting(drawer.Key, difference)], [.. fitting.Take(MostNamed).Select(t => t.Key.ToString())],
                $"A {@case.Say(handed)} may have been taken for a {@case.Say(recorded)}: {(fitting.Count == 1 ? fitting[0].Key : $"{fitting.Count} tickets fit")}.", Weights.WrongNote);
        }
    }
}
