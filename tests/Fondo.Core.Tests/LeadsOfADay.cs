using System.Text;
using System.Text.Json;
using CsCheck;
using Fondo.Core.Amounts;
using Fondo.Core.Cells;
using Fondo.Core.Days;
using Fondo.Core.Entries;
using Fondo.Core.Journal;
using Fondo.Core.Leads;
using Fondo.Core.Reconciling;
using Fondo.Files;
using Fondo.Files.Reading;
using Fondo.Standins.Days;
using Google.OrTools.Sat;

using static Fondo.Core.Tests.MadeUp;

namespace Fondo.Core.Tests;

/// <summary>Rules §6: why it is off, with evidence and an honest chance.</summary>
public sealed class LeadsOfADay
{
    [Theory]
    [InlineData("surcharge")]
    [InlineData("cash-discount")]
    public void The_planted_faults_of_the_example_days_come_first(string name)
    {
        var result = Reconciliation.Of(ExampleDays.Read(name));
        var leads = LeadFinder.Of(result).Leads;
        using var truth = JsonDocument.Parse(File.ReadAllText(ExampleDays.Folder(name) + ".truth.json"));
        foreach (var error in truth.RootElement.GetProperty("errors").EnumerateArray()
            .Where(e => e.GetProperty("kind").ValueKind == JsonValueKind.String))
        {
            var keys = error.GetProperty("keys").EnumerateArray().Select(k => k.GetString()!).ToHashSet();
            foreach (var cell in error.GetProperty("cells").EnumerateArray())
            {
                var key =
                    $"{cell.GetProperty("register").GetString()}/{cell.GetProperty("drawer").GetString() ?? "-"}/"
                        + $"{cell.GetProperty("tender").GetString()}";
                var first = Assert.Single(leads, l => l.Cell.ToString() == key && l.Rank == 1);
                Assert.Equal(error.GetProperty("kind").GetString(), first.Kind.Written());
                Assert.Contains(first.Keys, k => keys.Contains(k));
                Assert.Equal(cell.GetProperty("delta").GetString(), result.Day.Setup.Currency.Format(first.Explains));
                Assert.InRange(first.Chance, 0, 0.1);
            }
        }

        Assert.All(leads, l => Assert.Equal(CellState.Off, result.Cells.Single(c => c.Key == l.Cell).State));
    }

    [Fact]
    public void A_day_that_proves_has_no_leads() => Assert.Empty(LeadFinder.Of(Reconciliation.Of(ExampleDays.Read("clean"))).Leads);

    private static Reconciliation Made(MadeDay made)
    {
        var builder = new DayBuilder();
        foreach (var name in DayFiles.All.Where(made.Files.ContainsKey))
        {
            builder.Take(name, new MemoryStream(Encoding.UTF8.GetBytes(made.Files[name])));
        }

        return Reconciliation.Of(builder.Build().Day!);
    }

    /// <summary>Over generated days: a lead first for nearly every fault, chances that keep their word, nothing on proved cells, and
    /// entries that add up.</summary>
    [Theory]
    [InlineData(6, 900, 8, false, Prices.Mixed, 0.98)]
    [InlineData(6, 900, 8, false, Prices.Few, 0.98)]
    [InlineData(20, 6000, 25, false, Prices.Mixed, 0.98)]
    [InlineData(6, 900, 8, true, Prices.Mixed, 0.9)]
    public void Generated_faults_are_found(int registers, int tickets, int faults, bool overlap, Prices prices, double least)
    {
        var (planted, first, squares, shown) = (0, 0, 0.0, 0);
        for (var seed = 2000; seed < 2008; seed++)
        {
            var made = DayMaker.MakeFaulty(seed, registers, tickets, faults, overlap, prices);
            var result = Made(made);
            var leads = LeadFinder.Of(result).Leads;
            bool IsRight(Lead lead, Trouble trouble) => lead.Kind.Written() == trouble.Kind
                && trouble.Cells.Any(c =>
                    new CellName(c.Register, c.Drawer, c.Tender) == lead.Cell.Written)
                && lead.Keys.Any(k => trouble.Keys.Any(t => t.Split('#')[0] == k.Split('#')[0]));
            planted += made.Troubles.Count;
            first += made.Troubles.Count(t => leads.Any(l => l.Rank == 1 && IsRight(l, t)));
            squares += leads.Sum(l => Math.Pow(l.Chance - (made.Troubles.Any(t => IsRight(l, t)) ? 0 : 1), 2));
            shown += leads.Length;
            Assert.All(leads, l => Assert.Equal(CellState.Off, result.Cells.Single(c => c.Key == l.Cell).State));
            Assert.All(leads, l => Assert.Equal(l.Explains.Minor, l.Entry.Where(p => p.Cell == l.Cell).Sum(p => p.Amount.Minor)));
        }

        Assert.InRange((double)first / planted, least, 1);
        Assert.InRange(squares / shown, 0, 0.05);
    }

    [Fact]
    public void The_same_day_has_the_same_leads_whatever_its_order()
    {
        var made = DayMaker.MakeFaulty(7, 10, 900, 12, overlap: true);
        string[] Leads(Func<string[], IEnumerable<string>> order)
        {
            var builder = new DayBuilder();
            foreach (var name in DayFiles.All.Where(made.Files.ContainsKey))
            {
                var lines = made.Files[name].Split('\n', StringSplitOptions.RemoveEmptyEntries);
                var shuffled = Path.GetExtension(name) switch
                {
                    ".jsonl" => order(lines),
                    ".csv" => lines.Take(1).Concat(order(lines[1..])),
                    _ => lines
                };
                builder.Take(name, new MemoryStream(Encoding.UTF8.GetBytes(string.Join('\n', shuffled))));
            }

            var day = builder.Build().Day!;
            return [.. LeadFinder.Of(Reconciliation.Of(day)).Leads
                .Select(l => $"{l.Cell} {l.Rank} {l.Kind} {string.Join(' ', l.Keys)} {l.Chance} {l.Says(day.Setup)}")];
        }

        var random = new Random(3);
        Assert.Equal(Leads(l => l), Leads(l => l.OrderBy(_ => random.Next())));
    }

    private static string Session(string more = "") => Event("open", "\"amount\":\"200.00\"") + more;

    private static string[] OtherSession(string sales) =>
        [Event("open", "\"amount\":\"200.00\"", "19:00", "L2"), Ticket(sales, $$"""{"type":"cash","amount":"{{sales}}"}""", "19:30", "L2")];

    /// <summary>Money that is simply gone, and nothing that points to it: no lead is invented.</summary>
    [Fact]
    public void Where_nothing_is_known_nothing_is_invented() =>
        Assert.Empty(LeadFinder.Of(Reconcile([Session(), Ticket("50.00", """{"type":"cash","amount":"50.00"}""")],
            counts: Counted("\"100.00\":2,\"0.01\":1287"))).Leads);

    [Fact]
    public void Two_faults_in_one_drawer_are_taken_apart()
    {
        // A bag of 140.00 that nobody recorded, and a ticket of 14.62 rung as cash and paid by card.
        var day = Reconcile(
            [
                Session(),
                Ticket("180.00", """{"type":"cash","amount":"180.00"}"""),
                Ticket("14.62", """{"type":"cash","amount":"20.00","change":"5.38"}""", id: "swap")
            ],
            rows: Row("14.62", "77", "1", "10:01"),
            counts: Counted("\"20.00\":12")
                + $",{{\"id\":\"bag\",\"kind\":\"drop\",\"bag\":\"B-9\",\"by\":\"p1\",\"at\":\"{At("18:00")}\",\"attempt\":1,\"cash\":{{\"20.00\":7}}}}");
        var leads = LeadFinder.Of(day).Leads;
        Assert.Equal(["drop-not-recorded", "tender-swap"],
            leads.Where(l => l.Cell.Drawer is not null && l.Rank == 1).Select(l => l.Kind.Written()).Order());
        Assert.Equal("tender-swap", Assert.Single(leads, l => l.Cell.Written.Tender == "credit" && l.Rank == 1).Kind.Written());
        // The same explanation is as probable in the one cell as in the other.
        Assert.Single(leads.Where(l => l.Kind.Written() == "tender-swap").Select(l => l.Chance).Distinct());
        Assert.Equal(day.Cell("L1", "cash", "L1-A").Variance!.Value.Minor,
            leads.Where(l => l.Cell.Drawer is not null && l.Rank == 1).Sum(l => l.Explains.Minor));
    }

    /// <summary>Two drawers exchange 35.50, and one of them has a bag besides, from before the other opened: only together do they make
    /// sense.</summary>
    [Fact]
    public void Two_drawers_that_exchange_money_are_weighed_together()
    {
        var day = Reconcile(
            [Session(), Ticket("180.00", """{"type":"cash","amount":"180.00"}"""), .. OtherSession("300.00")],
            counts: Counted("\"20.00\":12,\"0.50\":9")
                + $",{{\"id\":\"bag\",\"kind\":\"drop\",\"bag\":\"B-9\",\"by\":\"p1\",\"at\":\"{At("18:00")}\",\"attempt\":1,\"cash\":{{\"20.00\":5}}}},{{\"id\":\"other\",\"kind\":\"closing\",\"drawer\":\"L2-A\",\"by\":\"p1\",\"at\":\"{At("20:00")}\",\"attempt\":1,\"cash\":{{\"20.00\":26,\"0.50\":31}}}}");
        var leads = LeadFinder.Of(day).Leads;
        Assert.Equal(["drop-not-recorded", "other-drawer"],
            leads.Where(l => l.Cell.Drawer?.Value == "L1-A" && l.Rank == 1).Select(l => l.Kind.Written()).Order());
        var other = Assert.Single(leads, l => l.Cell.Drawer?.Value == "L2-A" && l.Rank == 1);
        Assert.Equal(("other-drawer", 35_50L), (other.Kind.Written(), other.Explains.Minor));
    }

    /// <summary>A bag that nobody recorded was dropped once: an entry says out of which drawer, and then it explains no other one, and
    /// nothing that only together with it makes sense is offered (rules §6, §11).</summary>
    [Fact]
    public void A_bag_that_an_entry_names_explains_nothing_else()
    {
        var bag =
            $"{{\"id\":\"bag\",\"kind\":\"drop\",\"bag\":\"B-9\",\"by\":\"p1\",\"at\":\"{At("21:00")}\",\"attempt\":1,\"cash\":{{\"0.10\":473}}}}";
        // Lane 2 began with less, which is known; so the bag is lane 1's.
        var opening = Counted("\"0.10\":1527", "L2-A").Replace("closing", "opening", StringComparison.Ordinal);
        var day = Reconcile(
            [
                Event("open", "\"amount\":\"100.00\"", "08:00"),
                Ticket("8.00", """{"type":"cash","amount":"10.00","change":"2.00"}"""), Event("close", "", "20:00"),
                .. OtherSession("300.00")
            ],
            counts: Counted("\"0.10\":1007") + "," + opening + "," + Counted("\"0.10\":4527", "L2-A") + "," + bag);
        var here = new CellKey.Takings(new("L1"), new("L1-A"), TenderId.Cash);
        var before = LeadFinder.Of(day).Leads;
        Assert.Equal([-47_30L, 40_00L], before.Where(l => l.Cell == here && l.Rank == 1).Select(l => l.Explains.Minor).Order());

        // The evidence of the entry is another; the bag is the same.
        var other = new CellKey.Takings(new("L2"), new("L2-A"), TenderId.Cash);
        var entry = new Entry(Guid.NewGuid(), EntryKind.Record, [new(other, new(-47_30))], "it was dropped at lane 2", new("p1"),
            new(2026, 11, 21, 22, 0, 0, TimeSpan.FromHours(-5)), ["B-9", "L2-A"], null, true, null)
        { Detail = new EntryDetail.Moved(MovementKind.Drop, "B-9") };
        var after = Explained.Leads(day, [entry]).Leads;
        Assert.DoesNotContain(after, l => l.Kind == LeadKind.DropNotRecorded);
        Assert.All(after.Where(l => l.Cell == here && l.Rank == 1),
            l => Assert.InRange(l.Explains.Minor, -7_30, 0));
    }

    /// <summary>The smallest set that adds up, against CP-SAT.</summary>
    [Fact]
    public void The_smallest_subset_is_as_small_as_a_solver_finds() =>
        Gen.Int[1, 60].Array[2, 14].Select(Gen.Int[1, 250]).Sample((amounts, target) =>
        {
            var ours = SmallestSubset.Of([.. amounts.Select(a => (long)a)], target);
            var model = new CpModel();
            var chosen = amounts.Select((_, i) => model.NewBoolVar($"c{i}")).ToArray();
            model.Add(LinearExpr.WeightedSum(chosen, amounts.Select(a => (long)a)) == target);
            model.AddLinearConstraint(LinearExpr.Sum(chosen), 2, SmallestSubset.Largest);
            model.Minimize(LinearExpr.Sum(chosen));
            var solver = new CpSolver { StringParameters = "num_search_workers:1" };
            var status = solver.Solve(model);
            Assert.Equal(status == CpSolverStatus.Optimal ? (int)Math.Round(solver.ObjectiveValue) : null, ours?.Length);
            Assert.True(ours is null || (ours.Value.Sum(i => amounts[i]) == target && ours.Value.Distinct().Count() == ours.Value.Length));
        }, iter: 300);
}
