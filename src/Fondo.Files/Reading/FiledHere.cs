using System.Runtime.InteropServices;

namespace Fondo.Files.Reading;

/// <summary>One day by itself, none of whose events is judged against itself.</summary>
internal sealed class FiledHere : IFiled
{
    private readonly Dictionary<EventId, EventKind> _named = [];
    private readonly Dictionary<DrawerId, (JournalEvent First, SessionOpen? Open)> _drawers = [];
    private readonly TradingDay _day;

    public FiledHere(IEnumerable<JournalEvent> events, TradingDay day)
    {
        _day = day;
        var named = new HashSet<EventId>();
        foreach (var e in events)
        {
            if (e is VoidEvent or Recall)
            {
                named.Add(EventOriginal.Of(e)!.Value);
            }

            if (e.Drawer is { } drawer)
            {
                ref var seen = ref CollectionsMarshal.GetValueRefOrAddDefault(_drawers, drawer, out var exists);
                seen = (exists && !IsBefore(e, seen.First) ? seen.First : e,
                    e is SessionOpen open && (seen.Open is null || IsBefore(open, seen.Open)) ? open : seen.Open);
            }
        }

        foreach (var e in named.Count == 0 ? [] : events.Where(e => named.Contains(e.Id)))
        {
            _named[e.Id] = e.Kind;
        }
    }

    public JournalEvent? Same(EventId id) => null;

    public FiledEvent? Find(EventId id) => _named.TryGetValue(id, out var kind) ? new FiledEvent(kind, _day) : null;

    public FiledDrawer? Drawer(TradingDay day, DrawerId drawer) =>
        _drawers.TryGetValue(drawer, out var seen) ? new FiledDrawer(seen.First.Register, seen.Open?.Id) : null;

    public FiledClose? Close(TradingDay day) => null;

    private static bool IsBefore(JournalEvent a, JournalEvent b) =>
        a.At.UtcTicks != b.At.UtcTicks ? a.At.UtcTicks < b.At.UtcTicks : a.Id < b.Id;
}
