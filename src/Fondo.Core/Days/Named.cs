using Fondo.Core.Journal;
using Fondo.Core.Proof;

namespace Fondo.Core.Days;

/// <summary>Finds what keys name, in one walk over a day: the keys are taken apart, not those of the whole day put together.</summary>
public static class Named
{
    /// <summary>The keys that name nothing that evidence can be: no event, tender, bag, row, book line, count, terminal or drawer. In their
    /// order.</summary>
    public static ImmutableArray<string> Unknown(Day day, IEnumerable<string> keys)
    {
        var wanted = keys.Distinct(StringComparer.Ordinal).ToList();
        var found = new HashSet<string>(StringComparer.Ordinal);
        var byTicket = wanted.ToLookup(k => new EventId(TenderOf(k)?.Ticket ?? k));
        var byRow = wanted.Select(k => (Key: k, Row: RowOf(k))).Where(k => k.Row is not null).ToLookup(k => k.Row!.Value, k => k.Key);
        var plain = wanted.ToHashSet(StringComparer.Ordinal);
        void Plain(string? name)
        {
            if (name is not null && plain.Contains(name))
            {
                found.Add(name);
            }
        }

        foreach (var e in day.Journal.Concat(day.Carried.Journal.Select(c => (JournalEvent)c.Ticket))
            .Concat(day.Carried.Holds.Select(c => c.Hold)))
        {
            Plain(e.Drawer?.Value);
            Plain((e as CashMovement)?.Bag);
            foreach (var key in byTicket[e.Id])
            {
                if (key == e.Id.Value || (e is Ticket ticket && TenderOf(key) is { Place: var place } && place >= 1
                    && place <= ticket.Tenders.Length))
                {
                    found.Add(key);
                }
            }
        }

        if (byRow.Count > 0)
        {
            foreach (var row in (day.Rows ?? []).Concat(day.Carried.Rows.Select(c => c.Row)))
            {
                found.UnionWith(byRow[row.Key]);
            }
        }

        foreach (var name in (day.Ledger ?? []).Where(_ => wanted.Count > found.Count).Select(l => $"{l.Tender}/{l.Sequence}")
            .Concat(day.Counts.Select(c => c.Id)).Concat(day.Counts.Select(c => c.Bag).OfType<string>())
            .Concat(day.Setup.Terminals.Select(t => t.Terminal.Value)))
        {
            Plain(name);
        }

        return [.. wanted.Where(k => !found.Contains(k))];
    }

    /// <summary>The tender that a key names, if it is made like one.</summary>
    public static (string Ticket, int Place)? TenderOf(string key) =>
        key.LastIndexOf('#') is > 0 and var at
            && int.TryParse(key.AsSpan(at + 1), System.Globalization.NumberStyles.None, System.Globalization.CultureInfo.InvariantCulture,
                out var place) ? (key[..at], place) : null;

    /// <summary>The settled row that a key names, if it is made like one.</summary>
    public static BatchKey? RowOf(string key) =>
        key.Split('/') is [var terminal, var batch, var sequence] ? new(new(terminal), batch, sequence) : null;
}
