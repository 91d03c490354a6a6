using Fondo.Core.Days;
using Fondo.Core.Journal;
using Fondo.Core.SetUp;
using Fondo.Store.Model;
using Microsoft.EntityFrameworkCore;

namespace Fondo.Store.Intake;

/// <summary>What the store has, as the judge asks for it: looked up for many events at once, and kept up to date while they are
/// written.</summary>
internal sealed class FiledInStore(StoreContext db) : IFiled
{
    /// <summary>So many keys go into one question.</summary>
    private const int Most = 5_000;

    private readonly Dictionary<EventId, FiledEvent> _events = [];
    private readonly Dictionary<EventId, JournalEvent> _same = [];
    private readonly Dictionary<(TradingDay, DrawerId), FiledDrawer?> _drawers = [];
    private readonly Dictionary<TradingDay, FiledClose?> _closes = [];

    public JournalEvent? Same(EventId id) => _same.GetValueOrDefault(id);

    public FiledEvent? Find(EventId id) => _events.TryGetValue(id, out var filed) ? filed : null;

    public FiledDrawer? Drawer(TradingDay day, DrawerId drawer) => _drawers[(day, drawer)];

    public FiledClose? Close(TradingDay day) => _closes[day];

    /// <summary>Looks up what concerns these events.</summary>
    /// <param name="read">Reads a stored event as its own day understands it; null where it no longer reads.</param>
    public async Task LookUp(IReadOnlyCollection<LineRead> lines, Func<string, TradingDay, Task<JournalEvent?>> read)
    {
        var events = lines.Where(l => l.Event is not null).Select(l => l.Event!).ToList();
        var ids = events.Select(e => e.Id).Concat(events.Select(EventOriginal.Of).OfType<EventId>()).Where(i => !_events.ContainsKey(i))
            .Select(i => i.Value).Distinct().ToList();
        var there = new List<(string Key, DateOnly Day, EventKind Kind, long Id)>();
        foreach (var some in ids.Chunk(Most))
        {
            there.AddRange((await db.Events.AsNoTracking().Where(e => some.Contains(e.Key)).Select(e => new { e.Key, e.Day, e.Kind, e.Id })
                .ToListAsync()).Select(e => (e.Key, e.Day, e.Kind, e.Id)));
        }

        var keys = there.Where(e => e.Kind is EventKind.Sale or EventKind.Refund).Select(e => e.Key).ToList();
        var moved = keys.Count == 0
            ? []
            : await db.LateTickets.AsNoTracking().Where(t => keys.Contains(t.Ticket)).ToDictionaryAsync(t => t.Ticket, t => t.CountsOn);
        foreach (var e in there)
        {
            _events[new(e.Key)] = new(e.Kind, new(e.Day), moved.TryGetValue(e.Key, out var to) ? new TradingDay(to) : null);
        }

        await LookUpSame(lines, there.ToDictionary(e => e.Key, e => (e.Id, e.Day)), read);
        foreach (var day in lines.Select(l => l.Day)
            .Concat(events.Select(EventOriginal.Of).OfType<EventId>().Select(Find).OfType<FiledEvent>().Select(f => f.Day)).Distinct()
            .ToList())
        {
            var drawers = events.Select(e => e.Drawer).OfType<DrawerId>().Distinct().ToList();
            await LookUpDay(day, drawers);
        }

        foreach (var (place, drawer) in _drawers.Where(d => d.Value is { OpenedBy: not null, Opened: null }
            && events.Any(e => e is SessionOpen && e.Drawer == d.Key.Item2)).ToList())
        {
            var opened = drawer!.Value.OpenedBy!.Value.Value;
            var json = await db.Events.AsNoTracking().Where(e => e.Key == opened).Join(db.Records, e => e.Id, r => r.Id, (e, r) => r.Json)
                .SingleAsync();
            _drawers[place] = drawer.Value with { Opened = await read(json, place.Item1) as SessionOpen };
        }
    }

    /// <summary>The event was written.</summary>
    public void Keep(JournalEvent e, TradingDay day)
    {
        _same[e.Id] = e;
        _events[e.Id] = new(e.Kind, day);
        if (e.Drawer is not { } drawer)
        {
            return;
        }

        var known = _drawers.GetValueOrDefault((day, drawer));
        _drawers[(day, drawer)] = new(known?.Register ?? e.Register, e is SessionOpen ? e.Id : known?.OpenedBy,
            e as SessionOpen ?? known?.Opened, known?.ClosedAt);
        if (e is SessionClose && (known?.ClosedAt is not { } ended || e.At > ended))
        {
            _drawers[(day, drawer)] = _drawers[(day, drawer)]!.Value with { ClosedAt = e.At };
        }

    }

    private async Task LookUpSame(IReadOnlyCollection<LineRead> lines, Dictionary<string, (long Id, DateOnly Day)> there,
        Func<string, TradingDay, Task<JournalEvent?>> read)
    {
        var asked = lines.Where(l => l.Event is { } e && !_same.ContainsKey(e.Id) && there.ContainsKey(e.Id.Value))
            .ToLookup(l => there[l.Event!.Id.Value].Id);
        foreach (var some in asked.Select(a => a.Key).Chunk(Most))
        {
            foreach (var record in await db.Records.AsNoTracking().Where(r => some.Contains(r.Id)).Select(r => new { r.Id, r.Json })
                .ToListAsync())
            {
                var line = asked[record.Id].First();
                // Sent again as it was: there is nothing to read.
                _same[line.Event!.Id] = record.Json == line.Line.Json ? line.Event
                    : await read(record.Json, new(there[line.Event.Id.Value].Day))
                        ?? new NoSale(new(line.Event.Id, default, null, null, default));
            }
        }
    }

    /// <summary>Of a closed day the next one too: what is rung after the close belongs there.</summary>
    private async Task LookUpDay(TradingDay day, IReadOnlyCollection<DrawerId> drawers)
    {
        while (true)
        {
            if (!_closes.TryGetValue(day, out var close))
            {
                var row = await db.StandingCloses.AsNoTracking().Where(c => c.Day == day.Date).Select(c => new { c.Number, c.At })
                    .SingleOrDefaultAsync();
                _closes[day] = close = row is null ? null : new FiledClose(row.Number, row.At);
            }

            foreach (var drawer in drawers.Where(d => !_drawers.ContainsKey((day, d))))
            {
                var of = db.Events.AsNoTracking().Where(e => e.Day == day.Date && e.Drawer == drawer.Value);
                var register = await of.OrderBy(e => e.At).Select(e => e.Register).FirstOrDefaultAsync();
                if (register is null)
                {
                    _drawers[(day, drawer)] = null;
                    continue;
                }

                var opened = await of.Where(e => e.Kind == EventKind.Open).Select(e => e.Key).FirstOrDefaultAsync();
                var closed = await of.Where(e => e.Kind == EventKind.Close).MaxAsync(e => (DateTimeOffset?)e.At);
                _drawers[(day, drawer)] = new FiledDrawer(new(register), opened is null ? null : new EventId(opened), null, closed);
            }

            if (close is null || day.Date.Year > Core.Limits.LastYear)
            {
                return;
            }

            day = new(day.Date.AddDays(1));
        }
    }
}
