using Fondo.Core.Amounts;
using Fondo.Core.Days;
using Fondo.Core.Evidence;
using Fondo.Core.Journal;
using Fondo.Core.Proof;
using Fondo.Core.SetUp;
using Fondo.Web.Text;

namespace Fondo.Web.Evidences;

/// <summary>One line of a slip beside another slip.</summary>
/// <param name="Agrees">Null where one of them does not say.</param>
public sealed record SlipLine(string What, string Left, string Right, bool? Agrees);

/// <summary>A ticket's tender and a settled row, line by line.</summary>
internal static class SlipLines
{
    public static IReadOnlyList<SlipLine> Of(TakenTender taken, BatchRow row, Setup setup) =>
        [.. Comparison.Of(taken, row, setup.Policy.MatchWindow)
            .Select(c => new SlipLine(NameOf(c.Trait), Text(c.Trait, taken, setup), Text(c.Trait, row, setup), c.Agrees))
            .Where(l => l.Left.Length + l.Right.Length > 0)];

    private static string NameOf(Trait trait) => trait switch
    {
        Trait.Card => "Card",
        Trait.Reference => "Reference",
        _ => trait.ToString(),
    };

    private static string Text(Trait trait, TakenTender taken, Setup setup)
    {
        var (ticket, tender, card) = (taken.Ticket, taken.Tender, taken.Tender.Card);
        return trait switch
        {
            Trait.Time => Say.Time(ticket.At, setup),
            Trait.Amount => BroughtIn(tender, setup.Currency),
            Trait.Direction => ticket.IsRefund ? "refund" : "sale",
            Trait.Card => CardOf(card?.Brand, card?.LastFour) is { Length: > 0 } named
                ? named
                : setup.NameOf(tender.Type).ToLowerInvariant(),
            Trait.Approval => card?.Approval ?? "",
            Trait.Reference => card?.Rrn ?? "",
            _ => card?.Terminal?.Value ?? "",
        };
    }

    /// <summary>What stays of cash, and how it came to that.</summary>
    private static string BroughtIn(Tender tender, Currency currency) => tender.Expected == tender.Amount
        ? Say.Amount(tender.Amount.Abs(), currency)
        : $"{Say.Amount(tender.Expected.Abs(), currency)}; {Say.Amount(tender.Amount, currency)} given, "
            + $"{Say.Amount(tender.Change, currency)} change";

    private static string Text(Trait trait, BatchRow row, Setup setup) => trait switch
    {
        Trait.Time => Say.Time(row.At, setup),
        Trait.Amount => Say.Amount(row.Amount, setup.Currency),
        Trait.Direction => row.Direction.Written(),
        Trait.Card => row.Benefit != Benefit.None
            ? $"{row.Benefit.Written()} benefits …{row.Card.LastFour}"
            : CardOf(row.Card.Brand, row.Card.LastFour),
        Trait.Approval => row.Card.Approval ?? "",
        Trait.Reference => row.Card.Rrn ?? "",
        _ => row.Key.Terminal.Value,
    };

    public static string CardOf(string? brand, string? last) => $"{Capital(brand)}{(last is null ? "" : $" …{last}")}".Trim();

    private static string Capital(string? text) => string.IsNullOrEmpty(text) ? "" : char.ToUpperInvariant(text[0]) + text[1..];
}
