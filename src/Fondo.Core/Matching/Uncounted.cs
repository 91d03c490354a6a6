using Fondo.Core.Days;
using Fondo.Core.Journal;

namespace Fondo.Core.Matching;

/// <summary>The card tenders that do not count today: of voided tickets, reversed, declined, or rung after their drawer was closed.
/// A settled row of one of them belongs to no other tender.</summary>
public sealed class Uncounted
{
    private readonly Dictionary<Code, List<(Item Tender, Cause Cause)>> _byCode = [];
    private readonly TimeSpan _window;

    public Uncounted(Day day, Standing standing)
    {
        _window = day.Setup.Policy.MatchWindow;
        foreach (var e in day.Journal)
        {
            if (e is not Ticket ticket)
            {
                continue;
            }

            for (var place = 1; place <= ticket.Tenders.Length; place++)
            {
                if (ticket.Tenders[place - 1] is { Card: { } card } tender && CauseOf(tender, ticket, standing) is { } cause)
                {
                    var item = Item.Of(new TakenTender(ticket, place), null);
                    foreach (var code in new[] { card.Reference, card.ApprovalCode, Circumstance(item) }.Where(c => c.IsThere))
                    {
                        (_byCode.TryGetValue(code, out var known) ? known : _byCode[code] = []).Add((item, cause));
                    }
                }
            }
        }
    }

    /// <summary>Whether the codes of the row name a tender that does not count.</summary>
    public bool Names(Item row) => ByCode(row) is not null;

    /// <summary>Why the row is open; null where no uncounted tender fits it.</summary>
    public Cause? CauseOf(Item row) => ByCode(row) ?? Of(Circumstance(row))
        .Where(u => u.Tender.Amount == row.Amount && (u.Tender.At - row.At).Duration() <= _window)
        .OrderBy(u => (u.Tender.At - row.At).Duration()).ThenBy(u => u.Tender).Select(u => (Cause?)u.Cause).FirstOrDefault();

    private Cause? ByCode(Item row) => Of(row.Card.Reference).Concat(Of(row.Card.ApprovalCode))
        .Where(u => SameRun(u.Tender, row)).OrderBy(u => u.Tender).Select(u => (Cause?)u.Cause).FirstOrDefault();

    private static bool SameRun(Item tender, Item row) =>
        tender.Amount == row.Amount
        && (tender.Card.Reference.IsThere && row.Card.Reference.IsThere ? tender.Card.Reference == row.Card.Reference
            : tender.Card.ApprovalCode.IsThere && tender.Card.ApprovalCode == row.Card.ApprovalCode
                && tender.Card.LastFour == row.Card.LastFour);

    private static Cause? CauseOf(Tender tender, Ticket ticket, Standing standing) => tender.Result switch
    {
        TenderResult.Reversed => Cause.ReversalNotSent,
        TenderResult.Declined => Cause.DeclinedButSettled,
        _ when standing.IsVoided(ticket.Id) => Cause.VoidNotSent,
        _ when standing.IsAfterClose(ticket) => Cause.NotInJournal,
        _ => (Cause?)null,
    };

    /// <summary>Terminal and card, where no code tells.</summary>
    private static Code Circumstance(Item item) =>
        item.Terminal is { } terminal && item.Card.LastFour is { } last ? $"{terminal.Value} {last}" : default(Code);

    private List<(Item Tender, Cause Cause)> Of(Code code) => code.IsThere && _byCode.TryGetValue(code, out var known) ? known : [];
}
