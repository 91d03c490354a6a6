using Fondo.Core.Cells;
using Fondo.Core.Checks;
using Fondo.Core.Days;
using Fondo.Core.Entries;
using Fondo.Core.Matching;

namespace Fondo.Core.Leads;

/// <summary>Pairs whose two sides are not in the same cell, or not of the same amount: <c>tender-swap</c>, <c>wrong-terminal</c>,
/// <c>amount-keyed</c>,
/// <c>direction</c>; and <c>earlier-day</c>, where one side was carried. The pair itself is the evidence.</summary>
internal sealed class SettledPairs : ILeadSearch
{
    public IEnumerable<Explanation> Search(LeadCase @case)
    {
        var whole = WholeBatches(@case);
        foreach (var batch in whole)
        {
            yield return OfBatch(batch, @case);
        }

        var met = whole.SelectMany(b => b).ToHashSet();
        foreach (var match in @case.Result.Matches)
        {
            if (match.IsPlain || met.Contains(match))
            {
                continue;
            }

            var (tenders, rows) = (Effects(match.Journal, -1), Effects(match.Rows, 1));
            var effects = tenders.Concat(rows).GroupBy(p => p.Cell).Select(g => new Posting(g.Key, g.Sum(p => p.Amount)))
                .Where(p => !p.Amount.IsZero).ToImmutableArray();
            if (effects.IsEmpty)
            {
                continue;
            }

            ImmutableArray<string> keys = [.. match.Journal.Select(j => j.Key), .. match.Rows.Select(r => r.Key)];
            var (kind, says) = Name(match, @case);
            yield return new(kind, effects, keys, says, Strength(match.Rule), Remedy(kind, match));
        }
    }

    /// <summary>Tenders that an entry carried together and that came in one batch: the batch meets them as one (rules §11).</summary>
    private static List<List<Match>> WholeBatches(LeadCase @case)
    {
        var owned = @case.Day.Carried.Journal.Where(c => c.Owned is not null)
            .ToDictionary(c => c.Ticket.KeyOf(c.Place).ToString(), c => c.Owned);
        return owned.Count < 2 ? [] :
        [
            .. @case.Result.Matches.Where(m => m.Difference.IsZero && m.Journal.All(j => owned.ContainsKey(j.Key))
                && m.Rows.All(r => r.CarriedFrom is null))
                .GroupBy(m => (m.Journal[0].CarriedFrom, Owned: owned[m.Journal[0].Key], m.Rows[0].Cell, m.Rows[0].Row!.Key.Terminal,
                    m.Rows[0].Row!.Key.Batch))
                .Where(g => g.Count() > 1).Select(g => g.ToList()),
        ];
    }

    private static Explanation OfBatch(List<Match> batch, LeadCase @case)
    {
        var (first, amount) = (batch[0].Rows[0], batch.SelectMany(m => m.Rows).Sum(r => r.Amount));
        return new(
            LeadKind.EarlierDay, [new Posting(first.Cell, amount)],
            [.. batch.SelectMany(m => m.Journal).Select(j => j.Key), .. batch.SelectMany(m => m.Rows).Select(r => r.Key)],
            $"{batch.Sum(m => m.Rows.Length)} cards of {@case.Say(amount)} that were carried from {batch[0].Journal[0].CarriedFrom} came "
                + $"in batch {first.Row!.Key.Batch} of {first.Terminal}.",
            batch.Min(m => Strength(m.Rule)), new LeadRemedy.Record(MovementKind.Arrival));
    }

    private static LeadRemedy Remedy(LeadKind kind, Match match) => kind switch
    {
        LeadKind.EarlierDay => new LeadRemedy.Record(MovementKind.Arrival),
        LeadKind.Direction or LeadKind.AmountKeyed => new LeadRemedy.Claim(),
        LeadKind.TicketFinding when match.Difference.Sign < 0 => new LeadRemedy.Accept(),
        _ => new LeadRemedy.Record(MovementKind.Sale),
    };

    private static IEnumerable<Posting> Effects(ImmutableArray<Item> items, int sign) =>
        items.Where(i => i.CarriedFrom is null).Select(i => new Posting(i.Cell, sign < 0 ? -i.Amount : i.Amount));

    private static (LeadKind Kind, string Says) Name(Match match, LeadCase @case)
    {
        var (j, r) = (match.Journal[0], match.Rows[0]);
        if (match.Journal.Any(i => i.CarriedFrom is not null) || match.Rows.Any(i => i.CarriedFrom is not null))
        {
            var earlier = match.Journal.Concat(match.Rows).First(i => i.CarriedFrom is not null).CarriedFrom;
            return (LeadKind.EarlierDay,
                $"The {@case.Say(j)} and the settled {@case.Say(r)} belong together. One of them is from {earlier}.");
        }

        if (match.Rule == MatchRule.Direction)
        {
            return (LeadKind.Direction, $"The {@case.Say(j)} was settled as a {Direction(r)}: {@case.Say(r)}.");
        }

        if (!match.Difference.IsZero && j.Tender is { } taken && match.Difference == -taken.Tender.Fee && FeeFinding(taken, @case))
        {
            return (LeadKind.TicketFinding,
                $"The {@case.Say(j)}: a wrong fee of {@case.Say(taken.Tender.Fee)} was charged and not settled.");
        }

        if (!match.Difference.IsZero)
        {
            var slip = Slips.Between(j.Amount, r.Amount);
            return (LeadKind.AmountKeyed,
                $"The {@case.Say(j)} was settled with {@case.Say(r.Amount)}{(slip is { } s ? $": {SlipName(s)}" : "")}.");
        }

        return j.Cell.Register != r.Cell.Register
            ? (LeadKind.WrongTerminal,
                $"The {@case.Say(j)} was run on {r.Terminal}, the terminal of {@case.Day.Setup.NameOf(r.Cell.Register)}.")
            : (LeadKind.TenderSwap, $"The {@case.Say(j)} was settled as {@case.Say(r.Cell.Tender)}.");
    }

    /// <summary>Whether a check found the fees of that ticket at fault.</summary>
    private static bool FeeFinding(TakenTender taken, LeadCase @case) =>
        @case.FindingsOf(taken.Ticket.Id).Any(f => f.Code is FindingCode.FeeNotAllowed or FindingCode.FeeWrong);

    private static string Direction(Item item) => item.Direction == Proof.Direction.Refund ? "refund" : "sale";

    /// <summary>The slip in words.</summary>
    internal static string SlipName(Slip slip) => slip switch
    {
        Slip.Sign => "the sign turned",
        Slip.Double => "twice the amount",
        Slip.Decimal => "the decimal point slipped",
        Slip.Transposition => "two neighbouring digits exchanged",
        Slip.DoubledDigit => "a digit typed twice",
        Slip.DroppedDigit => "a digit left out",
        Slip.OneDigit => "one digit differs",
        _ => "a tip added",
    };

    private static double Strength(MatchRule rule) => rule switch
    {
        MatchRule.Reference or MatchRule.ByHand => Odds.NamedByReference,
        MatchRule.Approval => Odds.NamedByApproval,
        MatchRule.Group => Odds.Grouped,
        _ => Odds.ByCircumstance,
    };
}
