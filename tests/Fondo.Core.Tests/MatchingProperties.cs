using CsCheck;
using Fondo.Core.Amounts;
using Fondo.Core.Matching;
using Fondo.Core.Reconciling;

using static Fondo.Core.Tests.MadeUp;

namespace Fondo.Core.Tests;

/// <summary>What holds for every day, however tangled: days of few amounts, cards, codes and terminals, so that everything competes with
/// everything.</summary>
public sealed class MatchingProperties
{
    private sealed record Drawn(int Amount, int Card, int Code, int Reference, int Minute, int Terminal, bool IsRefund);

    private static readonly string[] _amounts = ["9.99", "9.99", "19.98", "99.90", "5.00", "4.99", "14.99"];

    private static readonly Gen<Drawn> _drawn = Gen.Select(
        Gen.Int[0, _amounts.Length - 1], Gen.Int[0, 3], Gen.Int[0, 6], Gen.Int[0, 6], Gen.Int[0, 59], Gen.Int[1, 2], Gen.Int[0, 5],
        (amount, card, code, reference, minute, terminal, refund) =>
            new Drawn(amount, card, code, reference, minute, terminal, refund == 0));

    private static readonly Gen<(Drawn[] Tenders, Drawn[] Rows, int Seed)> _days =
        Gen.Select(_drawn.Array[0, 14], _drawn.Array[0, 14], Gen.Int[0, 1000]);

    private static string? Some(int number, string prefix) => number < 2 ? null : $"{prefix}{number}";

    private static string Ticket(Drawn d, int i)
    {
        static string Json(string? text) => text is null ? "null" : $"\"{text}\"";
        var amount = (d.IsRefund ? "-" : "") + _amounts[d.Amount];
        return MadeUp.Ticket(amount,
            $$"""{"type":"credit","amount":"{{amount}}","terminal":"T-{{d.Terminal}}","card":{{Json(Some(d.Card, "111"))}},"auth":{{Json(Some(d.Code, "A"))}},"rrn":{{Json(Some(d.Reference, "R"))}}}""",
            $"10:{d.Minute:00}", kind: d.IsRefund ? "refund" : "sale", id: $"t{i}");
    }

    private static string Row(Drawn d, int i) =>
        $"T-{d.Terminal},7,{i},{At($"10:{d.Minute:00}")},{(d.IsRefund ? "refund" : "sale")},{_amounts[d.Amount]},0.00,0.00,heron,"
            + $"{Some(d.Card, "111")},{Some(d.Code, "A")},{Some(d.Reference, "R")},chip,\n";

    private static Reconciliation Day(IEnumerable<string> tickets, IEnumerable<string> rows) => Reconcile(tickets, string.Concat(rows));

    private static IEnumerable<(string, string, string)> Matches(Reconciliation day) =>
        day.Matches.Select(m =>
            (string.Join('+', m.Journal.Select(j => j.Key)), string.Join('+', m.Rows.Select(r => r.Key)), m.Rule.Written()));

    [Fact]
    public void The_order_of_the_input_has_no_meaning() =>
        _days.Sample((tenders, rows, seed) =>
        {
            var (left, right) = (tenders.Select(Ticket).ToArray(), rows.Select(Row).ToArray());
            var straight = Day(left, right);
            var random = new Random(seed);
            random.Shuffle(left);
            random.Shuffle(right);
            var shuffled = Day(left, right);
            Assert.Equal(Matches(straight), Matches(shuffled));
            Assert.Equal(straight.OpenItems.Select(o => (o.Item.Key, o.Cause)), shuffled.OpenItems.Select(o => (o.Item.Key, o.Cause)));
        }, iter: 500);

    [Fact]
    public void Every_item_is_used_once_and_no_money_is_lost() =>
        _days.Sample((tenders, rows, _) =>
        {
            var day = Day(tenders.Select(Ticket), rows.Select(Row)); // Reconciliation.Of asserts the conservation itself
            var used = day.Matches.SelectMany(m => m.Journal.Concat(m.Rows)).Concat(day.OpenItems.Select(o => o.Item)).Select(i => i.Key)
                .ToList();
            Assert.Equal(tenders.Length + rows.Length, used.Count + day.Day.RowsAgain.Length);
            Assert.Equal(used.Count, used.Distinct().Count());
            Assert.Equal(
                day.Cells.Where(c => c.Key.Written.Tender == "credit").Sum(c => c.Variance!.Value),
                day.Matches.Sum(m => m.Difference) + day.OpenItems.Sum(o => o.Effect));
        }, iter: 500);

    /// <summary>A rule takes only what agrees as it says.</summary>
    [Fact]
    public void Each_match_agrees_on_what_its_rule_says() =>
        _days.Sample((tenders, rows, _) =>
        {
            foreach (var match in Day(tenders.Select(Ticket), rows.Select(Row)).Matches)
            {
                var (j, r) = (match.Journal[0], match.Rows[0]);
                var near = match.Journal.All(a => match.Rows.All(b => (a.At - b.At).Duration() <= TimeSpan.FromMinutes(15)));
                var sameCard = Alike(j.Card.LastFour, r.Card.LastFour);
                Assert.True(match.Rule.Written() switch
                {
                    "reference" => Alike(j.Card.Rrn, r.Card.Rrn) && j.Amount == r.Amount,
                    "approval" => Alike(j.Card.Approval, r.Card.Approval) && sameCard && j.Amount == r.Amount,
                    "proximity" => near && Alike(j.Terminal?.Value, r.Terminal?.Value) && j.Amount == r.Amount,
                    "other-terminal" => j.Terminal != r.Terminal && j.Amount == r.Amount
                        && (Alike(j.Card.Approval, r.Card.Approval) || (near && sameCard)),
                    "amount-differs" => j.Direction == r.Direction && j.Amount != r.Amount
                        && (Alike(j.Card.Rrn, r.Card.Rrn) || (sameCard && (Alike(j.Card.Approval, r.Card.Approval) || near))),
                    "direction" => j.Amount == -r.Amount,
                    "group" => match.Difference.IsZero && match.Journal.Length + match.Rows.Length is >= 3 and <= 5
                        && (match.Journal.Length == 1 || match.Rows.Length == 1) && IsOneCard(match),
                    _ => false,
                }, match.Rule.Written());
            }

            // Two that both say nothing do not agree.
            static bool Alike(string? a, string? b) => a is not null && a == b;
            static bool IsOneCard(Match m) =>
                m.Journal.All(a => m.Rows.All(b => Alike(a.Terminal?.Value, b.Terminal?.Value) && Alike(a.Card.LastFour, b.Card.LastFour)));
        }, iter: 500);

    /// <summary>The tangled days above do reach every rule: else the properties would say nothing.</summary>
    [Fact]
    public void Tangled_days_reach_every_rule()
    {
        var seen = new HashSet<string>();
        var random = new Random(11);
        Drawn One() => new(random.Next(_amounts.Length), random.Next(4), random.Next(7), random.Next(7), random.Next(60), random.Next(1, 3),
            random.Next(6) == 0);
        for (var i = 0; i < 300; i++)
        {
            seen.UnionWith(Day(Enumerable.Range(0, 14).Select(n => Ticket(One(), n)),
                Enumerable.Range(0, 14).Select(n => Row(One(), n))).Matches.Select(m => m.Rule.Written()));
        }

        Assert.Equal(Matcher.Rules.Select(r => r.Rule.Written()).Order(), seen.Order());
    }

    [Fact]
    public void A_group_is_one_card_in_parts()
    {
        string Of(string amount, string rrn, string at, string id) => MadeUp.Ticket(amount, Card(amount, rrn), at, id: id);
        var day = Reconcile(
            [Of("13.37", "1", "10:00", "a"), Of("20.20", "2", "10:05", "b"), Of("7.43", "3", "10:10", "c"), Of("61.00", "4", "11:00", "d")],
            MadeUp.Row("41.00", "9", "1", "10:06") + MadeUp.Row("22.22", "10", "2", "11:01") + MadeUp.Row("38.78", "11", "3", "11:02"));
        Assert.Equal([("a#1+b#1+c#1", "T-1/7/1", "group"), ("d#1", "T-1/7/2+T-1/7/3", "group")], Matches(day));
        Assert.Empty(day.OpenItems);
    }

    [Fact]
    public void The_row_of_a_voided_tender_is_offered_to_no_weaker_rule()
    {
        var day = Reconcile(
            [
                MadeUp.Ticket("9.99", Card("9.99", "1"), id: "void"),
                Event("void", "\"original\":\"void\""),
                MadeUp.Ticket("9.99", Card("9.99", "2"), "10:01", id: "lost")
            ],
            MadeUp.Row("9.99", "1", "1"));
        Assert.Equal([("T-1/7/1", "void-not-sent"), ("lost#1", "missing-from-batch")],
            day.OpenItems.Select(o => (o.Item.Key, o.Cause.Written())));
    }

    /// <summary>A sale after its drawer was closed belongs to the next trading day: its row waits for it, whoever else lacks one.</summary>
    [Fact]
    public void The_row_of_a_late_sale_waits_for_the_next_day()
    {
        var day = Reconcile(
            [
                Event("close", "", "10:30"),
                MadeUp.Ticket("9.99", Card("9.99", "1"), "10:31", id: "late"),
                MadeUp.Ticket("9.99", Card("9.99", "2"), "10:29", id: "lost")
            ],
            MadeUp.Row("9.99", "1", "1", "10:31"));
        Assert.Equal([("T-1/7/1", "not-in-journal"), ("lost#1", "missing-from-batch")],
            day.OpenItems.Select(o => (o.Item.Key, o.Cause.Written())));
    }
}
