using System.Runtime.InteropServices;
using Fondo.Core.Journal;

namespace Fondo.Core.Days;

/// <summary>One drawer at one register from its opening to its close.</summary>
/// <param name="Cashier">Who opened it; else who rang its first event.</param>
/// <param name="From">Its first event.</param>
/// <param name="Until">When it was closed; null while it is open.</param>
public sealed record DrawerSession(RegisterId Register, DrawerId Drawer, PersonId? Cashier, DateTimeOffset From, DateTimeOffset? Until)
{
    /// <summary>The drawer sessions of the day, by register and time.</summary>
    public static ImmutableArray<DrawerSession> In(Day day)
    {
        var sessions = new Dictionary<(RegisterId, DrawerId), Seen>();
        foreach (var e in day.Journal)
        {
            if (e is { Drawer: { } drawer, Head.LateFrom: null })
            {
                ref var seen = ref CollectionsMarshal.GetValueRefOrAddDefault(sessions, (e.Register, drawer), out _);
                seen.Add(e);
            }
        }

        return
        [
            .. sessions.Select(s => new DrawerSession(s.Key.Item1, s.Key.Item2, s.Value.First!.Head.Cashier, s.Value.From, s.Value.Until))
                .OrderBy(s => s.Register.Value, StringComparer.Ordinal).ThenBy(s => s.From)
                .ThenBy(s => s.Drawer.Value, StringComparer.Ordinal),
        ];
    }

    /// <summary>What has been seen of a session while its events go by in any order.</summary>
    private struct Seen
    {
        public DateTimeOffset From;
        public DateTimeOffset? Until;

        /// <summary>Its opening, else its first event.</summary>
        public JournalEvent? First;

        public void Add(JournalEvent e)
        {
            From = First is null || e.At < From ? e.At : From;
            First = First is null || Order(e).CompareTo(Order(First)) < 0 ? e : First;
            Until = e is SessionClose && (Until is null || e.At > Until) ? e.At : Until;
        }

        private static (int, long, EventId) Order(JournalEvent e) => (e is SessionOpen ? 0 : 1, e.At.UtcTicks, e.Id);
    }
}
