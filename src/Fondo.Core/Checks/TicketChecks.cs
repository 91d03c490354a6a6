using Fondo.Core.Days;

namespace Fondo.Core.Checks;

/// <summary>All ticket checks. A new family is one file and one line here.</summary>
public static class TicketChecks
{
    public static readonly ImmutableArray<ITicketCheck> All =
    [
        new TicketTotals(), new FoodBenefits(), new PriceProgrammes(), new Refunds(), new CardRepeats(), new Unfinished(),
    ];

    /// <summary>Everything that is wrong with the day's tickets, by ticket and code.</summary>
    public static ImmutableArray<TicketFinding> Of(Day day, Standing standing)
    {
        var book = new TicketBook(day, standing);
        var found = new List<TicketFinding>();
        foreach (var check in All)
        {
            check.Find(book, found);
        }

        found.Sort((a, b) => string.CompareOrdinal(a.Ticket.Value, b.Ticket.Value) is var t and not 0 ? t : string.CompareOrdinal(a.Code, b.Code));
        return [.. found];
    }
}
