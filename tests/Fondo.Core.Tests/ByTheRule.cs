using CsCheck;
using Fondo.Core.Amounts;
using Fondo.Core.Cells;
using Fondo.Core.Closing;
using Fondo.Core.Days;
using Fondo.Core.Entries;
using Fondo.Core.Journal;
using Fondo.Core.Leads;
using Fondo.Core.Matching;
using Fondo.Core.Reconciling;
using Fondo.Core.Sheets;

using static Fondo.Core.Tests.MadeUp;

namespace Fondo.Core.Tests;

/// <summary>Worked examples written out of the rules, a sentence of theirs each, with figures that no code of ours computed.</summary>
public sealed class ByTheRule
{
    private const string TotalsHeader = "terminal,batch,closed,sales_count,sales_amount,refunds_count,refunds_amount\n";

    private static string Cash(string amount, string change = "0.00") =>
        $$"""{"type":"cash","amount":"{{amount}}","change":"{{change}}"}""";

    private static string Pays(string type, string amount, string more = "") => $$"""{"type":"{{type}}","amount":"{{amount}}"{{more}}}""";

    /// <summary>Rules §1: expected of a tender is what it was taken for; change is cash that left the drawer, whatever the record hangs it
    /// on.</summary>
    [Theory]
    [InlineData("check", "L1-A")]
    [InlineData("credit", null)]
    [InlineData("debit", null)]
    [InlineData("house-account", null)]
    public void Change_on_a_tender_that_gives_none_is_nobodys_expectation(string type, string? drawer)
    {
        var more = type is "credit" or "debit" ? ",\"terminal\":\"T-1\",\"rrn\":\"1\",\"auth\":\"A1\",\"card\":\"1234\""
            : type == "check" ? ",\"number\":\"101\""
            : "";
        var day = Reconcile(
            [
                Event("open", "\"amount\":\"100.00\""),
                Ticket("40.64", Pays(type, "42.28", more + ",\"change\":\"1.64\"")),
                Event("close", "", "20:00")
            ],
            rows: Row("42.28", "1", "1"), counts: Counted("\"100.00\":1"));
        Assert.Equal(42_28, day.Cell("L1", type, drawer).Expected.Minor);
        Assert.Equal(100_00, day.Cell("L1", "cash", "L1-A").Expected.Minor);
    }

    /// <summary>Rules §6: a ticket finding that says how the cash went is evidence, and names its ticket.</summary>
    [Fact]
    public void Change_given_on_a_check_explains_the_drawer_to_the_cent()
    {
        var day = Reconcile(
            [
                Event("open", "\"amount\":\"100.00\""),
                Ticket("40.64", Pays("check", "42.28", ",\"number\":\"101\",\"change\":\"1.64\""), id: "gave-back"),
                Ticket("30.00", Cash("30.00")),
                Event("close", "", "20:00")
            ],
            counts: Counted("\"100.00\":1,\"10.00\":2,\"1.00\":8,\"0.05\":7,\"0.01\":1",
                more: ",\"checks\":[{\"number\":\"101\",\"amount\":\"42.28\"}]"));
        Assert.Equal(-1_64, day.Cell("L1", "cash", "L1-A").Variance!.Value.Minor);
        Assert.Equal(CellState.Proved, day.Cell("L1", "check", "L1-A").State);
        Assert.Equal(["overtender"], day.TicketFindings.Select(f => f.Code.Written()));
    }

    [Theory]
    [InlineData("1.64", "\"100.00\":1,\"10.00\":2,\"1.00\":4,\"0.25\":1,\"0.10\":1,\"0.01\":1", -5_64)] // 130.00 expected, 124.36 counted
    public void Where_it_is_off_the_finding_leads(string change, string counted, long off)
    {
        var given = $"{decimal.Parse(change, System.Globalization.CultureInfo.InvariantCulture) + 4:0.00}";
        var day = Reconcile(
            [
                Event("open", "\"amount\":\"100.00\""),
                Ticket("40.64", Pays("check", $"{40.64m + 5.64m:0.00}", $",\"number\":\"101\",\"change\":\"{given}\""), id: "gave-back"),
                Ticket("30.00", Cash("30.00")),
                Event("close", "", "20:00")
            ],
            counts: Counted(counted, more: ",\"checks\":[{\"number\":\"101\",\"amount\":\"46.28\"}]"));
        Assert.Equal(off, day.Cell("L1", "cash", "L1-A").Variance!.Value.Minor);
        var first = Assert.Single(LeadFinder.Of(day).Leads, l => l.Rank == 1 && l.Cell.Drawer is not null);
        Assert.Equal((LeadKind.TicketFinding, "gave-back", off), (first.Kind, first.Keys[0], first.Explains.Minor));
    }

    private static readonly CellKey _cash = new CellKey.Takings(new("L1"), new("L1-A"), TenderId.Cash);

    private static Entry Accepted(long amount) =>
        new(Guid.NewGuid(), EntryKind.Accept, [new(_cash, new(amount))], "why", new("p1"), DateTimeOffset.UnixEpoch, [], null, false, null);

    /// <summary>Rules §11: beyond the tolerance a second person approves. Of 20.00 short, a tolerance of 2.00 covers one slice and no
    /// second one.</summary>
    [Fact]
    public void Slices_explain_no_more_than_the_whole()
    {
        var day = Reconcile([Event("open", "\"amount\":\"120.00\"")], counts: Counted("\"100.00\":1"));
        Dictionary<CellKey, Bridge> Bridges(params Entry[] entries) =>
            day.Cells.ToDictionary(c => c.Key, c => Bridge.Of(c, entries, day.Day.Setup.ToleranceOf(c.Key)));
        bool Needs(EntryKind kind, long amount, params Entry[] before) =>
            EntryRules.NeedsApproval(kind, [new(_cash, new(amount))], day.Day.Setup.Policy, Bridges(before));
        Assert.False(Needs(EntryKind.Accept, -2_00));
        Assert.True(Needs(EntryKind.Accept, -1, Accepted(-2_00)));
        Assert.False(Needs(EntryKind.Record, -18_00, Accepted(-2_00)));
        Assert.True(Needs(EntryKind.Record, -18_01, Accepted(-2_00)));
        Assert.False(Bridges(Accepted(-2_00))[_cash].IsExplained);
        Assert.False(Bridges(Accepted(-19_99))[_cash].IsExplained); // a cent is left: it wants an entry of its own
        Assert.True(Bridges(Accepted(-20_00))[_cash].IsExplained);
    }

    [Fact]
    public void Nobody_posts_a_reversal_by_hand()
    {
        var day = Reconcile([Event("open", "\"amount\":\"120.00\"")], counts: Counted("\"100.00\":1"));
        var bridges = day.Cells.ToDictionary(c => c.Key, c => Bridge.Of(c, [], Money.Zero));
        Assert.StartsWith("Reverse an entry where it is listed",
            EntryRules.Objection(EntryKind.Reverse, [new(_cash, new(-20_00))], "why", bridges)?.Says(day.Day.Setup),
            StringComparison.Ordinal);
    }

    /// <summary>Rules §12: what no proof will come for is excused with a reason, and the day can close.</summary>
    [Fact]
    public void A_cell_that_nothing_will_prove_can_be_excused()
    {
        var overview = Overview.Of(Reconcile([Ticket("5.00", Card("5.00", "1")), Ticket("2.00", Pays("coupon", "2.00"), register: "W1")]));
        var left = GatesOf(overview, [], []).Single(g => g.Id == GateId.Cells).Left;
        Assert.Equal(["L1/-/credit", "W1/-/coupon"], left.Select(i => i.Key).Order());
        Assert.All(left, i => Assert.True(i.CanBeExcused, i.Key));
        Excuse Excused(GateItem item) =>
            new(GateId.Cells, item.Key, item.Facts, "the host is down", new("p1"), DateTimeOffset.UnixEpoch);
        Assert.Empty(GatesOf(overview, [], [.. left.Select(Excused)]).Single(g => g.Id == GateId.Cells).Left);

        // Before excuses kept the facts they kept the sentence; one that still reads the same holds.
        var older = new DayDecisions([], [.. left.Select(i => Excused(i) with { Seen = i.Says(overview.Result.Day.Setup) })], [], []);
        Assert.Empty(Gates.Of(overview, older, wording: i => i.Says(overview.Result.Day.Setup)).Single(g => g.Id == GateId.Cells).Left);
        Assert.Equal(2, Gates.Of(overview, older, wording: _ => "worded otherwise").Single(g => g.Id == GateId.Cells).Left.Length);
    }

    /// <summary>Rules §12: an excuse is for what was seen. A batch 1.00 short of its total was excused; 400.00 short is another
    /// matter.</summary>
    [Fact]
    public void An_excuse_covers_what_was_seen_and_nothing_later()
    {
        static GateItem Batch(string total) => GatesOf(
            Overview.Of(Reconcile([], Row("9.00", "1", "1"), totals: $"{TotalsHeader}T-1,7,{At("22:00")},1,{total},0,0.00\n")), [], [])
            .Single(g => g.Id == GateId.Batches).Left.Single(i => i.Key == "T-1/7");
        var excuse = new Excuse(GateId.Batches, "T-1/7", Batch("10.00").Facts, "a cable", new("p1"), DateTimeOffset.UnixEpoch);
        bool IsLeft(string total) => GatesOf(
            Overview.Of(Reconcile([], Row("9.00", "1", "1"), totals: $"{TotalsHeader}T-1,7,{At("22:00")},1,{total},0,0.00\n")), [],
            [excuse])
            .Single(g => g.Id == GateId.Batches).Left.Any(i => i.Key == "T-1/7");
        Assert.False(IsLeft("10.00"));
        Assert.True(IsLeft("409.00"));
    }

    /// <summary>Rules §1: a voided ticket takes its cash out of the drawer it was rung at, once, wherever and however often it is
    /// voided.</summary>
    [Fact]
    public void A_void_at_another_drawer_empties_the_drawer_of_the_sale_once()
    {
        var result = Reconcile(
        [
            Event("open", "\"amount\":\"100.00\"", "09:00"),
            Event("open", "\"amount\":\"100.00\"", "09:00", "L2"),
            Ticket("7.00", Cash("7.00"), "10:00", id: "sale"),
            Event("void", "\"original\":\"sale\"", "10:30", "L2"), Event("void", "\"original\":\"sale\"", "10:40", "L2"),
        ]);
        Assert.Equal(["100.00", "107.00", "100.00"],
            Overview.Of(result).Drawers.Single(d => d.Session.Drawer.Value == "L1-A").Steps
                .Select(s => Currency.Of("USD").Format(s.Level)));
        Assert.Equal(100_00, Overview.Of(result).Drawers.Single(d => d.Session.Drawer.Value == "L2-A").Level.Minor);
    }

    /// <summary>Rules §5: a line belongs to no order. A bag that two drawers say they dropped is taken from the same one, whichever comes
    /// first in the file.</summary>
    [Fact]
    public void A_bag_dropped_from_two_drawers_does_not_follow_the_lines()
    {
        string[] journal =
        [
            Event("open", "\"amount\":\"200.00\"", id: "o1"), Event("open", "\"amount\":\"200.00\"", register: "L2", id: "o2"),
            Event("drop", "\"amount\":\"100.00\",\"bag\":\"B-1\"", "11:00", id: "d1"),
            Event("drop", "\"amount\":\"100.00\",\"bag\":\"B-1\"", "11:30", "L2", "d2"),
        ];
        string counts =
            $"{{\"id\":\"bag\",\"kind\":\"drop\",\"bag\":\"B-1\",\"by\":\"p1\",\"at\":\"{At("18:00")}\",\"attempt\":1,\"cash\":{{\"20.00\":4}}}},"
            + """{"id":"c1","kind":"closing","drawer":"L1-A","by":"p1","at":"2026-11-21T21:00:00-05:00","attempt":1,"cash":{"100.00":1}},"""
            + """{"id":"c2","kind":"closing","drawer":"L2-A","by":"p1","at":"2026-11-21T21:00:00-05:00","attempt":1,"cash":{"20.00":4}}""";
        var (straight, turned) = (Reconcile(journal, counts: counts), Reconcile(journal.Reverse(), counts: counts));
        Assert.Equal(straight.Cells, turned.Cells);
        Assert.Equal(Told(straight), Told(turned));

        static IEnumerable<(string, string, double)> Told(Reconciliation result) =>
            LeadFinder.Of(result).Leads.Select(l => (l.Cell.ToString(), l.Says(result.Day.Setup), l.Chance));
    }

    /// <summary>Rules §5: until batches came, nothing is missing from one; a row carried over from yesterday is no batch of
    /// today.</summary>
    [Fact]
    public void Without_a_batch_nothing_is_absent_from_it()
    {
        var day = Reconcile([Ticket("5.00", Card("5.00", "1")), Ticket("6.00", Card("6.00", "2", terminal: "T-2"), register: "L2")]);
        Assert.Empty(day.OpenItems);
    }

    /// <summary>Rules §5: two rows are one charge twice only where a card is known to be the same.</summary>
    [Fact]
    public void Nobody_was_charged_twice_whose_card_is_not_known()
    {
        string Blind(string seq, string rrn) => $"T-1,7,{seq},{At("10:05")},sale,8.00,0.00,0.00,heron,,A{rrn},{rrn},chip,\n";
        var day = Reconcile([Ticket("8.00", Card("8.00", "8"))], rows: Row("8.00", "8", "8") + Blind("9", "88"));
        Assert.Equal("not-in-journal", Assert.Single(day.OpenItems).Cause.Written());
    }

    /// <summary>Rules §5: 72 hours from the close of the batch that should have held it; where none closed after the sale, from the hour at
    /// which its terminal was to settle, else from the end of the day.</summary>
    [Theory]
    [InlineData("11:00", "", "2026-11-24T11:00:00-05:00")]
    [InlineData("09:30", "", "2026-11-25T04:00:00-05:00")]
    [InlineData("09:30", "22:30", "2026-11-24T22:30:00-05:00")]
    [InlineData("09:30", "01:00", "2026-11-25T01:00:00-05:00")] // after midnight is of the same trading day
    public void An_open_card_item_has_its_time(string closed, string settledBy, string until)
    {
        var setup = MadeUp.Setup.Replace("\"cashTolerance\"",
            settledBy.Length > 0 ? $"\"settledBy\":\"{settledBy}\",\"cashTolerance\"" : "\"cashTolerance\"", StringComparison.Ordinal)
            .Replace("\"approvalAbove\":\"20.00\"", "\"approvalAbove\":\"20.00\",\"disputeHours\":72", StringComparison.Ordinal);
        var reading = Read([Ticket("5.00", Card("5.00", "1"), "10:00", id: "t")], Row("9.00", "9", "9", "09:00"),
            totals: $"{TotalsHeader}T-1,7,{At(closed)},1,9.00,0,0.00\n", setup: setup);
        var result = Reconciliation.Of(reading.Day!);
        Assert.Equal(DateTimeOffset.Parse(until, System.Globalization.CultureInfo.InvariantCulture),
            TimeLeft.Until(result.OpenItems.Single(o => o.Item.Key == "t#1"), reading.Day!));
    }

    /// <summary>Rules §5: of pairings as good, the one with the lowest keys; against every pairing there is.</summary>
    [Fact]
    public void Ties_go_to_the_lowest_numbers() =>
        Gen.Select(Gen.Int[1, 4], Gen.Int[1, 4], Gen.Int[0, 2].Array[16], Gen.Bool.Array[16]).Sample((lefts, rights, distances, there) =>
        {
            var candidates = (from l in Enumerable.Range(0, lefts)
                              from r in Enumerable.Range(0, rights)
                              where there[(4 * l) + r]
                              select new Candidate(l, r, distances[(4 * l) + r])).ToList();
            Assert.Equal(LowestOf(lefts, candidates), Assignment.Lowest(lefts, rights, candidates).OrderBy(c => c.Left));
        }, iter: 4000);

    /// <summary>Tries every pairing: most pairs, least distance, then the first left's right as low as can be, and so on; a left without
    /// one comes last.</summary>
    private static List<Candidate> LowestOf(int lefts, List<Candidate> candidates)
    {
        IEnumerable<List<Candidate>> From(int left, int taken)
        {
            if (left == lefts)
            {
                yield return [];
                yield break;
            }

            foreach (var own in candidates.Where(c => c.Left == left && (taken & (1 << c.Right)) == 0).Select(c => (Candidate?)c)
                .Append(null))
            {
                foreach (var rest in From(left + 1, own is { } c ? taken | (1 << c.Right) : taken))
                {
                    yield return own is { } first ? [first, .. rest] : rest;
                }
            }
        }

        return From(0, 0).OrderByDescending(p => p.Count).ThenBy(p => p.Sum(c => c.Distance))
            .ThenBy(p => string.Concat(Enumerable.Range(0, lefts)
                .Select(l => p.Where(c => c.Left == l).Select(c => c.Right).DefaultIfEmpty(9).Single()))).First();
    }

    /// <summary>The same through a whole day: alike tenders and rows, minutes that repeat.</summary>
    [Fact]
    public void Alike_tenders_at_the_same_minute_go_to_the_lowest_rows() =>
        Gen.Select(Gen.Int[0, 2].Array[1, 4], Gen.Int[0, 2].Array[1, 4]).Sample((left, right) =>
        {
            var day = Reconcile(
                left.Select((m, i) => Ticket("5.00", Card("5.00", "77"), $"10:0{m}", id: $"t{i}")),
                rows: string.Concat(right.Select((m, i) => Alike(i, $"10:0{m}"))));
            var all = from l in Enumerable.Range(0, left.Length)
                      from r in Enumerable.Range(0, right.Length)
                      select new Candidate(l, r, Math.Abs(left[l] - right[r]));
            Assert.Equal(
                LowestOf(left.Length, [.. all]).Select(c => ($"t{c.Left}#1", $"T-1/7/{c.Right + 1}")),
                day.Matches.Select(m => (m.Journal[0].Key, m.Rows[0].Key)).Order());
        }, iter: 1500);

    /// <summary>Rules §3: each tender bears its own fee: 0.30 too little on one card and 0.30 too much on the other are two faults, not
    /// none.</summary>
    [Fact]
    public void Fees_are_judged_tender_by_tender()
    {
        var setup = MadeUp.Setup.Replace("\"approvalAbove\":\"20.00\"",
            "\"approvalAbove\":\"20.00\",\"priceProgramme\":{\"kind\":\"surcharge\",\"rate\":\"0.030\",\"tenders\":[\"credit\"]}",
            StringComparison.Ordinal);
        Assert.Equal(["fee-wrong"], Codes(setup, "3.00", Pays("credit", "51.20", ",\"fee\":\"1.20\""),
            Pays("credit", "51.80", ",\"fee\":\"1.80\"")));
        Assert.Empty(Codes(setup, "3.00", Pays("credit", "51.50", ",\"fee\":\"1.50\""), Pays("credit", "51.50", ",\"fee\":\"1.50\"")));
    }

    /// <summary>Rules §3: no fee on food benefits, whatever the programme lists.</summary>
    [Fact]
    public void Food_benefits_bear_no_fee_though_the_programme_lists_them()
    {
        var setup = MadeUp.Setup.Replace("\"approvalAbove\":\"20.00\"",
            "\"approvalAbove\":\"20.00\",\"priceProgramme\":{\"kind\":\"surcharge\",\"rate\":\"0.030\",\"tenders\":[\"credit\",\"ebt-food\"]}", StringComparison.Ordinal);
        var reading = Read([Event("sale",
            """ "lines":[{"sku":"x","name":"x","qty":"1","amount":"100.00","tax":"0.00","taxRate":"0.00","ebt":true}],"subtotal":"100.00","tax":"0.00","total":"100.00","tenders":[{"type":"ebt-food","amount":"100.00"}] """)], setup: setup);
        if (reading.Day is { } day)
        {
            Assert.Empty(Reconciliation.Of(day).TicketFindings);
        }
        else
        {
            Assert.Contains("ebt-food", reading.Findings[0].ToString(), StringComparison.Ordinal);
        }
    }

    private static IEnumerable<string> Codes(string setup, string fee, params string[] tenders)
    {
        var reading = Read([Event("sale",
            $"\"lines\":[],\"subtotal\":\"100.00\",\"tax\":\"0.00\",\"fee\":\"{fee}\",\"total\":\"103.00\",\"tenders\":["
                + $"{string.Join(',', tenders)}]")], setup: setup);
        return Reconciliation.Of(reading.Day ?? throw new InvalidOperationException(string.Join('\n', reading.Findings))).TicketFindings
            .Select(f => f.Code.Written());
    }
}
