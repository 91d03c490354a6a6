using Fondo.Core.Cells;
using Fondo.Core.Checks;
using Fondo.Core.Days;
using Fondo.Core.Journal;
using Fondo.Core.Proof;
using Fondo.Core.Reconciling;

namespace Fondo.Core.Leads;

/// <summary>What is known of a day that does not prove, as the searches for leads look at it.</summary>
internal sealed class LeadCase
{
    private readonly Dictionary<CellKey, Cell> _cells;
    private readonly ILookup<EventId, TicketFinding> _findings;

    public LeadCase(Reconciliation result)
    {
        Result = result;
        Standing = new(result.Day);
        Sessions = DrawerSession.In(result.Day);
        _findings = result.TicketFindings.ToLookup(f => f.Ticket);
        _cells = result.Cells.ToDictionary(c => c.Key);
        OffDrawers = [.. result.Cells.Where(c => c.State == CellState.Off && c.Key.Tender == TenderId.Cash)];
        Closing = CellSums.ClosingCounts(result.Day);
        var drawers = result.Cells.Where(c => c.State == CellState.Off && c.Key.Drawer is not null).Select(c => c.Key.Drawer!.Value).ToHashSet();
        Taken = Standing.Tenders(result.Day, Standing)
            .Where(t => (t.Tender.Type == TenderId.Cash || t.Tender.Type == TenderId.Check) && t.Ticket.Drawer is { } drawer && drawers.Contains(drawer)).ToLookup(t => t.Ticket.Drawer!.Value);
    }

    /// <summary>What the ticket checks found on one ticket.</summary>
    public IEnumerable<TicketFinding> FindingsOf(EventId ticket) => _findings[ticket];

    public Reconciliation Result { get; }

    public Day Day => Result.Day;

    public Standing Standing { get; }

    /// <summary>The drawer sessions of the day, by register and time.</summary>
    public ImmutableArray<DrawerSession> Sessions { get; }

    /// <summary>The cash cells that are off.</summary>
    public ImmutableArray<Cell> OffDrawers { get; }

    /// <summary>The closing count that stands for each drawer.</summary>
    public IReadOnlyDictionary<DrawerId, Count> Closing { get; }

    /// <summary>The cash and check tenders of each drawer that is off.</summary>
    public ILookup<DrawerId, TakenTender> Taken { get; }

    public bool IsOff(CellKey key) => _cells.TryGetValue(key, out var cell) && cell.State == CellState.Off;

    /// <summary>How many cash sales one would expect of any one cent near this amount, had it nothing to do with them: by how many lie around it.</summary>
    public double TicketsExpectedAt(DrawerId drawer, Money amount)
    {
        const int around = 250;
        return Taken[drawer].Count(t => t.Tender.Type == TenderId.Cash && t.Ticket.Kind == EventKind.Sale && Math.Abs((t.Tender.Net - amount).Minor) <= around) / (2.0 * around);
    }

    public string Say(Money amount) => Day.Setup.Currency.Format(amount.Abs());

    /// <summary>A tender's name within a sentence.</summary>
    public string Say(TenderId tender) => Day.Setup.NameOf(tender) is var name && name.Skip(1).Any(char.IsUpper) ? name : name.ToLowerInvariant();

    public string Say(DateTimeOffset at) => TimeZoneInfo.ConvertTime(at, Day.Setup.TimeZone).ToString("HH:mm", System.Globalization.CultureInfo.InvariantCulture);
}
