using CsCheck;
using Fondo.Core.Amounts;
using Fondo.Core.Days;
using Fondo.Core.Matching;
using Fondo.Core.Reconciling;

using static Fondo.Core.Tests.MadeUp;

namespace Fondo.Core.Tests;

/// <summary>Rules §5: what a person pairs or parts stands, and the rules have the rest.</summary>
public sealed class PairedByHand
{
    private static int _minute;

    private static Pairing Said(PairingKind kind, string[] journal, string[] rows) =>
        new(Guid.NewGuid(), kind, [.. journal], [.. rows], [.. journal.Concat(rows).Select(_ => Money.Zero)], "seen with both", new("p1"),
            DateTimeOffset.UnixEpoch.AddMinutes(_minute++));

    /// <summary>Two sales of 10.00 with their rows by reference, and one of 7.00 that nothing settled.</summary>
    private static Day Two() => Read(
        [
            Ticket("10.00", Card("10.00", "1"), id: "a"),
            Ticket("10.00", Card("10.00", "2"), id: "b"),
            Ticket("7.00", Card("7.00", "3"), id: "c")
        ],
        Row("10.00", "1", "1") + Row("10.00", "2", "2")).Day!;

    private static string[] Matches(Reconciliation r) => [.. r.Matches.Select(m =>
        $"{string.Join('+', m.Journal.Select(j => j.Key))}={string.Join('+', m.Rows.Select(x => x.Key))} {m.Rule.Written()}")];

    [Fact]
    public void A_pair_by_hand_goes_before_every_rule_and_the_rest_is_for_the_rules()
    {
        Assert.Equal(["a#1=T-1/7/1 reference", "b#1=T-1/7/2 reference"], Matches(Reconciliation.Of(Two())));
        // Row 2 has another reference than a: nothing but a person ties them. What is left of the other two fits by circumstance.
        var by = Reconciliation.Of(Two() with { Pairings = [Said(PairingKind.Pair, ["a#1"], ["T-1/7/2"])] });
        Assert.Equal(["a#1=T-1/7/2 by-hand", "b#1=T-1/7/1 proximity"], Matches(by));
        Assert.Equal(["c#1"], by.OpenItems.Select(o => o.Item.Key));
    }

    [Fact]
    public void A_group_by_hand_may_differ_in_amount_and_money_is_conserved()
    {
        var by = Reconciliation.Of(Two() with { Pairings = [Said(PairingKind.Pair, ["c#1", "a#1"], ["T-1/7/1"])] });
        var hand = Assert.Single(by.Matches, m => m.Rule == MatchRule.ByHand);
        Assert.Equal((2, -7_00L), (hand.Journal.Length, hand.Difference.Minor)); // 10.00 settled for 17.00
        Assert.False(hand.IsPlain);
    }

    [Fact]
    public void What_is_parted_stays_open_until_it_is_released()
    {
        var parted = Said(PairingKind.Part, ["a#1"], ["T-1/7/1"]);
        var by = Reconciliation.Of(Two() with { Pairings = [parted] });
        Assert.Equal(["b#1=T-1/7/2 reference"], Matches(by));
        Assert.Equal(["T-1/7/1", "a#1", "c#1"], by.OpenItems.Select(o => o.Item.Key));
        var again = Reconciliation.Of(Two() with { Pairings = [parted, Said(PairingKind.Release, ["a#1"], ["T-1/7/1"])] });
        Assert.Equal(Matches(Reconciliation.Of(Two())), Matches(again));
    }

    [Fact]
    public void The_last_word_counts_and_what_is_left_of_an_earlier_one_is_for_the_rules()
    {
        var first = Said(PairingKind.Pair, ["a#1"], ["T-1/7/2"]);
        var later = Said(PairingKind.Pair, ["b#1"], ["T-1/7/2"]);
        Assert.Equal(["a#1=T-1/7/1 reference", "b#1=T-1/7/2 by-hand"],
            Matches(Reconciliation.Of(Two() with { Pairings = [first, later] })));
    }

    /// <summary>A row that is not there any more, or never was: the pair says nothing, and nothing stops reading.</summary>
    [Theory]
    [InlineData("a#1", "T-1/7/9")]
    [InlineData("z#1", "T-1/7/1")]
    [InlineData("a#1", "b#1")]
    public void A_pair_that_lost_a_side_lapses(string journal, string row) =>
        Assert.Equal(Matches(Reconciliation.Of(Two())),
            Matches(Reconciliation.Of(Two() with { Pairings = [Said(PairingKind.Pair, [journal], [row])] })));

    /// <summary>Whatever persons say: every item is once in the answer, and nothing is lost (the reconciliation asserts that
    /// itself).</summary>
    [Fact]
    public void No_word_of_a_person_loses_or_doubles_anything() =>
        Gen.Select(Gen.Int[0, 2], Gen.Int[0, 9].Array[0, 4], Gen.Int[0, 9].Array[0, 4]).Array[0, 8].Sample(words =>
        {
            string[] amounts = ["10.00", "10.00", "20.00", "5.00", "5.00", "7.77", "10.00", "3.00"];
            var day = Read(amounts.Select((a, i) => Ticket(a, Card(a, $"{i}"), id: $"t{i}")),
                string.Concat(amounts.Select((a, i) => Row(a, $"{(i + 3) % 9}", $"{i}")))).Day!;
            var said = words.Select(w =>
                Said((PairingKind)w.Item1, [.. w.Item2.Select(i => $"t{i}#1")], [.. w.Item3.Select(i => $"T-1/7/{i}")])).ToArray();
            var by = Reconciliation.Of(day with { Pairings = [.. said] });
            var keys = by.Matches.SelectMany(m => m.Journal.Concat(m.Rows)).Concat(by.OpenItems.Select(o => o.Item)).Select(i => i.Key)
                .ToList();
            Assert.Equal(16, keys.Count);
            Assert.Equal(16, keys.Distinct().Count());
            var last = said.SelectMany(s => s.Keys.Select(k => (k, s))).GroupBy(x => x.k).ToDictionary(g => g.Key, g => g.Last().s);
            Assert.All(by.Matches.Where(m => m.Rule != MatchRule.ByHand).SelectMany(m => m.Journal.Concat(m.Rows)),
                i => Assert.True(!last.TryGetValue(i.Key, out var word) || word.Kind != PairingKind.Part));
        }, iter: 600);
}
