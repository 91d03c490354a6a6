using Fondo.Core.Days;
using Fondo.Core.Journal;

namespace Fondo.Core.Matching;

/// <summary>Why an item stayed open (rules §5).</summary>
public sealed class Causes
{
    private readonly Dictionary<TerminalId, DateTimeOffset> _lastClose = [];
    private readonly HashSet<TerminalId> _settled = [];
    private readonly ILookup<string, Item> _uncounted;
    private readonly ILookup<(TerminalId, string?, Money), Item> _matchedRows;
    private readonly TimeSpan _window;
    private readonly Dictionary<string, string> _causeOfUncounted = [];

    public Causes(Day day, Standing standing, Matching matching)
    {
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

        _uncounted = Uncounted(day, standing).ToLookup(i => i.Card.Rrn ?? i.Card.Approval ?? "");
        _matchedRows = matching.Matches.SelectMany(m => m.Rows).ToLookup(r => (r.Terminal!.Value, r.Card.LastFour, r.Amount));
    }

    public string OfTender(Item item)
    {
        return item.Terminal is not { } terminal ? "missing-from-batch"
            : !_settled.Contains(terminal) ? "batch-absent"
            : _lastClose.TryGetValue(terminal, out var closed) && item.At > closed ? "after-cutoff"
            : "missing-from-batch";
    }

    public string OfRow(Item item)
    {
        var same = _uncounted[item.Card.Rrn ?? ""].Concat(_uncounted[item.Card.Approval ?? ""]).FirstOrDefault(u => SameRun(u, item));
        return same is not null ? _causeOfUncounted[same.Key]
            : _matchedRows[(item.Terminal!.Value, item.Card.LastFour, item.Amount)].Any(r => (r.At - item.At).Duration() <= _window) ? "charged-twice"
            : "not-in-journal";
    }

    private static bool SameRun(Item tender, Item row) =>
        tender.Amount == row.Amount
        && (tender.Card.Rrn is { } rrn ? rrn == row.Card.Rrn
            : tender.Card.Approval is { } code && code == row.Card.Approval && tender.Card.LastFour == row.Card.LastFour);

    /// <summary>Card tenders that do not count today: of voided tickets, reversed, declined.</summary>
    private IEnumerable<Item> Uncounted(Day day, Standing standing)
    {
        foreach (var ticket in day.Journal.OfType<Ticket>())
        {
            for (var place = 1; place <= ticket.Tenders.Length; place++)
            {
                var taken = new TakenTender(ticket, place);
                var cause = taken.Tender.Result switch
                {
                    TenderResult.Reversed => "reversal-not-sent",
                    TenderResult.Declined => "declined-but-settled",
                    _ when standing.IsVoided(ticket.Id) => "void-not-sent",
                    _ => null,
                };
                if (cause is not null && taken.Tender.Card is not null)
                {
                    var item = Item.Of(taken, null);
                    _causeOfUncounted[item.Key] = cause;
                    yield return item;
                }
            }
        }
    }
}
