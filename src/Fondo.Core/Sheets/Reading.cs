using Fondo.Core.Days;
using Fondo.Core.Journal;

namespace Fondo.Core.Sheets;

/// <summary>One line of a reading.</summary>
/// <param name="Key">A register, tender, brand or cashier.</param>
/// <param name="Number">How many tickets, or tenders.</param>
public readonly record struct ReadingLine(string Key, int Number, Money Amount);

/// <summary>Where the day stands at this moment, without closing anything: sales and refunds of all tickets that count.</summary>
/// <param name="CalendarDays">Ticket totals by the date on the calendar: a trading day may reach into the next one.</param>
public sealed record Reading(
    ReadingLine Total, ImmutableArray<ReadingLine> Registers, ImmutableArray<ReadingLine> Tenders, ImmutableArray<ReadingLine> Brands,
    ImmutableArray<ReadingLine> Cashiers,
    ImmutableArray<ReadingLine> CalendarDays)
{
    public static Reading Of(Day day)
    {
        var standing = new Standing(day);
        var tickets = day.Journal.OfType<Ticket>().Where(standing.Stands).ToList();
        var tenders = Standing.Tenders(day, standing).ToList();
        var order = day.Setup.Tenders.Select((t, i) => (t.Id, i)).ToDictionary(t => t.Id.Value, t => t.i);
        return new(
            new("", tickets.Count, tickets.Sum(t => t.Total)),
            Lines(tickets, t => t.Register.Value, t => t.Total),
            [.. Lines(tenders, t => t.Tender.Type.Value, t => t.Tender.Expected)
                .OrderBy(l => order.GetValueOrDefault(l.Key, int.MaxValue))],
            Lines(tenders.Where(t => t.Tender.Card?.Brand is not null), t => t.Tender.Card!.Brand!, t => t.Tender.Amount),
            Lines(tickets, t => t.Head.Cashier?.Value ?? "", t => t.Total),
            Lines(day.Journal.OfType<Ticket>().Where(t => !standing.IsVoided(t.Id) && t.Head.LateFrom is null), t => Date(t, day),
                t => t.Total));
    }

    private static string Date(Ticket ticket, Day day) =>
        TimeZoneInfo.ConvertTime(ticket.At, day.Setup.TimeZone).ToString("yyyy-MM-dd", System.Globalization.CultureInfo.InvariantCulture);

    private static ImmutableArray<ReadingLine> Lines<T>(IEnumerable<T> all, Func<T, string> key, Func<T, Money> amount) =>
        [.. all.GroupBy(key).Select(g => new ReadingLine(g.Key, g.Count(), g.Sum(amount))).OrderBy(l => l.Key, StringComparer.Ordinal)];
}
