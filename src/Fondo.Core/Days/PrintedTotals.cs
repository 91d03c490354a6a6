using System.Collections.Frozen;
using Fondo.Core.Journal;
using Fondo.Core.Proof;

namespace Fondo.Core.Days;

/// <summary>What terminals that are not connected printed: it proves their cells as totals until their rows come.</summary>
public sealed class PrintedTotals
{
    private readonly FrozenSet<TerminalId> _terminals;

    public PrintedTotals(Day day)
    {
        if (day.Printed.IsEmpty)
        {
            (Lines, _terminals) = ([], []);
            return;
        }

        var settled = (day.Rows ?? []).Select(r => r.Key.Terminal).ToHashSet();
        // Of each terminal the latest print stands, whole.
        Lines = [.. day.Printed.Where(l => !settled.Contains(l.Terminal)).GroupBy(l => l.Terminal)
            .SelectMany(t => t.Where(l => l.At == t.Max(x => x.At)))];
        _terminals = Lines.Select(l => l.Terminal).ToFrozenSet();
    }

    /// <summary>The lines that count.</summary>
    public ImmutableArray<PrintedLine> Lines { get; }

    /// <summary>The terminals that are proved as totals.</summary>
    public FrozenSet<TerminalId> Terminals => _terminals;

    /// <summary>Whether a tender is proved as a part of a total, and by no row.</summary>
    public bool Proves(Tender tender) => _terminals.Count > 0 && tender.Card?.Terminal is { } terminal && _terminals.Contains(terminal);
}
