using Fondo.Core.Days;
using Fondo.Core.Journal;

namespace Fondo.Core.Matching;

/// <summary>Why an item stayed open (rules §5).</summary>
public sealed class Causes
{
    private readonly Dictionary<TerminalId, DateTimeOffset> _lastClose = [];
    private readonly HashSet<TerminalId> _settled = [];
    private readonly ILookup<(TerminalId, string?, Money), Item> _matchedRows;
    private readonly TimeSpan _window;
    private readonly Uncounted _uncounted;

    public Causes(Day day, Uncounted uncounted, Paired paired)
    {
        _uncounted = uncounted;
        _window = day.Setup.Policy.MatchWindow;
        foreach (var row in day.Rows ?? [])
        {
            _settled.Add(row.Key.Terminal);
        }

        foreach (var total in day.Totals)
        {
            _settled.Add(total.Terminal);
            if (!_lastClose.TryGetValue(total.Terminal, out var at) || total.Closed > at)
            {
                _lastClose[total.Terminal] = total.Closed;
            }
        }

        var open = paired.OpenRows.Where(r => r.Terminal is not null).ToList();
        // an amount is looked up faster, and nearly none is asked for
        var (amounts, asked) = (open.Select(r => r.Amount).ToHashSet(), open.Select(Run).ToHashSet());
        var matched = new List<Item>();
        foreach (var match in paired.Matches)
        {
            if (match.Pair is not var (_, row))
            {
                matched.AddRange(match.Rows);
            }
            else if (amounts.Contains(row.Amount) && asked.Contains(Run(row)))
            {
                matched.Add(row);
            }
        }

        _matchedRows = matched.ToLookup(Run);
    }

    public Cause OfTender(Item item)
    {
        return item.Terminal is not { } terminal ? Cause.MissingFromBatch
            : !_settled.Contains(terminal) ? Cause.BatchAbsent
            : _lastClose.TryGetValue(terminal, out var closed) && item.At > closed ? Cause.AfterCutoff
            : Cause.MissingFromBatch;
    }

    public Cause OfRow(Item item)
    {
        return _uncounted.CauseOf(item)
            ?? (item.Card.LastFour is not null && _matchedRows[Run(item)].Any(r => (r.At - item.At).Duration() <= _window)
                ? Cause.ChargedTwice
                : Cause.NotInJournal);
    }

    private static (TerminalId, string?, Money) Run(Item row) => (row.Terminal!.Value, row.Card.LastFour, row.Amount);
}
