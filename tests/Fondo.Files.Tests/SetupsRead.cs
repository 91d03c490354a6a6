using Fondo.Core.Amounts;
using Fondo.Core.Cells;
using Fondo.Core.Journal;
using Fondo.Core.Reconciling;
using Fondo.Core.SetUp;
using Fondo.Core.Sheets;
using Fondo.Core.Tests;

namespace Fondo.Files.Tests;

/// <summary>What day.json says beside the least that a store needs, and what registers do otherwise.</summary>
public sealed class SetupsRead
{
    /// <summary>The made-up store with further members in its set-up.</summary>
    private static string With(string more, string? registers = null) =>
        (registers is null
            ? MadeUp.Setup
            : MadeUp.Setup.Replace("\"float\":\"200.00\"},{\"id\":\"L2\"", $"\"float\":\"200.00\",{registers}}},{{\"id\":\"L2\"",
                StringComparison.Ordinal))
            .Replace("\"policy\"", more + "\"policy\"", StringComparison.Ordinal);

    private static Setup Setup(string json)
    {
        var reading = MadeUp.Read([], setup: json);
        return reading.Day?.Setup ?? throw new InvalidOperationException(string.Join("\n", reading.Findings));
    }

    private static void Refused(string sentence, string json) =>
        Assert.Contains(sentence, Assert.Single(MadeUp.Read([], setup: json).Findings).ToString(), StringComparison.Ordinal);

    [Fact]
    public void Bank_holidays_are_dates()
    {
        Assert.Equal([new(2026, 12, 25), new(2027, 1, 1)],
            Setup(With("\"bankHolidays\":[\"2027-01-01\",\"2026-12-25\",\"2027-01-01\"],")).BankHolidays);
        Assert.Empty(Setup(MadeUp.Setup).BankHolidays);
        Refused("expected dates, like 2026-12-25", With("\"bankHolidays\":[\"Christmas\"],"));
    }

    [Fact]
    public void Of_a_standard_tender_only_what_differs_need_be_said()
    {
        var check = Setup(With("""
            "tenders":[{"id":"check","twice":false,"tolerance":"0.50","account":"Assets:Paper"},{"id":"token","name":"Tokens","proof":"count"}],
            """)).Find(TenderId.Check)!;
        Assert.Equal(("Checks", ProofKind.Count, false, "Assets:Paper"), (check.Name, check.Proof, check.GivesChange, check.Account));
        Assert.False(check.MayRepeat);
        Assert.Equal(new Money(50), check.Tolerance);
    }

    [Fact]
    public void A_tender_of_the_stores_own_has_an_account_and_may_repeat()
    {
        var token = Setup(With("""
            "tenders":[{"id":"token","name":"Tokens","proof":"count"}],
            """)).Find(new TenderId("token"))!;
        Assert.Equal(("Assets:Tokens", true, (Money?)null), (token.Account, token.MayRepeat, token.Tolerance));
    }

    [Fact]
    public void Accounts_are_standard_but_for_those_that_are_named()
    {
        var accounts = Setup(With("""
            "accounts":[{"id":"tax","account":"2200"},{"id":"parking","name":"Parking","account":"4900"}],
            """)).Accounts;
        Assert.Equal("2200", accounts.Single(a => a.Id == "tax").Account);
        Assert.Equal("Tax", accounts.Single(a => a.Id == "tax").Name);
        Assert.Equal("Income:Sales", accounts.Single(a => a.Id == "goods").Account);
        Assert.Equal("4900", accounts[^1].Account);
    }

    [Fact]
    public void Every_account_of_a_ticket_line_has_a_place_in_the_books() =>
        Assert.All(new[] { "goods", "gift-card-load", "account-payment", "layaway", "container-deposit", "service", "donation" },
            id => Assert.Contains(AccountUse.Standard, a => a.Id == id));

    [Fact]
    public void A_store_counts_the_notes_and_coins_that_it_names()
    {
        var listed = Setup(With("""
            "denominations":[{"worth":"0.25","pack":40,"grams":"5.670","keep":20},{"worth":"20.00","note":true,"pack":100}],
            """)).Denominations;
        Assert.Equal([(20_00L, true, 100, 0), (25L, false, 40, 20)], listed.Select(d => (d.Worth.Minor, d.IsNote, d.Pack ?? 0, d.Kept)));
        Assert.Equal(5.670m, listed[1].Grams);
    }

    /// <summary>United States Mint, coin specifications, and Federal Reserve, rolls and straps (from memory).</summary>
    [Theory]
    [InlineData(1, "2.500", 50)]
    [InlineData(5, "5.000", 40)]
    [InlineData(10, "2.268", 50)]
    [InlineData(25, "5.670", 40)]
    [InlineData(50, "11.340", 20)]
    [InlineData(100, "1", 100)]
    [InlineData(20_00, "1", 100)]
    public void Without_a_list_it_is_what_is_usual_in_the_currency(long worth, string grams, int pack)
    {
        var d = Setup(MadeUp.Setup).Denominations.Single(x => x.Worth.Minor == worth);
        Assert.Equal((decimal.Parse(grams, System.Globalization.CultureInfo.InvariantCulture), pack), (d.Grams, d.Pack!.Value));
    }

    [Fact]
    public void The_pieces_that_a_float_should_have_make_the_demos_float() =>
        Assert.Equal(new Money(200_00), Setup(MadeUp.Setup).Denominations.Sum(d => d.Worth * d.Kept));

    [Fact]
    public void What_cannot_be_is_refused_with_a_sentence()
    {
        Refused("expected tenders of the catalogue", With("", registers: "\"tenders\":[\"shells\"]"));
        Refused("expected registers that day.json names",
            With("").Replace("\"role\":\"cashier\"", "\"role\":\"cashier\",\"registers\":[\"L9\"]", StringComparison.Ordinal));
        Refused("not negative", With("\"tenders\":[{\"id\":\"cash\",\"tolerance\":\"-1.00\"}],"));
        Refused("given twice", With("\"denominations\":[{\"worth\":\"1.00\"},{\"worth\":\"1.00\"}],"));
        Refused("above 0", With("\"denominations\":[{\"worth\":\"0.00\"}],"));
        Refused("but there is none", With("\"accounts\":[{\"id\":\"tax\"}],"));
    }

    [Theory]
    [InlineData("3.99", CellState.Proved)]
    [InlineData("3.50", CellState.Proved)]
    [InlineData("3.49", CellState.Off)]
    public void A_tenders_own_tolerance_says_when_its_cell_proves(string counted, CellState state)
    {
        var setup = With("\"tenders\":[{\"id\":\"coupon\",\"tolerance\":\"0.50\"}],");
        var reading = MadeUp.Read([MadeUp.Ticket("4.00", """{"type":"coupon","amount":"4.00"}""")], "",
            MadeUp.Counted("", more: $",\"stubs\":{{\"coupon\":\"{counted}\"}}"), setup);
        Assert.Equal(state, Reconciliation.Of(reading.Day!).Cell("L1", "coupon", "L1-A").State);
    }

    private static Disagreement[] Found(string setup, params string[] journal) =>
        [.. Disagreement.In(MadeUp.Read(journal, setup: setup).Day ?? throw new InvalidOperationException("the day does not read"))];

    [Fact]
    public void A_tender_that_a_register_does_not_take_is_told()
    {
        var setup = With("", registers: "\"tenders\":[\"cash\",\"check\"]");
        var found = Assert.Single(Found(setup, MadeUp.Ticket("5.00", """{"type":"coupon","amount":"5.00"}"""),
            MadeUp.Ticket("5.00", """{"type":"cash","amount":"5.00"}"""),
            MadeUp.Ticket("5.00", """{"type":"coupon","amount":"5.00"}""", register: "L2")));
        Assert.Equal((DisagreementKind.TenderNotTaken, "coupon"), (found.Kind, found.Tender!.Type.Value));
    }

    [Fact]
    public void A_tender_used_twice_is_told_where_it_may_be_used_once()
    {
        const string Twice = """{"type":"coupon","amount":"2.00"},{"type":"coupon","amount":"3.00"}""";
        Assert.Empty(Found(MadeUp.Setup, MadeUp.Ticket("5.00", Twice)));
        var found = Assert.Single(Found(With("\"tenders\":[{\"id\":\"coupon\",\"twice\":false}],"), MadeUp.Ticket("5.00", Twice)));
        Assert.Equal((DisagreementKind.TenderTwice, new Money(3_00)), (found.Kind, found.Tender!.Amount));
    }

    /// <summary>T-1 stands at Lane 1 until noon, at Lane 2 from one, and in between nowhere.</summary>
    [Theory]
    [InlineData("L1", "11:59", false)]
    [InlineData("L1", "12:00", true)]
    [InlineData("L2", "12:30", true)]
    [InlineData("L2", "13:00", false)]
    public void A_card_run_on_a_terminal_that_stands_elsewhere_is_told(string register, string at, bool told) =>
        Assert.Equal(told, Found(MadeUp.Setup, MadeUp.Ticket("5.00", MadeUp.Card("5.00", "1"), at, register))
            .Any(d => d.Kind == DisagreementKind.TerminalElsewhere));

    [Fact]
    public void A_register_opened_by_somebody_who_may_not_is_told()
    {
        var setup = MadeUp.Setup.Replace("\"role\":\"cashier\"", "\"role\":\"cashier\",\"registers\":[\"L2\"]", StringComparison.Ordinal);
        var found = Assert.Single(Found(setup, MadeUp.Event("open", "\"amount\":\"200.00\"", register: "L1"),
            MadeUp.Event("open", "\"amount\":\"200.00\"", register: "L2")));
        Assert.Equal((DisagreementKind.OpenedByAnother, "L1"), (found.Kind, found.Event.Register.Value));
    }

    private static string At(string time, int number, string register = "L1") =>
        MadeUp.Event("no-sale", "", register: register, id: $"{register}-{number:000000}")
            .Replace(MadeUp.At("10:00"), time, StringComparison.Ordinal);

    [Fact]
    public void A_clock_that_went_back_is_told_with_the_event_before()
    {
        var found = Assert.Single(Found(MadeUp.Setup, At("2026-11-21T10:00:00-05:00", 3), At("2026-11-21T09:00:00-05:00", 4),
            At("2026-11-21T09:58:30-05:00", 5), At("2026-11-21T09:57:00-05:00", 6), At("2026-11-21T08:00:00-05:00", 1, "L2")));
        Assert.Equal((DisagreementKind.ClockBack, "L1-000004", "L1-000003"), (found.Kind, found.Event.Id.Value, found.Before!.Id.Value));
    }

    /// <summary>When summer time ends there are two half past ones: with their offsets they come one after the other.</summary>
    [Theory]
    [InlineData("-05:00", 0)]
    [InlineData("-04:00", 1)]
    public void The_second_half_past_one_is_no_jump_unless_the_register_forgot_its_offset(string offset, int told)
    {
        var setup = MadeUp.Setup.Replace("2026-11-21", "2026-10-31", StringComparison.Ordinal);
        Assert.Equal(told, Found(setup, At("2026-11-01T01:45:00-04:00", 1), At($"2026-11-01T01:30:00{offset}", 2)).Length);
    }

    [Theory]
    [InlineData(1)]
    [InlineData(2)]
    [InlineData(3)]
    public void A_generated_day_agrees_with_its_own_set_up(int seed)
    {
        var made = Standins.Days.DayMaker.MakeFaulty(seed, 9, 600, 12, overlap: true);
        var builder = new Files.Reading.DayBuilder();
        foreach (var (name, text) in made.Files.OrderBy(f => f.Key == "day.json" ? 0 : 1))
        {
            builder.Take(name, new MemoryStream(System.Text.Encoding.UTF8.GetBytes(text)));
        }

        Assert.Empty(Disagreement.In(builder.Build().Day!));
    }
}
