using System.Globalization;
using Fondo.Core.Reconciling;

using static Fondo.Core.Tests.MadeUp;

namespace Fondo.Core.Tests;

/// <summary>Rules §2 to §4, a case for each code and for what lies just beside it.</summary>
public sealed class TicketChecking
{
    private static readonly string _surcharge =
        With("\"priceProgramme\":{\"kind\":\"surcharge\",\"rate\":\"0.030\",\"tenders\":[\"credit\"]}");
    private static readonly string _cashDiscount =
        With("\"priceProgramme\":{\"kind\":\"cash-discount\",\"rate\":\"0.040\",\"tenders\":[]}");
    private static readonly string _proRata = With("\"ebtTax\":\"pro-rata\"");

    private static string With(string policy) =>
        MadeUp.Setup.Replace("\"approvalAbove\":\"20.00\"", "\"approvalAbove\":\"20.00\"," + policy, StringComparison.Ordinal);

    private static IEnumerable<(string Ticket, string Code, string Amount)> Findings(string? setup, params string[] journal) =>
        FindingsWith(setup, null, null, journal);

    private static IEnumerable<(string Ticket, string Code, string Amount)> FindingsWith(string? setup, string? rows, string? totals,
        params string[] journal)
    {
        var reading = Read(journal, rows, setup: setup, totals: totals);
        var day = reading.Day ?? throw new InvalidOperationException(string.Join("\n", reading.Findings));
        return Reconciliation.Of(day).TicketFindings.Select(f => (f.Ticket.Value, f.Code.Written(), day.Setup.Currency.Format(f.Amount)));
    }

    private static string Sale(string tenders, string total, string lines = "", string subtotal = "", string more = "",
        string kind = "sale", string id = "t", string at = "10:00") =>
        Event(kind,
            $"\"lines\":[{lines}],\"subtotal\":\"{(subtotal.Length > 0 ? subtotal : total)}\",\"total\":\"{total}\",\"tenders\":[{tenders}]"
            + (more.Contains("\"tax\"", StringComparison.Ordinal) ? "" : ",\"tax\":\"0.00\"") + (more.Length > 0 ? "," + more : ""), at,
            id: id);

    private static string Line(string amount, string tax = "0.00", string rate = "0.00", bool ebt = false) =>
        $$"""{"sku":"x","name":"x","qty":"1","amount":"{{amount}}","tax":"{{tax}}","taxRate":"{{rate}}","ebt":{{(ebt ? "true" : "false")}}}""";

    private static string Pays(string type, string amount, string more = "") =>
        $"{{\"type\":\"{type}\",\"amount\":\"{amount}\"{(more.Length > 0 ? "," + more : "")}}}";

    [Theory]
    [InlineData("10.00", "\"fee\":\"0.00\"", "10.00", "0.00", null)]
    [InlineData("10.01", "\"fee\":\"0.01\"", "10.00", "0.00", "-0.01")] // the tenders are a cent short of the total
    [InlineData("10.00", "\"discount\":\"0.50\"", "10.00", "0.00", "0.50")]
    [InlineData("9.50", "\"discount\":\"0.50\"", "9.50", "0.00", null)]
    [InlineData("10.00", "\"fee\":\"0.00\"", "20.00", "10.00", null)]
    [InlineData("10.00", "\"fee\":\"0.00\"", "20.00", "9.00", "1.00")]
    public void Totals_differ(string total, string more, string handed, string change, string? amount) =>
        Assert.Equal(amount is null ? [] : [("t", "totals-differ", amount)],
            Findings(null, Sale(Pays("cash", handed, $"\"change\":\"{change}\""), total, subtotal: "10.00", more: more)));

    /// <summary>Rules §1, and the Government of Canada's guideline where the smallest coin is five (from memory): totals that end in 1, 2,
    /// 6, 7 go down, 3, 4, 8, 9 up.</summary>
    [Theory]
    [InlineData("0.05", "10.01", "-0.01", null)]
    [InlineData("0.05", "10.02", "-0.02", null)]
    [InlineData("0.05", "10.03", "0.02", null)]
    [InlineData("0.05", "10.04", "0.01", null)]
    [InlineData("0.05", "10.05", "0.00", null)]
    [InlineData("0.05", "10.06", "-0.01", null)]
    [InlineData("0.05", "10.07", "-0.02", null)]
    [InlineData("0.05", "10.08", "0.02", null)]
    [InlineData("0.05", "10.09", "0.01", null)]
    [InlineData("0.05", "10.02", "0.03", "0.05")] // up to the next coin, where it goes down
    [InlineData("0.05", "10.02", "0.00", "0.02")] // not rounded at all
    [InlineData("0.10", "10.05", "0.05", null)] // half up
    [InlineData("0.01", "10.02", "0.03", "0.03")] // nothing is rounded to a cent
    public void Cash_is_rounded_to_the_smallest_coin(string coin, string price, string rounding, string? wrong)
    {
        var (due, round) = (decimal.Parse(price, CultureInfo.InvariantCulture), decimal.Parse(rounding, CultureInfo.InvariantCulture));
        var total = (due + round).ToString("0.00", CultureInfo.InvariantCulture);
        var setup = MadeUp.Setup.Replace("\"cashTolerance\"", $"\"cashRounding\":\"{coin}\",\"cashTolerance\"", StringComparison.Ordinal);
        Assert.Equal(wrong is null ? [] : [("t", "rounding-wrong", wrong)],
            Findings(setup, Sale(Pays("cash", total), total, subtotal: price, more: $"\"rounding\":\"{rounding}\"")));
    }

    /// <summary>Rules §1: of a split only the cash part is rounded; 12.34 with 5.00 by card leaves 7.34, so 7.35 in cash. A card alone is
    /// never rounded.</summary>
    [Fact]
    public void Of_a_split_only_the_cash_part_is_rounded()
    {
        var setup = MadeUp.Setup.Replace("\"cashTolerance\"", "\"cashRounding\":\"0.05\",\"cashTolerance\"", StringComparison.Ordinal);
        var card = Card("5.00", "1");
        Assert.Empty(Findings(setup, Sale($"{card},{Pays("cash", "7.35")}", "12.35", subtotal: "12.34", more: "\"rounding\":\"0.01\"")));
        Assert.Equal([("t", "rounding-wrong", "0.01")],
            Findings(setup, Sale(Card("12.35", "1"), "12.35", subtotal: "12.34", more: "\"rounding\":\"0.01\"")));
        // A refund gives back what the sale took: 4.98 is 5.00 both ways.
        Assert.DoesNotContain(Findings(setup,
            Sale(Pays("cash", "-5.00"), "-5.00", subtotal: "-4.98", more: "\"rounding\":\"-0.02\",\"original\":null", kind: "refund")),
            f => f.Code == "rounding-wrong");
    }

    [Theory]
    [InlineData("credit", "12.00", "2.00", "overtender", "2.00")]
    [InlineData("cash", "12.00", "2.00", null, null)]
    [InlineData("ebt-food", "12.00", "2.00", "ebt-change", "2.00")]
    [InlineData("wic", "12.00", "2.00", "ebt-change", "2.00")]
    public void Change_is_given_on_cash_alone(string type, string amount, string change, string? code, string? over) =>
        Assert.Equal(code is null ? [] : [("t", code, over!)],
            Findings(null, Sale(Pays(type, amount, $"\"change\":\"{change}\""), "10.00", Line("10.00", ebt: true))));

    [Fact]
    public void A_card_that_takes_the_ticket_above_its_total_is_overtender() =>
        Assert.Equal([("t", "overtender", "5.00")],
            Findings(null, Sale(Pays("cash", "4.00") + "," + Pays("credit", "11.00") + "," + Pays("cash", "0.00", "\"change\":\"5.00\""),
                "10.00")));

    [Fact]
    public void Cash_above_the_total_with_its_change_is_no_overtender_and_a_declined_tender_does_not_count() =>
        Assert.Empty(Findings(null, Sale(
            Pays("credit", "99.00", "\"result\":\"declined\"") + "," + Pays("credit", "6.00") + ","
                + Pays("cash", "10.00", "\"change\":\"6.00\""), "10.00")));

    // The worked example of rules §3: bread 4.00, seedling 6.00 at 5 %, soil 9.00 at 8 % not eligible; 8.00 of food benefits.
    [Theory]
    [InlineData(false, "0.00", "19.72", null)]
    [InlineData(false, "0.01", "19.73", null)] // a cent per taxed line is tolerated
    [InlineData(false, "0.02", "19.74", "0.02")]
    [InlineData(false, "0.30", "20.02", "0.30")]
    [InlineData(true, "0.06", "19.78", null)]
    [InlineData(true, "0.30", "20.02", "0.24")]
    public void Benefits_are_not_taxed(bool proRata, string seedlingTax, string total, string? tooMuch)
    {
        var lines = string.Join(',', Line("4.00", ebt: true), Line("6.00", seedlingTax, "0.05", ebt: true), Line("9.00", "0.72", "0.08"));
        var tax = (decimal.Parse(seedlingTax, System.Globalization.CultureInfo.InvariantCulture) + 0.72m)
            .ToString(System.Globalization.CultureInfo.InvariantCulture);
        var left = (decimal.Parse(total, System.Globalization.CultureInfo.InvariantCulture) - 8m)
            .ToString(System.Globalization.CultureInfo.InvariantCulture);
        Assert.Equal(tooMuch is null ? [] : [("t", "ebt-taxed", tooMuch)],
            Findings(proRata ? _proRata : null,
                Sale(Pays("ebt-food", "8.00") + "," + Pays("cash", left), total, lines, "19.00", $"\"tax\":\"{tax}\"")));
    }

    [Theory]
    [InlineData("10.00", "", null)]
    [InlineData("10.01", "", "0.01")]
    [InlineData("9.50", "1.00", null)] // of a discount of 1.00 the eligible half bears 0.50
    [InlineData("9.51", "1.00", "0.01")]
    public void Benefits_may_not_exceed_the_eligible_amount(string food, string discount, string? over)
    {
        var total = discount.Length > 0 ? 19m : 20m;
        var rest = (total - decimal.Parse(food, System.Globalization.CultureInfo.InvariantCulture))
            .ToString(System.Globalization.CultureInfo.InvariantCulture);
        Assert.Equal(over is null ? [] : [("t", "ebt-over-eligible", over)],
            Findings(null, Sale(Pays("ebt-food", food) + "," + Pays("cash", rest), $"{total:0.00}",
                Line("10.00", ebt: true) + "," + Line("10.00"), "20.00", $"\"discount\":\"{(discount.Length > 0 ? discount : "0.00")}\"")));
    }

    [Fact]
    public void A_refund_of_benefits_is_checked_with_its_signs_turned() =>
        Assert.Equal(
            [("t", "ebt-over-eligible", "-1.00"), ("t", "refund-without-original", "-11.00")],
            Findings(null, Sale(Pays("ebt-food", "-11.00"), "-11.00", Line("-10.00", ebt: true) + "," + Line("-1.00"), kind: "refund")));

    // The worked examples of rules §4.
    [Theory]
    [InlineData("65.92", "1.92", "85.92", null, null)]
    [InlineData("65.93", "1.93", "85.93", null, null)] // a cent is tolerated
    [InlineData("65.94", "1.94", "85.94", "fee-wrong", "-0.02")]
    [InlineData("65.60", "1.60", "85.60", "fee-wrong", "0.32")]
    [InlineData("64.00", "0.00", "84.00", "fee-missing", "1.92")]
    public void Only_the_cards_part_bears_the_fee(string charged, string fee, string total, string? code, string? amount) =>
        Assert.Equal(code is null ? [] : [("t", code, amount!)],
            Findings(_surcharge, Sale(Pays("cash", "20.00") + "," + Pays("credit", charged, $"\"fee\":\"{fee}\""), total, subtotal: "84.00",
                more: $"\"fee\":\"{fee}\"")));

    [Theory]
    [InlineData("debit", true)]
    [InlineData("cash", true)]
    [InlineData("credit", false)]
    public void A_fee_elsewhere_is_not_allowed(string type, bool surcharge) =>
        Assert.Equal([("t", "fee-not-allowed", "0.30")],
            Findings(surcharge ? _surcharge : null,
                Sale(Pays(type, "10.30", "\"fee\":\"0.30\""), "10.30", subtotal: "10.00", more: "\"fee\":\"0.30\"")));

    [Fact]
    public void A_tip_and_cash_back_bear_no_fee_and_a_refund_gives_it_back() =>
        Assert.Equal([("r", "refund-without-original", "-10.30")], Findings(_surcharge,
            Sale(Pays("credit", "14.30", "\"fee\":\"0.30\",\"tip\":\"4.00\""), "10.30", subtotal: "10.00", more: "\"fee\":\"0.30\""),
            Sale(Pays("credit", "-10.30", "\"fee\":\"-0.30\""), "-10.30", subtotal: "-10.00", more: "\"fee\":\"-0.30\"", kind: "refund",
                id: "r")));

    [Theory]
    [InlineData("48.00", "0.00", "2.00", null, null)]
    [InlineData("48.01", "0.00", "1.99", null, null)]
    [InlineData("48.50", "0.00", "1.50", "cash-discount-wrong", "0.52")] // 48.50 ÷ 0.96 − 48.50 = 2.02
    [InlineData("24.00", "25.00", "1.00", null, null)]
    [InlineData("25.00", "25.00", "0.00", "cash-discount-missing", "1.04")]
    [InlineData("0.00", "48.00", "2.00", "cash-discount-not-due", "2.00")]
    public void The_cash_price_is_less(string cash, string credit, string discount, string? code, string? amount)
    {
        string[] tenders =
            [.. new[] { ("cash", cash), ("credit", credit) }.Where(t => t.Item2 != "0.00").Select(t => Pays(t.Item1, t.Item2))];
        var total = 50m - decimal.Parse(discount, System.Globalization.CultureInfo.InvariantCulture);
        Assert.Equal(code is null ? [] : [("t", code, amount!)],
            Findings(_cashDiscount, Sale(string.Join(',', tenders), $"{total:0.00}", subtotal: "50.00",
                more: $"\"discount\":\"{discount}\",\"cashDiscount\":\"{discount}\"")));
    }

    [Fact]
    public void A_cash_discount_without_the_programme_is_not_due() =>
        Assert.Equal([("t", "cash-discount-not-due", "2.00")],
            Findings(_surcharge, Sale(Pays("cash", "48.00"), "48.00", subtotal: "50.00",
                more: "\"discount\":\"2.00\",\"cashDiscount\":\"2.00\"")));

    [Theory]
    [InlineData("cash", "-10.00", "\"original\":\"t\"", null, null)]
    [InlineData("credit", "-10.00", "\"original\":\"t\"", "refund-other-tender", "-10.00")]
    [InlineData("cash", "-10.01", "\"original\":\"t\"", "refund-over-original", "-0.01")]
    [InlineData("cash", "-10.00", "\"original\":null", "refund-without-original", "-10.00")]
    [InlineData("credit", "-99.00", "\"original\":\"another-day\"", null, null)]
    public void Refunds_go_back_the_way_they_came(string type, string amount, string original, string? code, string? found) =>
        Assert.Equal(code is null ? [] : [("r", code, found!)],
            Findings(null, Sale(Pays("cash", "20.00", "\"change\":\"10.00\""), "10.00"),
                Sale(Pays(type, amount), amount, more: original, kind: "refund", id: "r")));

    [Fact]
    public void The_refund_that_goes_too_far_is_the_later_one() =>
        Assert.Equal([("b", "refund-over-original", "-2.00"), ("c", "refund-over-original", "-1.00")],
            Findings(null, Sale(Pays("cash", "10.00"), "10.00"),
            Sale(Pays("cash", "-1.00"), "-1.00", more: "\"original\":\"t\"", kind: "refund", id: "c", at: "13:00"),
            Sale(Pays("cash", "-6.00"), "-6.00", more: "\"original\":\"t\"", kind: "refund", id: "b", at: "12:00"),
            Sale(Pays("cash", "-6.00"), "-6.00", more: "\"original\":\"t\"", kind: "refund", id: "a", at: "11:00")));

    [Fact]
    public void Food_benefits_go_back_to_food_benefits_alone() =>
        Assert.Equal([("r", "refund-other-tender", "-10.00")],
            Findings(null, Sale(Pays("ebt-food", "10.00"), "10.00", Line("10.00", ebt: true)),
                Sale(Pays("cash", "-10.00"), "-10.00", more: "\"original\":\"t\"", kind: "refund", id: "r")));

    [Theory]
    [InlineData("10:15", "1234", "T-1", "10.00", true)]
    [InlineData("10:16", "1234", "T-1", "10.00", false)]
    [InlineData("10:05", "9999", "T-1", "10.00", false)]
    [InlineData("10:05", "1234", "T-2", "10.00", false)]
    [InlineData("10:05", "1234", "T-1", "10.01", false)]
    public void The_same_card_twice(string at, string card, string terminal, string amount, bool found)
    {
        string Card(string a, string c, string t) => Pays("credit", a, $"\"card\":\"{c}\",\"terminal\":\"{t}\"");
        Assert.Equal(found ? [("b", "duplicate-tender", "10.00")] : [],
            Findings(null, Sale(Card("10.00", "1234", "T-1"), "10.00", id: "a"),
                Sale(Card(amount, card, terminal), amount, id: "b", at: at)));
        Assert.DoesNotContain(Findings(null, Sale(Card("10.00", "1234", "T-1"), "10.00", id: "a"),
            Sale(Card(amount, card, terminal), amount, id: "b", at: at), Event("void", "\"original\":\"a\"")),
            f => f.Code == "duplicate-tender");
    }

    [Fact]
    public void A_ticket_half_taken_back_is_told_unless_it_was_paid_after_all()
    {
        var cards = Pays("credit", "6.00", "\"result\":\"reversed\"") + "," + Pays("credit", "4.00", "\"result\":\"declined\"");
        Assert.Equal([("t", "partly-reversed", "6.00"), ("t", "totals-differ", "-10.00")], Findings(null, Sale(cards, "10.00")));
        Assert.Empty(Findings(null, Sale(cards + "," + Pays("cash", "10.00"), "10.00")));
        Assert.Equal([("t", "totals-differ", "-10.00")], Findings(null, Sale(Pays("credit", "6.00", "\"result\":\"reversed\""), "10.00")));
    }

    [Theory]
    [InlineData(null, true)]
    [InlineData("recall", false)]
    [InlineData("void", false)]
    public void A_hold_wants_an_end(string? end, bool found)
    {
        string[] journal =
            [Event("hold", "\"total\":\"9.00\"", id: "h"), .. end is null ? (string[])[] : [Event(end, "\"original\":\"h\"")]];
        Assert.Equal(found ? [("h", "hold-left-open", "9.00")] : [], Findings(null, journal));
    }

    [Theory]
    [InlineData("11:59", false)]
    [InlineData("12:01", true)]
    public void A_void_after_the_batch_was_closed_is_late(string at, bool found)
    {
        var totals =
            $"terminal,batch,closed,sales_count,sales_amount,refunds_count,refunds_amount\nT-1,6,{At("09:00")},0,0.00,0,0.00\nT-1,7,"
                + $"{At("12:00")},1,10.00,0,0.00\n";
        string[] journal = [Ticket("10.00", Card("10.00", "5"), id: "t"), Event("void", "\"original\":\"t\"", at)];
        Assert.Equal(found ? [("t", "void-late", "10.00")] : [], FindingsWith(null, Row("10.00", "5", "1"), totals, journal));
        Assert.Equal(found ? [("t", "void-late", "10.00")] : [], FindingsWith(null, "", totals, journal));
        Assert.Empty(FindingsWith(null, Row("10.00", "5", "1"), null, journal));
    }

    [Fact]
    public void A_voided_ticket_is_not_checked() =>
        Assert.Empty(Findings(null, Sale(Pays("cash", "11.00"), "10.00"), Event("void", "\"original\":\"t\"")));
}
