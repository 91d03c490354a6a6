using Fondo.Core.Days;
using Fondo.Core.Proof;

namespace Fondo.Core.Evidence;

/// <summary>What a tender and a settled row may agree on.</summary>
public enum Trait
{
    Time,
    Amount,
    Direction,
    Card,
    Approval,
    Reference,
    Terminal,
}

/// <summary>A tender beside a settled row, trait by trait.</summary>
/// <param name="Agrees">Null where not on both sides.</param>
public readonly record struct Comparison(Trait Trait, bool? Agrees)
{
    /// <param name="window">Times nearer than this agree (rules §5).</param>
    public static ImmutableArray<Comparison> Of(TakenTender taken, BatchRow row, TimeSpan window)
    {
        var (ticket, tender, card) = (taken.Ticket, taken.Tender, taken.Tender.Card);
        return
        [
            new(Trait.Time, (ticket.At - row.At).Duration() <= window),
            new(Trait.Amount, tender.Expected.Abs() == row.Amount),
            new(Trait.Direction, ticket.IsRefund == (row.Direction == Direction.Refund)),
            new(Trait.Card, Same(card?.LastFour, row.Card.LastFour)),
            new(Trait.Approval, Same(card?.Approval, row.Card.Approval)),
            new(Trait.Reference, Same(card?.Rrn, row.Card.Rrn)),
            new(Trait.Terminal, Same(card?.Terminal?.Value, row.Key.Terminal.Value)),
        ];
    }

    private static bool? Same(string? a, string? b) => a is null || b is null ? null : a == b;
}
