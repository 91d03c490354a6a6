using Fondo.Core.Days;
using Fondo.Core.Journal;
using Fondo.Core.SetUp;

namespace Fondo.Core.Sheets;

/// <summary>One thing behind an expected amount.</summary>
/// <param name="Source">The event, or the tender, that it comes from.</param>
public sealed record MakeupItem(string Source, DateTimeOffset At, Money Amount, string? Says);

/// <summary>A group of things behind an expected amount: the float, the cash tickets, the drops.</summary>
public sealed record MakeupPart(string Name, ImmutableArray<MakeupItem> Items)
{
    public Money Amount => Items.Sum(i => i.Amount);
}

/// <summary>What the expected amount of a cell is made of (rules §1); the parts add up to it.</summary>
public static class Makeup
{
    public static ImmutableArray<MakeupPart> Of(Day day, CellKey.Takings key)
    {
        var standing = new Standing(day);
        var taken = Standing.Tenders(day, standing).Where(t => t.Ticket.Register == key.Register).ToList();
        var own = taken.Where(t => t.Tender.Type == key.Tender && (key.Drawer is null || t.Ticket.Drawer == key.Drawer)).ToList();
        List<MakeupPart> parts = [];
        if (key.Tender == TenderId.Cash && key.Drawer is { } drawer)
        {
            var events = day.Journal.Where(e => e.Drawer == drawer).ToList();
            parts.Add(Part("Float declared", events.OfType<SessionOpen>().Select(o => new MakeupItem(o.Id.Value, o.At, o.Float, null))));
            parts.Add(Part("Sales", Tickets(own, EventKind.Sale)));
            parts.Add(Part("Refunds", Tickets(own, EventKind.Refund)));
            parts.Add(Part("Cash back given",
                taken.Where(t => t.Ticket.Drawer == drawer && !t.Tender.Cashback.IsZero)
                    .Select(t => new MakeupItem(t.Key.ToString(), t.Ticket.At, -t.Tender.Cashback, t.Tender.Type.Value))));
            parts.AddRange(events.OfType<CashMovement>().GroupBy(m => m.Kind).OrderBy(g => g.Key).Select(g =>
                Part(NameOf(g.Key), g.Select(m =>
                    new MakeupItem(m.Id.Value, m.At, m.Effect, m.Bag is { } bag ? $"bag {bag}" : m.Reason)))));
        }
        else
        {
            parts.Add(Part("Sales", Tickets(own, EventKind.Sale)));
            parts.Add(Part("Refunds", Tickets(own, EventKind.Refund)));
        }

        return [.. parts.Where(p => !p.Items.IsEmpty)];
    }

    private static IEnumerable<MakeupItem> Tickets(IEnumerable<TakenTender> own, EventKind kind) =>
        own.Where(t => t.Ticket.Kind == kind).Select(t => new MakeupItem(
            t.Key.ToString(), t.Ticket.At, t.Tender.Expected,
            Says(t)));

    private static string? Says(TakenTender taken)
    {
        var what = taken.Tender.Card is { LastFour: { } last } card ? $"{card.Brand} …{last}"
            : taken.Tender.Number is { } number ? $"no. {number}"
            : null;
        return taken.Ticket.Head.LateFrom is { } day
            ? string.Join(", ", new[] { what, $"rung after the close of {new TradingDay(day)}" }.OfType<string>())
            : what;
    }

    private static MakeupPart Part(string name, IEnumerable<MakeupItem> items) =>
        new(name, [.. items.OrderBy(i => i.At).ThenBy(i => i.Source, StringComparer.Ordinal)]);

    private static string NameOf(EventKind kind) => kind switch
    {
        EventKind.Drop => "Drops",
        EventKind.Loan => "Loans",
        EventKind.PaidIn => "Paid in",
        _ => "Paid out",
    };
}
