using Fondo.Core.Days;
using Fondo.Core.Journal;

namespace Fondo.Core.Sheets;

/// <summary>What things behind an expected amount have in common.</summary>
public enum MakeupKind
{
    Float,
    Sales,
    Refunds,
    CashBack,
    Drops,
    Loans,
    PaidIn,
    PaidOut,
}

/// <summary>One thing behind an expected amount.</summary>
/// <param name="Source">The event, or the tender, that it comes from.</param>
/// <param name="Tender">Of a ticket, or of cash back.</param>
/// <param name="Movement">Of a drop, a loan, a paid-in or a paid-out.</param>
public sealed record MakeupItem(string Source, DateTimeOffset At, Money Amount, TakenTender? Tender = null, CashMovement? Movement = null);

/// <summary>A group of things behind an expected amount: the float, the cash tickets, the drops.</summary>
public sealed record MakeupPart(MakeupKind Kind, ImmutableArray<MakeupItem> Items)
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
            parts.Add(Part(MakeupKind.Float, events.OfType<SessionOpen>().Select(o => new MakeupItem(o.Id.Value, o.At, o.Float))));
            parts.Add(Part(MakeupKind.Sales, Tickets(own, EventKind.Sale)));
            parts.Add(Part(MakeupKind.Refunds, Tickets(own, EventKind.Refund)));
            parts.Add(Part(MakeupKind.CashBack,
                taken.Where(t => t.Ticket.Drawer == drawer && !t.Tender.Cashback.IsZero)
                    .Select(t => new MakeupItem(t.Key.ToString(), t.Ticket.At, -t.Tender.Cashback, t))));
            parts.AddRange(events.OfType<CashMovement>().GroupBy(m => m.Kind).OrderBy(g => g.Key).Select(g =>
                Part(KindOf(g.Key), g.Select(m => new MakeupItem(m.Id.Value, m.At, m.Effect, Movement: m)))));
        }
        else
        {
            parts.Add(Part(MakeupKind.Sales, Tickets(own, EventKind.Sale)));
            parts.Add(Part(MakeupKind.Refunds, Tickets(own, EventKind.Refund)));
        }

        return [.. parts.Where(p => !p.Items.IsEmpty)];
    }

    private static IEnumerable<MakeupItem> Tickets(IEnumerable<TakenTender> own, EventKind kind) =>
        own.Where(t => t.Ticket.Kind == kind).Select(t => new MakeupItem(t.Key.ToString(), t.Ticket.At, t.Tender.Expected, t));

    private static MakeupPart Part(MakeupKind kind, IEnumerable<MakeupItem> items) =>
        new(kind, [.. items.OrderBy(i => i.At).ThenBy(i => i.Source, StringComparer.Ordinal)]);

    private static MakeupKind KindOf(EventKind kind) => kind switch
    {
        EventKind.Drop => MakeupKind.Drops,
        EventKind.Loan => MakeupKind.Loans,
        EventKind.PaidIn => MakeupKind.PaidIn,
        _ => MakeupKind.PaidOut,
    };
}
