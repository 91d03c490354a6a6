using Fondo.Core.Amounts;
using Fondo.Core.Closing;
using Fondo.Core.Days;
using Fondo.Core.Entries;
using Fondo.Core.Journal;
using Fondo.Core.Reconciling;
using Fondo.Core.Sheets;

using static Fondo.Core.Tests.MadeUp;

namespace Fondo.Core.Tests;

/// <summary>Trading days by the clock, a drawer through its day, readings, numbering.</summary>
public sealed class DaysOfTheClock
{
    /// <summary>Common practice: a trading day ends in the small hours. US summer time ended on 1 November 2026 at 02:00 (from memory):
    /// 01:30 came twice.</summary>
    [Theory]
    [InlineData("2026-11-21T23:59:59-05:00", "2026-11-21")]
    [InlineData("2026-11-22T03:59:59-05:00", "2026-11-21")]
    [InlineData("2026-11-22T04:00:00-05:00", "2026-11-22")]
    [InlineData("2026-11-22T09:00:00+00:00", "2026-11-22")]
    [InlineData("2026-11-01T01:30:00-04:00", "2026-10-31")]
    [InlineData("2026-11-01T01:30:00-05:00", "2026-10-31")]
    [InlineData("2026-11-01T03:30:00-05:00", "2026-10-31")]
    [InlineData("2026-03-08T03:30:00-04:00", "2026-03-07")]
    [InlineData("2026-03-08T04:00:00-04:00", "2026-03-08")]
    public void A_moment_belongs_to_a_trading_day(string at, string day) =>
        Assert.Equal(day, Placement.ByClock(DateTimeOffset.Parse(at, System.Globalization.CultureInfo.InvariantCulture),
            TimeZoneInfo.FindSystemTimeZoneById("America/New_York"), new(4, 0)).ToString());

    [Theory]
    [InlineData("L1-001234", "L1-", 1234, 6)]
    [InlineData("77", "", 77, 2)]
    public void An_id_ends_in_its_number(string id, string prefix, long number, int digits)
    {
        Assert.Equal(new EventNumber(prefix, number, digits), EventNumber.Of(id));
        Assert.Equal(id, EventNumber.Of(id)!.Value.At(number));
    }

    [Theory]
    [InlineData("open-abc")]
    [InlineData("")]
    [InlineData("L1-1234567890123456")]
    public void Not_every_id_has_a_number(string id) => Assert.Null(EventNumber.Of(id));

    /// <summary>The drawer's last level is what its cell expects, whatever happened in between.</summary>
    [Theory]
    [MemberData(nameof(ExampleDays.All), MemberType = typeof(ExampleDays))]
    public void A_drawers_day_ends_at_its_cell(string name)
    {
        var result = Reconciliation.Of(ExampleDays.Read(name));
        foreach (var drawer in Overview.Of(result).Drawers)
        {
            var cell =
                result.Cells.Single(c => c.Key == new CellKey.Takings(drawer.Session.Register, drawer.Session.Drawer, TenderId.Cash));
            Assert.Equal(cell.Expected, drawer.Level);
            Assert.All(drawer.Counts.Where(c => c.Count.Kind == Proof.CountKind.Closing && cell.Proof == c.Count.Cash),
                c => Assert.Equal(cell.Variance, c.Variance));
        }
    }

    [Fact]
    public void A_spot_count_is_held_against_its_moment_and_a_void_takes_its_sale_out_again()
    {
        var day = Reconcile(
            [
                Event("open", "\"amount\":\"200.00\"", "09:00"),
                Ticket("30.00", """{"type":"cash","amount":"50.00","change":"20.00"}""", "10:00", id: "sale"),
                Event("drop", "\"amount\":\"100.00\",\"bag\":\"B-1\"", "11:00"),
                Event("void", "\"original\":\"sale\"", "12:00"),
                Ticket("7.50", """{"type":"cash","amount":"7.50"}""", "13:00"),
            ],
            counts: $"{{\"id\":\"spot\",\"kind\":\"spot\",\"drawer\":\"L1-A\",\"by\":\"p1\",\"at\":\"{At("11:30")}\",\"attempt\":1,\"cash\":{{\"20.00\":6}}}}");
        var drawer = Assert.Single(Overview.Of(day).Drawers);
        Assert.Equal([200_00, 230_00, 130_00, 100_00, 107_50], drawer.Steps.Select(s => s.Level.Minor));
        Assert.Equal(-10_00, Assert.Single(drawer.Counts).Variance.Minor);
    }

    /// <summary>Around midnight and in the small hours, too.</summary>
    [Theory]
    [InlineData("15:00", "2026-11-21T15:10:00-05:00", false)]
    [InlineData("15:00", "2026-11-21T15:16:00-05:00", true)]
    [InlineData("23:50", "2026-11-21T12:00:00-05:00", false)]
    [InlineData("23:50", "2026-11-22T00:06:00-05:00", true)]
    [InlineData("02:00", "2026-11-21T23:00:00-05:00", false)]
    [InlineData("02:00", "2026-11-22T02:20:00-05:00", true)]
    public void A_terminal_that_did_not_settle_by_itself_is_missed(string settlesAt, string now, bool isMissed)
    {
        var day = Reconcile([]).Day;
        day = day with
        {
            Setup = day.Setup with
            {
                Terminals = [.. day.Setup.Terminals.Select(t => t.Terminal.Value == "T-2"
                    ? t with { SettlesAt = TimeOnly.Parse(settlesAt, System.Globalization.CultureInfo.InvariantCulture) }
                    : t)]
            }
        };
        Assert.Equal(isMissed ? ["T-2"] : [],
            MissedSettlement.In(Overview.Of(Reconciliation.Of(day)),
                DateTimeOffset.Parse(now, System.Globalization.CultureInfo.InvariantCulture)).Select(t => t.Terminal.Value));
    }

    /// <summary>Rules §5: a terminal waits while it holds a card that no batch has, however many batches it had. It settled at 20:00; what
    /// it took since, up to its hour, waits.</summary>
    [Theory]
    [InlineData("19:59", 0)]
    [InlineData("20:30", 1)]
    [InlineData("21:30", 1)]
    [InlineData("21:31", 0)]
    public void A_terminal_that_took_cards_after_its_batch_waits_again(string soldAt, int waits)
    {
        var result = Reconcile([Ticket("5.00", Card("5.00", "1", terminal: "T-2"), "19:00", "L2"),
                Ticket("9.00", Card("9.00", "2", terminal: "T-2"), soldAt, "L2")],
            Row("5.00", "1", "1", "19:00", "T-2"), totals: "terminal,batch,closed,sales_count,sales_amount,refunds_count,refunds_amount\n"
                + $"T-2,7,{At("20:00")},1,5.00,0,0.00\n");
        var day = result.Day with
        {
            Setup = result.Day.Setup with { Policy = result.Day.Setup.Policy with { SettledBy = new(21, 30) } }
        };
        var missed = MissedSettlement.In(Overview.Of(Reconciliation.Of(day)),
            DateTimeOffset.Parse(At("22:00"), System.Globalization.CultureInfo.InvariantCulture));
        Assert.Equal(Enumerable.Repeat((1, 900L), waits),
            missed.Where(m => m.Terminal.Value == "T-2").Select(m => (m.Number, m.Amount.Minor)));
    }

    /// <summary>Rules §5: the gate asks for cards that no batch has, not for a batch; and each of its three answers says what to do. What
    /// an entry carries waits there.</summary>
    [Fact]
    public void The_gate_names_cards_that_no_batch_has()
    {
        var result = Reconcile([Ticket("5.00", Card("5.00", "1", terminal: "T-2"), "19:00", "L2"),
                Ticket("9.00", Card("9.00", "2", terminal: "T-2"), "20:30", "L2"), Ticket("3.00", Card("3.00", "3"), "20:30")],
            Row("5.00", "1", "1", "19:00", "T-2"), totals: "terminal,batch,closed,sales_count,sales_amount,refunds_count,refunds_amount\n"
                + $"T-2,7,{At("20:00")},1,5.00,0,0.00\n");
        GateItem[] Left(params Entry[] entries) =>
            [.. Gates.Of(Overview.Of(result), new([.. entries], [], [], [])).Single(g => g.Id == GateId.Batches).Left];
        Assert.Equal(["T-1 has no batch for its 1 card for 3.00. Settle it.",
            "T-2 took 1 card for 9.00 after its last batch. Settle it again, or carry them."], Left().Select(i => i.Says(result.Day.Setup)));

        var late = result.OpenItems.Single(o => o.Item.Terminal?.Value == "T-2");
        var carry = new Entry(Guid.NewGuid(), EntryKind.Carry, [], "settles tomorrow", new("p1"), DateTimeOffset.UnixEpoch,
            [late.Item.Key], null, false, null);
        Assert.Equal(["T-1"], Left(carry).Select(i => i.Key));
    }

    /// <summary>Before settling one looks at what the terminal holds: a row that has settled is not on it any more.</summary>
    [Fact]
    public void What_has_settled_is_behind_no_difference_of_what_a_terminal_holds()
    {
        var day = Reconcile([], Row("5.00", "1", "1", "19:00", "T-2")).Day;
        var settled = day.Rows!.Value[0];
        var held = settled with { Key = new(new("T-2"), Core.Evidence.IfSettled.HeldBatch, "1"), At = settled.At.AddMinutes(40) };
        Assert.Empty(new Core.Evidence.IfSettled(day, []).Of(new("T-2")));
        Assert.Equal(["held"], new Core.Evidence.IfSettled(day, [held]).Of(new("T-2")).Select(b => b.Item.Row!.Key.Batch));
    }

    /// <summary>A batch that holds an earlier day's cards alone has none of today's.</summary>
    [Fact]
    public void A_batch_of_yesterdays_cards_does_not_answer_for_today()
    {
        var result = Reconcile([Ticket("9.00", Card("9.00", "2"), "20:30")],
            Row("5.00", "1", "1", "19:00").Replace("2026-11-21", "2026-11-20", StringComparison.Ordinal),
            totals: "terminal,batch,closed,sales_count,sales_amount,refunds_count,refunds_amount\n"
                + $"T-1,7,{At("21:00")},1,5.00,0,0.00\n");
        Assert.Equal(["T-1 has only a batch of an earlier day's cards. Settle today's 1 card for 9.00."],
            Gates.Of(Overview.Of(result), new([], [], [], [])).Single(g => g.Id == GateId.Batches).Left
                .Where(i => i.Key == "T-1").Select(i => i.Says(result.Day.Setup)));
    }

    [Theory]
    [InlineData("600.00", null)]
    [InlineData("350.00", 240_00L)]
    [InlineData(null, null)]
    public void A_drop_is_due_above_the_limit_down_to_the_float(string? limit, long? due)
    {
        var result = Reconcile([Event("open", "\"amount\":\"200.00\""), Ticket("250.50", """{"type":"cash","amount":"250.50"}""")]);
        var register = result.Day.Setup.Registers[0] with
        {
            DropAbove = limit is null ? null : new((long)(decimal.Parse(limit, System.Globalization.CultureInfo.InvariantCulture) * 100))
        };
        Assert.Equal(due, Assert.Single(Overview.Of(result).Drawers).DropDue(register, result.Day.Setup.Currency)?.Minor);
    }

    /// <summary>A reading adds up: registers, cashiers and calendar days to the same total, tenders to what was paid.</summary>
    [Theory]
    [MemberData(nameof(ExampleDays.All), MemberType = typeof(ExampleDays))]
    public void A_reading_adds_up(string name)
    {
        var result = Reconciliation.Of(ExampleDays.Read(name));
        var reading = Reading.Of(result.Day);
        Assert.Equal(reading.Total.Amount.Minor, reading.Registers.Sum(r => r.Amount.Minor));
        Assert.Equal(reading.Total.Amount.Minor, reading.Cashiers.Sum(r => r.Amount.Minor));
        Assert.Equal(reading.Total.Number, reading.Cashiers.Sum(r => r.Number));
        foreach (var tender in reading.Tenders.Where(t => t.Key != "cash"))
        {
            Assert.Equal(result.Cells.Where(c => c.Key.Written.Tender == tender.Key).Sum(c => c.Expected.Minor), tender.Amount.Minor);
        }
    }
}
