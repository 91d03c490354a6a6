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
            yield return OfBatch(batch);
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
            var (kind, fact) = Name(match, @case);
            yield return new(kind, effects, keys, fact, Strength(match.Rule), Remedy(kind, match));
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

    private static Explanation OfBatch(List<Match> batch)
    {
        var (first, amount) = (batch[0].Rows[0], batch.SelectMany(m => m.Rows).Sum(r => r.Amount));
        return new(
            LeadKind.EarlierDay, [new Posting(first.Cell, amount)],
            [.. batch.SelectMany(m => m.Journal).Select(j => j.Key), .. batch.SelectMany(m => m.Rows).Select(r => r.Key)],
            new LeadFact.BatchArrived(batch.Sum(m => m.Rows.Length), amount, batch[0].Journal[0].CarriedFrom!.Value, first.Row!.Key),
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

    private static (LeadKind Kind, LeadFact Fact) Name(Match match, LeadCase @case)
    {
        var (j, r) = (match.Journal[0], match.Rows[0]);
        if (match.Journal.Any(i => i.CarriedFrom is not null) || match.Rows.Any(i => i.CarriedFrom is not null))
        {
            var earlier = match.Journal.Concat(match.Rows).First(i => i.CarriedFrom is not null).CarriedFrom;
            return (LeadKind.EarlierDay, new LeadFact.PairArrived(j, r, earlier!.Value));
        }

        if (match.Rule == MatchRule.Direction)
        {
            return (LeadKind.Direction, new LeadFact.SettledTheOtherWay(j, r));
        }

        if (!match.Difference.IsZero && j.Tender is { } taken && match.Difference == -taken.Tender.Fee && FeeFinding(taken, @case))
        {
            return (LeadKind.TicketFinding, new LeadFact.FeeNotSettled(j, taken.Tender.Fee));
        }

        if (!match.Difference.IsZero)
        {
            return (LeadKind.AmountKeyed, new LeadFact.AmountKeyed(j, r, Slips.Between(j.Amount, r.Amount)));
        }

        return j.Cell.Register != r.Cell.Register
            ? (LeadKind.WrongTerminal, new LeadFact.WrongTerminal(j, r))
            : (LeadKind.TenderSwap, new LeadFact.SettledAsAnother(j, r));
    }

    /// <summary>Whether a check found the fees of that ticket at fault.</summary>
    private static bool FeeFinding(TakenTender taken, LeadCase @case) =>
        @case.FindingsOf(taken.Ticket.Id).Any(f => f.Code is FindingCode.FeeNotAllowed or FindingCode.FeeWrong);

    private static double Strength(MatchRule rule) => rule switch
    {
        MatchRule.Reference or MatchRule.ByHand => Odds.NamedByReference,
        MatchRule.Approval => Odds.NamedByApproval,
        MatchRule.Group => Odds.Grouped,
        _ => Odds.ByCircumstance,
    };
}
