using Fondo.Core.Cells;
using Fondo.Core.Checks;
using Fondo.Core.Days;
using Fondo.Core.Journal;
using Fondo.Core.Matching;
using Fondo.Core.Reconciling;

namespace Fondo.Core.Leads;

/// <summary>Two notes of which one may be taken for the other.</summary>
/// <param name="Apart">How many notes lie between them, plus one.</param>
internal readonly record struct NotePair(Money Recorded, Money Handed, int Apart);

/// <summary>What is known of a day that does not prove, as the searches for leads look at it.</summary>
internal sealed class LeadCase
{
    private const int MostApart = 2;

    private readonly Dictionary<CellKey, Cell> _cells;
    private readonly ILookup<EventId, TicketFinding> _findings;
    private readonly Dictionary<RegisterId, ImmutableArray<OpenItem>> _open;
    private readonly ILookup<Money, NotePair> _notes;

    private readonly LeadGround _ground;

    public LeadCase(Reconciliation result, LeadGround ground)
    {
        (Result, _ground) = (result, ground);
        _findings = result.TicketFindings.ToLookup(f => f.Ticket);
        _cells = result.Cells.ToDictionary(c => c.Key);
        OffDrawers = [.. result.Cells.Where(c => c.State == CellState.Off && c.Key.OfTender == TenderId.Cash)];
        _open = result.OpenItems.Where(o => o.Item is { CarriedFrom: null, Cell.Register: not null }
            && o.Cause is Cause.NotInJournal or Cause.MissingFromBatch)
            .GroupBy(o => o.Item.Cell.Register!.Value).ToDictionary(g => g.Key, g => g.ToImmutableArray());
        _notes = Notes(result.Day.Setup).ToLookup(p => p.Handed - p.Recorded);
    }

    /// <summary>Whether something was left out because it would have taken too long.</summary>
    public bool StoppedEarly { get; set; }

    public Reconciliation Result { get; }

    public Day Day => Result.Day;

    public Standing Standing => _ground.Standing;

    /// <summary>The drawer sessions of the day, by register and time.</summary>
    public ImmutableArray<DrawerSession> Sessions => _ground.Sessions;

    /// <summary>The cash cells that are off.</summary>
    public ImmutableArray<Cell> OffDrawers { get; }

    /// <summary>The denominations that anybody counted, smallest first: the lines of a count.</summary>
    public ImmutableArray<Money> Lines => _ground.Lines;

    /// <summary>The drawers that are off in any tender.</summary>
    public IEnumerable<DrawerId> Drawers => _ground.Drawers;

    public DrawerFacts? Facts(DrawerId drawer) => _ground.Facts(drawer);

    /// <summary>What the ticket checks found on one ticket.</summary>
    public IEnumerable<TicketFinding> FindingsOf(EventId ticket) => _findings[ticket];

    /// <summary>The register's open items that may belong to something else; what is only not settled yet is none of them.</summary>
    public ImmutableArray<OpenItem> OpenAt(RegisterId? register) => register is { } id && _open.TryGetValue(id, out var open) ? open : [];

    /// <summary>The notes that differ by so much, and lie near each other.</summary>
    public IEnumerable<NotePair> NotesApart(Money difference) => _notes[difference];

    public bool IsOff(CellKey key) => _cells.TryGetValue(key, out var cell) && cell.State == CellState.Off;

    private static IEnumerable<NotePair> Notes(SetUp.Setup setup)
    {
        var notes = setup.Denominations.Where(d => d.IsNote && d.Worth.Minor != 2 * setup.Currency.Unit).Select(d => d.Worth).Order()
            .ToArray();
        return notes.SelectMany((a, i) => notes.Select((b, j) => new NotePair(a, b, Math.Abs(i - j))))
            .Where(p => p.Apart is > 0 and <= MostApart).OrderBy(p => p.Apart);
    }
}
