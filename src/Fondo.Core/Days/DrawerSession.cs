using Fondo.Core.Journal;

namespace Fondo.Core.Days;

/// <summary>One drawer at one register from its opening to its close.</summary>
/// <param name="Cashier">Who opened it; else who rang its first event.</param>
/// <param name="From">Its first event.</param>
/// <param name="Until">When it was closed; null while it is open.</param>
public sealed record DrawerSession(RegisterId Register, DrawerId Drawer, PersonId? Cashier, DateTimeOffset From, DateTimeOffset? Until)
{
    /// <summary>The drawer sessions of the day, by register and time.</summary>
    public static ImmutableArray<DrawerSession> In(Day day) =>
    [
        .. day.Journal.Where(e => e.Drawer is not null)
            .GroupBy(e => (e.Register, Drawer: e.Drawer!.Value))
            .Select(g =>
            {
                var first = g.MinBy(e => (e is SessionOpen ? 0 : 1, e.At.UtcTicks, e.Id.Value))!;
                return new DrawerSession(g.Key.Register, g.Key.Drawer, first.Head.Cashier, g.Min(e => e.At), g.OfType<SessionClose>().Max(e => (DateTimeOffset?)e.At));
            })
            .OrderBy(s => s.Register.Value, StringComparer.Ordinal).ThenBy(s => s.From).ThenBy(s => s.Drawer.Value, StringComparer.Ordinal),
    ];
}
