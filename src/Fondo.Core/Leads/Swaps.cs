using Fondo.Core.Cells;
using Fondo.Core.Days;
using Fondo.Core.Entries;
using Fondo.Core.Journal;
using Fondo.Core.Matching;

namespace Fondo.Core.Leads;

/// <summary><c>tender-swap</c> between a drawer and a terminal, or within a drawer: taken as one tender, recorded as another.</summary>
internal sealed class Swaps : ILeadSearch
{
    private const int MostNamed = 8;

    public IEnumerable<Explanation> Search(LeadCase @case) =>
        @case.Result.OpenItems.Where(o => o.Item.CarriedFrom is null && o.Cause is Cause.NotInJournal or Cause.MissingFromBatch)
            .SelectMany(o => WithTerminal(o, @case))
            .Concat(CheckAsCash(@case));

    /// <summary>A settled row that is a cash or check ticket; or a recorded card tender that was in fact paid into the drawer.</summary>
    private static IEnumerable<Explanation> WithTerminal(OpenItem open, LeadCase @case)
    {
        var window = @case.Day.Setup.Policy.MatchWindow;
        foreach (var session in @case.Sessions.Where(s => s.Register == open.Item.Cell.Register))
        {
            if (open.Side == OpenIn.Batch)
            {
                foreach (var taken in (@case.Facts(session.Drawer)?.ByExpected[open.Item.Amount] ?? [])
                    .Where(t => (t.Ticket.At - open.Item.At).Duration() <= window))
                {
                    var drawer = new CellKey.Takings(session.Register, session.Drawer, taken.Tender.Type);
                    if (!@case.IsOff(drawer))
                    {
                        continue;
                    }

                    yield return new(LeadKind.TenderSwap,
                        [new Posting(drawer, -open.Item.Amount), new Posting(open.Item.Cell, open.Item.Amount)],
                        [taken.Key.ToString(), open.Item.Key],
                        new LeadFact.PaidByCard(taken, open.Item.Row!),
                        Odds.Swap, new LeadRemedy.Record(MovementKind.Sale));
                }
            }
            else if (open.Item.Tender?.Ticket.Drawer == session.Drawer
                && @case.IsOff(new CellKey.Takings(session.Register, session.Drawer, TenderId.Cash)))
            {
                var drawer = new CellKey.Takings(session.Register, session.Drawer, TenderId.Cash);
                yield return new(LeadKind.TenderSwap,
                    [new Posting(drawer, open.Item.Amount), new Posting(open.Item.Cell, -open.Item.Amount)], [open.Item.Key],
                    new LeadFact.CardPaidInCash(open.Item),
                    Odds.MissingCard, new LeadRemedy.Record(MovementKind.Sale));
            }
        }
    }

    /// <summary>A check counted that no ticket has, and a cash ticket of its amount; or the other way round.</summary>
    private static IEnumerable<Explanation> CheckAsCash(LeadCase @case)
    {
        foreach (var drawer in @case.Drawers)
        {
            if (@case.Facts(drawer) is not { Count: { } count } facts)
            {
                continue;
            }

            var register = @case.Sessions.FirstOrDefault(s => s.Drawer == drawer)?.Register;
            var (cash, checks) =
                (new CellKey.Takings(register, drawer, TenderId.Cash), new CellKey.Takings(register, drawer, TenderId.Check));
            if (!@case.IsOff(checks))
            {
                continue;
            }

            var recorded = facts.Taken.Where(t => t.Tender.Type == TenderId.Check).ToList();
            foreach (var (check, place) in count.Checks.Select((c, i) => (c, i))
                .Where(c => recorded.All(t => t.Tender.Amount != c.c.Amount || !SameNumber(t.Tender.Number, c.c.Number))))
            {
                var fitting = facts.ByExpected[check.Amount].Where(t => t.Tender.Type == TenderId.Cash).Take(MostNamed).ToList();
                if (fitting.Count > 0 && @case.IsOff(cash))
                {
                    yield return new(LeadKind.TenderSwap, [new Posting(cash, -check.Amount), new Posting(checks, check.Amount)],
                        [.. fitting.Select(t => t.Key.ToString()), count.Id],
                        new LeadFact.PaidByCheck(fitting[0], fitting.Count, check.Number, check.Amount), Odds.Swap,
                            new LeadRemedy.Record(MovementKind.Sale))
                    {
                        Uses = [$"check {place + 1} of {count.Id}", .. fitting.Count == 1 ? [fitting[0].Key.ToString()] : (string[])[]],
                    };
                }
            }

            foreach (var taken in recorded.Where(t => @case.IsOff(cash)
                && count.Checks.All(c => c.Amount != t.Tender.Amount || !SameNumber(t.Tender.Number, c.Number))))
            {
                yield return new(LeadKind.TenderSwap, [new Posting(cash, taken.Tender.Amount), new Posting(checks, -taken.Tender.Amount)],
                    [taken.Key.ToString()],
                    new LeadFact.CheckMissing(taken),
                    Odds.MissingCheck, new LeadRemedy.Record(MovementKind.Sale));
            }
        }
    }

    /// <summary>A check without a number is any check of its amount.</summary>
    private static bool SameNumber(string? recorded, string counted) =>
        string.IsNullOrEmpty(recorded) || counted.Length == 0 || recorded == counted;
}
