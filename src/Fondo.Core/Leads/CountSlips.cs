using Fondo.Core.Cells;
using Fondo.Core.Proof;
using Fondo.Core.SetUp;

namespace Fondo.Core.Leads;

/// <summary><c>count-slip</c>: one denomination miscounted. A row off by one line, a strap or roll missed or counted twice, a value entered
/// as a number of pieces.</summary>
internal sealed class CountSlips : ILeadSearch
{
    private const int Few = 3;

    public IEnumerable<Explanation> SearchFor(LeadCase @case, Cell drawer, Money difference)
    {
        if (@case.Facts(drawer.Key.Drawer!.Value) is not { Count: { } count } facts)
        {
            yield break;
        }

        if (Best(facts, @case.Lines, @case.Day.Setup, difference) is var (fact, found, weight))
        {
            yield return new(LeadKind.CountSlip, [new Posting(drawer.Key, difference)], [count.Id], fact, weight,
                new LeadRemedy.Recount(count.Id, found));
        }
    }

    /// <summary>The likeliest slip of one row that comes to a difference; null where none does.</summary>
    /// <param name="lines">The denominations that anybody counted, smallest first.</param>
    public static (LeadFact Fact, ImmutableArray<Pieces> Found, double Weight)? Best(DrawerFacts facts, ImmutableArray<Money> lines,
        Setup setup, Money difference)
    {
        var slips = Rows(lines, facts, difference).Concat(Bundles(setup, facts, difference)).Concat(Values(setup, facts, difference))
            .ToList();
        return slips.Count == 0 ? null : slips.MaxBy(s => s.Weight);
    }

    /// <summary>Rows that may have been entered one line off as a whole: nothing stands on the line where they would belong.</summary>
    public IEnumerable<Explanation> Search(LeadCase @case)
    {
        foreach (var drawer in @case.OffDrawers)
        {
            if (@case.Facts(drawer.Key.Drawer!.Value) is not { Count: { } count } facts)
            {
                continue;
            }

            foreach (var (right, entered) in Neighbours(@case.Lines).Where(p => facts.Number(p.Right) == 0 && facts.Number(p.Entered) > 2))
            {
                var pieces = facts.Number(entered);
                yield return new(LeadKind.CountSlip, [new Posting(drawer.Key, (entered - right) * pieces)], [count.Id],
                    new LeadFact.RowMoved(pieces, right, entered), Odds.WholeLine,
                    new LeadRemedy.Recount(count.Id, Lines(pieces, right, entered)));
            }
        }
    }

    private static IEnumerable<(Money Right, Money Entered)> Neighbours(ImmutableArray<Money> lines) =>
        lines.Zip(lines.Skip(1)).SelectMany(p => new[] { (p.First, p.Second), (p.Second, p.First) });

    private static ImmutableArray<Pieces> Lines(long pieces, Money right, Money entered) =>
        [new(right, (int)pieces), new(entered, (int)-pieces)];

    /// <summary>So many pieces of one denomination entered on the next line.</summary>
    private static IEnumerable<(LeadFact Fact, ImmutableArray<Pieces> Found, double Weight)> Rows(ImmutableArray<Money> lines,
        DrawerFacts facts, Money difference)
    {
        foreach (var (right, entered) in Neighbours(lines))
        {
            var (pieces, rest) = Math.DivRem(difference.Minor, (entered - right).Minor);
            if (rest == 0 && pieces > 0 && pieces <= facts.Number(entered))
            {
                yield return (new LeadFact.RowMoved(pieces, right, entered), Lines(pieces, right, entered),
                    facts.Number(right) == 0 ? pieces > Few ? Odds.SlipOfALine : Odds.FewPieces
                    : pieces <= Few ? Odds.Stuck
                    : Odds.PartOfARow);
            }
        }
    }

    /// <summary>A strap of notes or a roll of coins missed, or counted twice.</summary>
    private static IEnumerable<(LeadFact Fact, ImmutableArray<Pieces> Found, double Weight)> Bundles(Setup setup, DrawerFacts facts,
        Money difference)
    {
        foreach (var denomination in setup.Denominations.Where(d => d.Pack is not null))
        {
            var bundle = denomination.Pack!.Value;
            if (difference == -(denomination.Worth * bundle))
            {
                yield return (new LeadFact.BundleMiscounted(denomination.Worth, denomination.IsNote, IsTwice: false),
                    [new(denomination.Worth, bundle)], Odds.Bundle);
            }
            else if (difference == denomination.Worth * bundle && facts.Number(denomination.Worth) >= bundle)
            {
                yield return (new LeadFact.BundleMiscounted(denomination.Worth, denomination.IsNote, IsTwice: true),
                    [new(denomination.Worth, -bundle)], Odds.Bundle);
            }
        }
    }

    /// <summary>The value of a row, in whole units, entered as its number of pieces.</summary>
    private static IEnumerable<(LeadFact Fact, ImmutableArray<Pieces> Found, double Weight)> Values(Setup setup, DrawerFacts facts,
        Money difference)
    {
        var unit = setup.Currency.Unit;
        foreach (var row in facts.Rows.Where(p => p.Denomination.Minor != unit
            && difference.Minor == p.Number * (p.Denomination.Minor - unit)))
        {
            yield return (new LeadFact.ValueAsPieces(row.Number, row.Denomination),
                row.Number * unit % row.Denomination.Minor == 0
                    ? [new(row.Denomination, (int)((row.Number * unit / row.Denomination.Minor) - row.Number))]
                    : [], Odds.SlipOfALine);
        }
    }
}
