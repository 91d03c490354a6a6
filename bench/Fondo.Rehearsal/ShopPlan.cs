using System.Globalization;
using System.Text.Json.Nodes;

namespace Fondo.Rehearsal;

/// <summary>A register of a made-up shop.</summary>
/// <param name="Terminal">Its card terminal; null where it takes no cards.</param>
public sealed record Register(string Id, string Name, string Kind, long Float, string? Terminal)
{
    public bool HasDrawer => Kind != "online";
}

/// <summary>How a made-up shop is: its money, its hours, its registers and habits. Follows from a seed.</summary>
/// <param name="Digits">Decimals of its currency.</param>
/// <param name="Coin">The smallest coin in minor units.</param>
/// <param name="RestsOn">The weekday on which nobody works; null: none.</param>
/// <param name="Surcharge">What credit cards pay more; 0: nothing.</param>
/// <param name="CashDiscount">What cash and checks pay less; 0: nothing.</param>
/// <param name="TakesBenefits">Whether it takes food benefits, which a processor of their own pays.</param>
/// <param name="SwapsOn">The day on which the terminal of the first register breaks at 17:40 and another takes its place; null:
/// none.</param>
/// <param name="IsWired">Whether its registers send their journals over HTTP; else they are brought as files.</param>
/// <param name="IsConnected">Whether its terminals are settled over the wire; else the processor's files are brought.</param>
/// <param name="Shape">Of its bank's statements.</param>
/// <param name="SettlesLate">Whether its terminals settle after midnight.</param>
public sealed record ShopPlan(
    int Seed, string Currency, int Digits, long Coin, string TimeZone, TimeOnly DayEndsAt, DateOnly Begins, DayOfWeek? RestsOn,
    IReadOnlySet<DateOnly> Holidays, IReadOnlyList<Register> Registers,
    decimal Surcharge, decimal CashDiscount, decimal CardFee, bool TakesBenefits, DateOnly? SwapsOn, bool IsWired, bool IsConnected,
    bool SettlesLate, StatementShape Shape)
{
    public const string Cards = "QUILL 20441", Benefits = "HARVEST 77010", Account = "4471-0092-MM", Spare = "T-90";

    /// <summary>The hour at which a terminal breaks.</summary>
    public const double SwapHour = 17 + (40 / 60.0);

    private static readonly (string Code, int Digits, long[] Coins)[] _currencies =
        [("USD", 2, [1, 1, 1, 5]), ("CAD", 2, [5]), ("EUR", 2, [1]), ("KWD", 3, [5]), ("JPY", 0, [1])];

    private static readonly string[] _zones = ["America/New_York", "Europe/Berlin", "Asia/Tokyo", "Asia/Kuwait", "America/Toronto"];

    public long Unit => Digits switch { 0 => 1, 2 => 100, _ => 1000 };

    public TimeZoneInfo Zone => TimeZoneInfo.FindSystemTimeZoneById(TimeZone);

    public static ShopPlan Of(int seed)
    {
        var random = new Random(seed);
        var (code, digits, coins) = _currencies[random.Next(3) == 0 ? random.Next(_currencies.Length) : 0];
        long unit = digits switch { 0 => 1, 2 => 100, _ => 1000 };
        var number = random.Next(4) switch { 0 => 1, 1 => random.Next(2, 4), 2 => random.Next(3, 7), _ => random.Next(1, 26) };
        var registers = Enumerable.Range(1, number).Select(n =>
        {
            var kind = n == number && number > 2 && random.Next(2) == 0
                ? "online"
                : random.Next(5) switch { 0 => "self", 1 => "desk", _ => "lane" };
            var hasCards = kind == "online" || random.Next(6) > 0;
            return new Register($"L{n}", $"Lane {n}", kind, kind == "online" ? 0 : random.Next(1, 4) * 100 * unit,
                hasCards ? $"T-{n:00}" : null);
        }).ToList();
        // Some spans hold a change to summer time, or back.
        DateOnly[] begins = [new(2026, 3, 2), new(2026, 10, 19), new(2026, 6, 1), new(2026, 12, 14)];
        var first = begins[random.Next(begins.Length)];
        var programme = random.Next(4);
        var plan = new ShopPlan(
            seed, code, digits, coins[random.Next(coins.Length)], _zones[random.Next(_zones.Length)],
            random.Next(3) == 0 ? TimeOnly.MinValue : new TimeOnly(4, 0), first,
            random.Next(4) == 0 ? null : DayOfWeek.Sunday,
            Enumerable.Range(0, random.Next(3)).Select(_ => first.AddDays(random.Next(3, 40))).ToHashSet(), registers,
            programme == 0 ? 0.030m : 0m, programme == 1 ? 0.040m : 0m, random.Next(2) == 0 ? 0.0150m : 0m,
            code == "USD" && random.Next(2) == 0,
            random.Next(2) == 0 ? first.AddDays(random.Next(2, 20)) : null, random.Next(2) == 0, random.Next(3) == 0, random.Next(4) == 0,
            (StatementShape)random.Next(5));
        return plan with { SwapsOn = plan.SwapsOn is { } day ? plan.NextOpen(day) : null };
    }

    public bool IsOpen(DateOnly date) => date.DayOfWeek != RestsOn && !Holidays.Contains(date);

    /// <summary>The terminal that stood at a register at a time.</summary>
    public string? TerminalOf(Register register, DateTimeOffset at) =>
        register.Terminal is not null && register == Registers[0] && SwapsOn is { } day && at >= At(day, SwapHour)
            ? Spare
            : register.Terminal;

    public DateOnly NextOpen(DateOnly after)
    {
        do
        {
            after = after.AddDays(1);
        }
        while (!IsOpen(after));

        return after;
    }

    public DateTimeOffset At(DateOnly date, double hour)
    {
        var local = date.ToDateTime(TimeOnly.MinValue).AddSeconds(Math.Round(hour * 3600));
        // An hour that summer time leaves out is an hour later.
        local = Zone.IsInvalidTime(local) ? local.AddHours(1) : local;
        return new(local, Zone.GetUtcOffset(local));
    }

    public string Text(long minor)
    {
        var value = minor / (decimal)Unit;
        return value.ToString("F" + Digits.ToString(CultureInfo.InvariantCulture), CultureInfo.InvariantCulture);
    }

    public long Read(string text) => (long)(decimal.Parse(text, CultureInfo.InvariantCulture) * Unit);

    public static string Text(DateTimeOffset at) => at.ToString("yyyy-MM-dd'T'HH:mm:sszzz", CultureInfo.InvariantCulture);

    /// <summary>To the nearest coin, half up; what is given back as what is taken.</summary>
    public long Rounded(long cash)
    {
        var size = Math.Abs(cash);
        var rounded = size - (size % Coin) + (size % Coin * 2 >= Coin ? Coin : 0);
        return Math.Sign(cash) * rounded;
    }

    private IEnumerable<JsonNode> Terminals(bool isSwapped)
    {
        foreach (var register in Registers.Where(r => r.Terminal is not null))
        {
            var own = new JsonObject { ["id"] = register.Terminal, ["register"] = register.Id, ["connected"] = IsConnected };
            if (isSwapped && register == Registers[0])
            {
                var at = Text(At(SwapsOn!.Value, SwapHour));
                own["until"] = at;
                yield return new JsonObject { ["id"] = Spare, ["register"] = register.Id, ["from"] = at, ["connected"] = IsConnected };
            }

            yield return own;
        }
    }

    private JsonObject? Programme() => (Surcharge, CashDiscount) switch
    {
        (not 0, _) => new()
        {
            ["kind"] = "surcharge",
            ["rate"] = Surcharge.ToString(CultureInfo.InvariantCulture),
            ["tenders"] = new JsonArray("credit")
        },
        (_, not 0) => new() { ["kind"] = "cash-discount", ["rate"] = CashDiscount.ToString(CultureInfo.InvariantCulture) },
        _ => null,
    };

    private IEnumerable<JsonNode> Processors()
    {
        yield return new JsonObject
        {
            ["id"] = "cards",
            ["name"] = "Card processor",
            ["reference"] = Cards,
            ["tenders"] = new JsonArray("credit", "debit", "online"),
            ["days"] = 2,
            ["net"] = true
        };
        if (TakesBenefits)
        {
            yield return new JsonObject
            {
                ["id"] = "benefits",
                ["name"] = "Benefit processor",
                ["reference"] = Benefits,
                ["tenders"] = new JsonArray("ebt-food"),
                ["days"] = 1,
                ["net"] = true
            };
        }
    }

    /// <summary>The set-up as day.json has it.</summary>
    /// <param name="isSwapped">Whether the first register's terminal has been replaced.</param>
    public string SetUp(bool isSwapped = false) => new JsonObject
    {
        ["fondo"] = 1,
        ["store"] = "Mossgate Market Hall",
        ["tradingDay"] = Begins.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture),
        ["currency"] = Currency,
        ["timeZone"] = TimeZone,
        ["dayEndsAt"] = DayEndsAt.ToString("HH:mm", CultureInfo.InvariantCulture),
        ["registers"] = new JsonArray([.. Registers.Select(r =>
            new JsonObject { ["id"] = r.Id, ["name"] = r.Name, ["kind"] = r.Kind, ["float"] = r.HasDrawer ? Text(r.Float) : null })]),
        ["terminals"] = new JsonArray([.. Terminals(isSwapped)]),
        ["people"] = new JsonArray(
            new JsonObject { ["id"] = "p01", ["name"] = "Odile Marchetti", ["role"] = "supervisor" },
            new JsonObject { ["id"] = "p02", ["name"] = "Tamsin Okafor", ["role"] = "manager" },
            new JsonObject { ["id"] = "p11", ["name"] = "Ansel Ruiz", ["role"] = "cashier" }),
        ["tenders"] = new JsonArray(),
        ["processors"] = new JsonArray([.. Processors()]),
        ["cardFees"] = CardFee == 0
            ? new JsonArray()
            : new JsonArray(new JsonObject
            {
                ["processor"] = "cards",
                ["rate"] = CardFee.ToString(CultureInfo.InvariantCulture),
                ["perItem"] = Text(0)
            }),
        ["policy"] = new JsonObject
        {
            ["cashTolerance"] = Text(0),
            ["approvalAbove"] = Text(20 * Unit),
            ["priceProgramme"] = Programme(),
            ["cashRounding"] = Text(Coin),
        },
    }.ToJsonString();
}
