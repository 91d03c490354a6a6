using System.Text.Json.Nodes;

namespace Fondo.Standins.Days;

/// <summary>The invented store of the demo: its registers, people and goods.</summary>
internal static class Scene
{
    public const string Store = "Mossgate Market Hall", TimeZone = "America/New_York";

    public static readonly DateOnly Date = new(2026, 11, 21);

    /// <summary>How far the store's clocks are from UTC at noon of that day.</summary>
    public static TimeSpan OffsetOn(DateOnly date) =>
        TimeZoneInfo.FindSystemTimeZoneById(TimeZone).GetUtcOffset(date.ToDateTime(new(12, 0)));

    /// <param name="Tickets">About how many a day.</param>
    public sealed record RegisterPlan(string Id, string Name, string Kind, long Float, string Terminal, int Tickets,
        params SessionPlan[] Sessions);

    public sealed record SessionPlan(string? Drawer, string Cashier, double From, double Until);

    public static readonly RegisterPlan[] Registers =
    [
        new("L1", "Lane 1", "lane", 200_00, "T-01", 74, new("L1-A", "p11", 7, 15.1), new("L1-B", "p12", 15.2, 21)),
        new("L2", "Lane 2", "lane", 200_00, "T-02", 70, new SessionPlan("L2-A", "p13", 7, 21)),
        new("L3", "Lane 3", "lane", 200_00, "T-03", 64, new SessionPlan("L3-A", "p14", 8, 21)),
        new("L4", "Lane 4", "lane", 200_00, "T-04", 56, new SessionPlan("L4-A", "p15", 9, 21)),
        new("SA", "Self-service A", "self", 150_00, "T-05", 42, new SessionPlan("SA-A", "p01", 7, 21)),
        new("SB", "Self-service B", "self", 150_00, "T-06", 36, new SessionPlan("SB-A", "p01", 7, 21)),
        new("GY", "Garden Yard", "desk", 250_00, "T-07", 26, new SessionPlan("GY-A", "p16", 8, 19)),
        new("BK", "Bakery Counter", "desk", 150_00, "T-08", 24, new SessionPlan("BK-A", "p12", 7, 14.8)),
        new("WO", "Web Orders", "online", 0, "T-09", 14, new SessionPlan(null, "p90", 7, 21)),
    ];

    /// <summary>The store with further lanes, or with fewer registers, so that there are so many registers and about so many
    /// tickets.</summary>
    public static RegisterPlan[] Grown(int registers, int tickets)
    {
        if (registers <= Registers.Length)
        {
            var kept = Registers.Where(r => _whenFewer.Take(registers).Contains(r.Id)).ToArray();
            var usual = kept.Sum(r => r.Tickets);
            return [.. kept.Select(r => r with { Tickets = Math.Max(2, r.Tickets * tickets / usual) })];
        }

        var further = registers - Registers.Length;
        var each = Math.Max(2, (tickets - Registers.Sum(r => r.Tickets)) / further);
        return
        [
            .. Registers,
            .. Enumerable.Range(5, further).Select(n => new RegisterPlan(
                $"L{n}", $"Lane {n}", "lane", 200_00, $"T-{n + 5:00}", each, new SessionPlan($"L{n}-A", "p14", 7, 21))),
        ];
    }

    public const string CardReference = "QUILL 20441", BenefitReference = "HARVEST HOST";

    public static JsonArray Processors() => new(
        new JsonObject
        {
            ["id"] = "cards",
            ["name"] = "Quill, the card processor",
            ["reference"] = CardReference,
            ["tenders"] = new JsonArray("credit", "debit", "online"),
            ["days"] = 2,
            ["net"] = true
        },
        new JsonObject
        {
            ["id"] = "benefits",
            ["name"] = "The Harvest host",
            ["reference"] = BenefitReference,
            ["tenders"] = new JsonArray("ebt-food", "ebt-cash", "wic"),
            ["days"] = 1,
            ["net"] = true
        });

    public static JsonArray CardFees() => new([.. new[]
    {
        ("heron", "0.0175", "0.08"),
        ("kestrel", "0.0185", "0.08"),
        ("egret", "0.0210", "0.10"),
        ("merle", "0.0195", "0.10"),
        ("", "0.0060", "0.15")
    }
        .Select(f => new JsonObject
        {
            ["processor"] = "cards",
            ["brand"] = f.Item1.Length == 0 ? null : f.Item1,
            ["rate"] = f.Item2,
            ["perItem"] = f.Item3
        })]);

    /// <summary>Which registers a smaller store has, first ones first.</summary>
    private static readonly string[] _whenFewer = ["L1", "L2", "WO", "BK", "SA", "GY", "L3", "SB", "L4"];

    /// <summary>What everything costs in a store with few prices.</summary>
    public static readonly long[] FewPrices = [1_99, 4_99, 9_99, 19_99];

    public static readonly (string Id, string Name, string Role)[] People =
    [
        ("p01", "Odile Marchetti", "supervisor"), ("p02", "Tamsin Okafor", "manager"), ("p11", "Ansel Ruiz", "cashier"),
        ("p12", "Bryn Halloran", "cashier"), ("p13", "Chidi Lindqvist", "cashier"), ("p14", "Dara Petrov", "cashier"),
        ("p15", "Esme Whitlock", "cashier"), ("p16", "Farid Nakamura", "cashier"), ("p21", "Gil Abernathy", "auditor"),
        ("p90", "Web Orders", "cashier"),
    ];

    /// <param name="TaxRate">In hundredths of a percent.</param>
    public sealed record Good(string Sku, string Name, long Price, int TaxRate, bool Ebt, bool ByWeight = false);

    public static readonly Good[] Goods =
    [
        new("M101", "Country bread", 4_75, 0, true),
        new("M102", "Eggs, dozen", 5_25, 0, true),
        new("M103", "Milk, half gallon", 3_95, 0, true),
        new("M104", "Apples", 2_49, 0, true, ByWeight: true),
        new("M105", "Carrots", 1_79, 0, true, ByWeight: true),
        new("M106", "Oat biscuits", 4_35, 500, true),
        new("M201", "Tomato seedling", 3_50, 500, true),
        new("M202", "Basil seed packet", 2_95, 500, true),
        new("M203", "Potting soil, 20 l", 9_00, 800, false),
        new("M204", "Hand trowel", 14_50, 800, false),
        new("M205", "Clay pot, 18 cm", 6_80, 800, false),
        new("M206", "Watering can", 23_90, 800, false),
        new("M301", "Hot soup", 6_50, 800, false), new("M302", "Cheese, wedge", 8_65, 0, true), new("M303", "Coffee beans", 12_40, 0, true),
        new("M304", "Candle", 7_20, 800, false),
    ];

    public static readonly string[] Schemes = ["heron", "kestrel", "egret", "merle"];
}
