using Fondo.Core.Cells;
using Fondo.Core.Proof;

namespace Fondo.Core.Leads;

/// <summary><c>count-slip</c>: one denomination miscounted. A row off by one line, a strap or roll missed or counted twice, a value entered as a number of pieces.</summary>
internal sealed class CountSlips : IDifferenceSearch
{
    public IEnumerable<Explanation> Search(LeadCase @case, Cell drawer, Money difference)
    {
        if (!@case.Closing.TryGetValue(drawer.Key.Drawer!.Value, out var count))
        {
            yield break;
        }

        var slips = Rows(@case, count, difference).Concat(Bundles(@case, count, difference)).Concat(Values(@case, count, difference)).ToList();
        if (slips.Count > 0)
        {
            var (says, weight) = slips.MaxBy(s => s.Weight);
            yield return new(LeadKind.CountSlip, [new Posting(drawer.Key, difference)], [count.Id], says, weight);
        }
    }

    /// <summary>Rows that may have been entered one line off as a whole: nothing stands on the line where they would belong.</summary>
    public static IEnumerable<Explanation> OfWholeLines(LeadCase @case)
    {
        var lines = Lines(@case);
        foreach (var drawer in @case.OffDrawers.Where(d => @case.Closing.ContainsKey(d.Key.Drawer!.Value)))
        {
            var count = @case.Closing[drawer.Key.Drawer!.Value];
            foreach (var (right, entered) in Neighbours(lines).Where(p => Number(count, p.Right) == 0 && Number(count, p.Entered) > 2))
            {
                var pieces = Number(count, entered);
                yield return new(LeadKind.CountSlip, [new Posting(drawer.Key, (entered - right) * pieces)], [count.Id], Moved(@case, pieces, right, entered), Odds.WholeLine);
            }
        }
    }

    private static Money[] Lines(LeadCase @case) => [.. @case.Day.Counts.SelectMany(c => c.Pieces).Select(p => p.Denomination).Distinct().Order()];

    private static IEnumerable<(Money Right, Money Entered)> Neighbours(Money[] lines) => lines.Zip(lines.Skip(1)).SelectMany(p => new[] { (p.First, p.Second), (p.Second, p.First) });

    private static string Moved(LeadCase @case, long pieces, Money right, Money entered) =>
        $"{pieces} pieces of {@case.Say(right)} may have been entered on the line of {@case.Say(entered)}.";

    /// <summary>So many pieces of one denomination entered on the next line.</summary>
    private static IEnumerable<(string Says, double Weight)> Rows(LeadCase @case, Count count, Money difference)
    {
        foreach (var (right, entered) in Neighbours(Lines(@case)))
        {
            var (pieces, rest) = Math.DivRem(difference.Minor, (entered - right).Minor);
            if (rest == 0 && pieces > 0 && pieces <= Number(count, entered))
            {
                yield return (Moved(@case, pieces, right, entered),
                    Number(count, right) == 0 ? pieces > 2 ? Odds.SlipOfALine : Odds.FewPieces : Odds.PartOfARow);
            }
        }
    }

    /// <summary>A strap of notes or a roll of coins missed, or counted twice.</summary>
    private static IEnumerable<(string Says, double Weight)> Bundles(LeadCase @case, Count count, Money difference)
    {
        foreach (var denomination in @case.Day.Setup.Denominations.Where(d => d.Pack is not null))
        {
            var (bundle, what) = (denomination.Pack!.Value, denomination.IsNote ? "strap" : "roll");
            if (difference == -(denomination.Worth * bundle))
            {
                yield return ($"A {what} of {@case.Say(denomination.Worth)} may have been missed.", Odds.Bundle);
            }
            else if (difference == denomination.Worth * bundle && Number(count, denomination.Worth) >= bundle)
            {
                yield return ($"A {what} of {@case.Say(denomination.Worth)} may have been counted twice.", Odds.Bundle);
            }
        }
    }

    /// <summary>The value of a row, in whole units, entered as its number of pieces.</summary>
    private static IEnumerable<(string Says, double Weight)> Values(LeadCase @case, Count count, Money difference)
    {
        var unit = @case.Day.Setup.Currency.Unit;
        foreach (var row in count.Pieces.Where(p => p.Denomination.Minor != unit && difference.Minor == p.Number * (p.Denomination.Minor - unit)))
        {
            yield return ($"{row.Number} may be the value of the row of {@case.Say(row.Denomination)}, not its pieces.", Odds.SlipOfALine);
        }
    }

    private static int Number(Count count, Money denomination) => count.Pieces.Where(p => p.Denomination == denomination).Sum(p => p.Number);
}
