using CsCheck;
using Fondo.Core.Amounts;
using Fondo.Core.Days;
using Fondo.Core.Journal;
using Fondo.Core.Matching;
using Fondo.Core.Proof;
using Google.OrTools.Sat;

namespace Fondo.Core.Tests;

/// <summary>What is claimed to be best as a whole, against Google OR-Tools (CP-SAT) on random knots.</summary>
public sealed class AgainstOrTools
{
    private static readonly DateTimeOffset _noon = new(2026, 11, 21, 12, 0, 0, TimeSpan.FromHours(-5));

    private static readonly TimeSpan _window = TimeSpan.FromMinutes(15);

    /// <summary>The most choices that do not touch one another, and the least distance in sum of so many.</summary>
    private static (int Number, long Distance) Best(IReadOnlyList<(int[] Items, long Distance)> choices)
    {
        var model = new CpModel();
        var chosen = choices.Select((_, i) => model.NewBoolVar($"c{i}")).ToArray();
        foreach (var item in choices.SelectMany(c => c.Items).Distinct())
        {
            model.AddAtMostOne(choices.Select((c, i) => (c, i)).Where(c => c.c.Items.Contains(item)).Select(c => chosen[c.i]));
        }

        var weight = choices.Sum(c => c.Distance) + 1;
        model.Maximize(LinearExpr.WeightedSum(chosen, choices.Select(c => weight - c.Distance)));
        var solver = new CpSolver { StringParameters = "num_search_workers:1" };
        Assert.Equal(CpSolverStatus.Optimal, solver.Solve(model));
        var picked = choices.Where((_, i) => solver.BooleanValue(chosen[i])).ToList();
        return (picked.Count, picked.Sum(p => p.Distance));
    }

    [Fact]
    public void Any_candidates_are_assigned_best_as_a_whole() =>
        Gen.Select(Gen.Int[0, 6], Gen.Int[0, 6], Gen.Int[0, 12]).Array[1, 20].Sample(drawn =>
        {
            Candidate[] candidates = [.. drawn.Select(d => new Candidate(d.Item1, d.Item2, d.Item3)).DistinctBy(c => (c.Left, c.Right))];
            var ours = Assignment.Best(7, 7, candidates);
            Assert.Equal(ours.Length, ours.Select(c => c.Left).Distinct().Count());
            Assert.Equal(ours.Length, ours.Select(c => c.Right).Distinct().Count());
            Assert.All(ours, c => Assert.Contains(c, candidates));
            Assert.Equal(Best([.. candidates.Select(c => (new[] { c.Left, 100 + c.Right }, c.Distance))]),
                (ours.Length, ours.Sum(c => c.Distance)));
        }, iter: 300);

    private static Item Tender(string id, int seconds, long amount, string? card = null) => Item.Of(
        new TakenTender(
            new Ticket(new(new(id), new("L1"), new("L1-A"), null, _noon.AddSeconds(seconds)), EventKind.Sale, null, [], Money.Zero,
                Money.Zero, Money.Zero, Money.Zero, Money.Zero, Money.Zero, Money.Zero,
                [new(TenderId.Credit, new(amount), Money.Zero, Money.Zero, Money.Zero, Money.Zero,
                    new(new("T-1"), null, card, null, null, null), TenderResult.Approved, null, null, null)], null), 1), null);

    private static Item Row(int number, int seconds, long amount, string? card = null) => Item.Of(
        new BatchRow(new(new("T-1"), "7", $"{number}"), _noon.AddSeconds(seconds), Direction.Sale, new(amount), Money.Zero, Money.Zero,
            new(new("T-1"), null, card, null, null, null), Benefit.None),
        new CellKey.Takings(new("L1"), null, TenderId.Credit), null);

    private static Paired Match(Item[] tenders, Item[] rows) => Matcher.Match(tenders, rows, _window, _ => false);

    private static long Apart(Item a, Item b) => (a.At - b.At).Duration().Ticks;

    /// <summary>One amount, one terminal, an hour: time alone decides, or time and the last four where both have them.</summary>
    [Theory]
    [InlineData(false)]
    [InlineData(true)]
    public void A_knot_of_one_amount_is_paired_best_as_a_whole(bool withCards)
    {
        string?[] cards = withCards ? [null, "1111", "2222"] : [null];
        var items = Gen.Select(Gen.Int[0, 3600], Gen.Int[0, cards.Length - 1]).Array[1, 9];
        items.Select(items).Sample((left, right) =>
        {
            Item[] tenders = [.. left.Select((l, i) => Tender($"t{i}", l.Item1, 999, cards[l.Item2]))];
            Item[] rows = [.. right.Select((r, i) => Row(i, r.Item1, 999, cards[r.Item2]))];
            var choices = tenders.SelectMany((t, i) => rows.Select((r, j) => (Items: new[] { i, 100 + j }, Distance: Apart(t, r),
                Fits: t.Card.LastFour is not { } a || r.Card.LastFour is not { } b || a == b)))
                .Where(c => c.Distance <= _window.Ticks && c.Fits).Select(c => (c.Items, c.Distance)).ToList();
            var ours = Match(tenders, rows).Matches;
            Assert.All(ours, m => Assert.Equal(MatchRule.Proximity, m.Rule));
            Assert.Equal(choices.Count == 0 ? (0, 0) : Best(choices), (ours.Length, ours.Sum(m => Apart(m.Journal[0], m.Rows[0]))));
        }, iter: 200);
    }

    [Fact]
    public void Groups_are_chosen_best_as_a_whole() =>
        Gen.Select(Gen.Int[0, 1200], Gen.Int[1, 8]).Array[1, 7].Select(Gen.Select(Gen.Int[0, 1200], Gen.Int[1, 20]).Array[1, 4])
            .Sample((left, right) =>
        {
            Item[] tenders = [.. left.Select((l, i) => Tender($"t{i}", l.Item1, l.Item2 * 100, "1234"))];
            Item[] rows = [.. right.Select((r, i) => Row(i, r.Item1, r.Item2 * 100, "1234"))];
            foreach (var side in new[] { tenders, rows })
            {
                for (var i = 0; i < side.Length; i++)
                {
                    side[i].Rank = i;
                }
            }

            var choices = OneAgainstMany(tenders, rows, 0, 100).Concat(OneAgainstMany(rows, tenders, 100, 0)).ToList();
            var ours = new GroupRule().Find(tenders, rows, _window).ToList();
            Assert.All(ours, m => Assert.True(m.Difference.IsZero));
            Assert.Equal(ours.Sum(m => m.Journal.Length + m.Rows.Length),
                ours.SelectMany(m => m.Journal.Concat(m.Rows)).Distinct().Count());
            Assert.Equal(choices.Count == 0 ? (0, 0) : Best(choices),
                (ours.Count, ours.Sum(m => m.Journal.Sum(j => m.Rows.Sum(r => Apart(j, r))))));
        }, iter: 200);

    /// <summary>Every set of two to four of the many that adds up to a single one within the window: by trying them all.</summary>
    private static IEnumerable<(int[] Items, long Distance)> OneAgainstMany(Item[] ones, Item[] many, int oneFrom, int manyFrom)
    {
        for (var one = 0; one < ones.Length; one++)
        {
            for (var set = 0; set < 1 << many.Length; set++)
            {
                var chosen = Enumerable.Range(0, many.Length).Where(i => (set >> i & 1) == 1).ToArray();
                if (chosen.Length is >= 2 and <= 4 && chosen.Sum(i => many[i].Amount).Equals(ones[one].Amount)
                    && chosen.All(i => Apart(many[i], ones[one]) <= _window.Ticks))
                {
                    yield return ([oneFrom + one, .. chosen.Select(i => manyFrom + i)], chosen.Sum(i => Apart(many[i], ones[one])));
                }
            }
        }
    }

    /// <summary>Six thousand rows of one amount at one terminal within an hour, without codes: the pairing is as long as it can be,
    /// and as near as a solver makes it on any stretch that is cut out of it.</summary>
    [Fact]
    public void The_worst_case_is_still_paired_whole()
    {
        var random = new Random(5);
        Item[] tenders = [.. Enumerable.Range(0, 6_000).Select(i => Tender($"t{i:00000}", random.Next(3600), 999))];
        Item[] rows = [.. Enumerable.Range(0, 6_000).Select(i => Row(i, random.Next(3600), 999))];
        var matching = Match(tenders, rows);
        Assert.Equal(6_000, matching.Matches.Length);
        // As many on both sides: the least sum on a line pairs the two in their order.
        var least = tenders.Select(t => t.At).Order().Zip(rows.Select(r => r.At).Order()).Sum(p => (p.First - p.Second).Duration().Ticks);
        Assert.Equal(least, matching.Matches.Sum(m => Apart(m.Journal[0], m.Rows[0])));
    }
}
