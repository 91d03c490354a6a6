using Fondo.Core.Days;
using Fondo.Core.Journal;

namespace Fondo.Core.Checks;

/// <summary>All ticket checks. A new family is one file and one line here.</summary>
public static class TicketChecks
{
    private static ITicketCheck[] All() =>
        [new TicketTotals(), new CashRounded(), new FoodBenefits(), new PriceProgrammes(), new Refunds(), new CardRepeats(),
            new Unfinished()];

    /// <summary>Everything that is wrong with the day's tickets, by ticket and code.</summary>
    public static ImmutableArray<TicketFinding> Of(Day day, Standing standing)
    {
        var (book, checks, found) = (new TicketBook(day, standing), All(), new List<TicketFinding>());
        foreach (var e in day.Journal)
        {
            if (e is Ticket ticket && !standing.IsVoided(ticket.Id))
            {
                foreach (var check in checks)
                {
                    check.Look(ticket, book, found);
                }
            }
        }

        foreach (var check in checks)
        {
            check.Conclude(book, found);
        }

        found.Sort((a, b) => a.Ticket.CompareTo(b.Ticket) is var t and not 0
            ? t
            : string.CompareOrdinal(a.Code.Written(), b.Code.Written()));
        return [.. found];
    }
}
