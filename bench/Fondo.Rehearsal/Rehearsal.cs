using System.Globalization;
using AngleSharp.Dom;

namespace Fondo.Rehearsal;

/// <summary>Where a rehearsal is played: a fresh application behind an address, with a clock that the rehearsal sets.</summary>
public interface IStage : IAsyncDisposable
{
    Uri Address { get; }

    /// <summary>The code with which the first two people are named.</summary>
    string Code { get; }

    /// <summary>Opens the application, where its terminals have a processor with that.</summary>
    void Open(Uri? processor);

    /// <summary>Lets it be that time.</summary>
    void SetClock(DateTimeOffset at);
}

/// <summary>What a rehearsal came to.</summary>
/// <param name="Differences">What pages and exports said otherwise than the real money; and pages that failed.</param>
public sealed record Rehearsed(int Days, int Acts, IReadOnlyList<string> Differences);

/// <summary>A made-up shop that people live through its pages, day after day, with mistakes; every close is held against the shop's real
/// money.</summary>
public sealed partial class Rehearsal(ShopPlan plan, IStage stage)
{
    private readonly Random _random = new(plan.Seed * 7919);
    private readonly RealMoney _real = new();
    private readonly HouseBank _bank = new(plan);
    private readonly List<string> _differences = [];
    private readonly Dictionary<string, string> _keys = [];
    private readonly Queue<Evening> _open = new();
    private readonly List<Ticket> _late = [];
    private Till _till = null!;
    private WireProcessor? _wire;
    private Browser _odile = null!, _ansel = null!;
    private DateTimeOffset _now;
    private int _bags, _batches, _days;
    private DateOnly? _lastStatement;
    private bool _hasCashier;

    /// <summary>An evening that is counted and waits for its close, with what was where when it was counted.</summary>
    private sealed record Evening(DateOnly Date)
    {
        public Snapshot Then { get; set; } = null!;
    }

    private sealed record Snapshot(long Safe, long Floats, IReadOnlyDictionary<string, long> Bags, long Checks, long Cash, long Change,
        IReadOnlyList<SealedBag> Sealed, long Goods, long Tax, long Fees, long Rounding, long PaidOut)
    {
        /// <summary>Accounts of customers, gift cards, layaways and discounts.</summary>
        public required IReadOnlyDictionary<string, long> Accounts { get; init; }

        /// <summary>What is left of each invoice, layaway and gift card, by account and number.</summary>
        public required IReadOnlyDictionary<(string Account, string Number), long> Items { get; init; }

        /// <summary>What tickets took, by tender.</summary>
        public required IReadOnlyDictionary<string, long> Taken { get; init; }
    }

    private bool Chance(double odds) => _random.NextDouble() < odds;

    public static async Task<Rehearsed> Of(ShopPlan plan, IStage stage, int days)
    {
        var rehearsal = new Rehearsal(plan, stage);
        await rehearsal.Play(days);
        return new(rehearsal._days, rehearsal._odile.Acts + rehearsal._ansel.Acts, rehearsal._differences);
    }

    private async Task Play(int days)
    {
        _till = new(plan, _random);
        using var wire = plan.IsConnected ? new WireProcessor(plan) { Now = () => _now } : null;
        _wire = wire;
        stage.Open(wire?.Address);
        (_odile, _ansel) = (new(stage.Address) { BeforeSending = Ticks }, new(stage.Address) { BeforeSending = Ticks });
        using var odile = _odile;
        using var ansel = _ansel;
        var date = plan.IsOpen(plan.Begins) ? plan.Begins : plan.NextOpen(plan.Begins);
        try
        {
            Clock(date, 6.5);
            await SetUp(date);
            for (var day = 0; day < days && _differences.Count < 20; day++)
            {
                await Day(date, day == 0, day == days - 1);
                _days++;
                date = await Rest(date);
            }
        }
        catch (Exception e) when (e is DoorException or HttpRequestException)
        {
            Differs(date, e.Message);
        }
    }

    private void Differs(DateOnly date, string what) =>
        _differences.Add(string.Create(CultureInfo.InvariantCulture, $"seed {plan.Seed}, {date:yyyy-MM-dd}: {what}"));

    private void Clock(DateOnly date, double hour)
    {
        var at = plan.At(date, hour);
        if (at > _now)
        {
            _now = at;
            stage.SetClock(at);
        }
    }

    /// <summary>A few seconds go by with everything that a person does.</summary>
    private void Ticks() => stage.SetClock(_now = _now.AddSeconds(7));

    private static string Path(DateOnly date, string rest) => string.Create(CultureInfo.InvariantCulture, $"/{date:yyyy-MM-dd}/{rest}");

    /// <summary>From the first page to a set-up with keys for the registers.</summary>
    private async Task SetUp(DateOnly date)
    {
        await _odile.Post("/set-up",
        [
            ("Code", stage.Code), ("People[0].Name", "Odile Marchetti"), ("People[0].Id", "p01"), ("People[0].Pin", "258013"),
            ("People[1].Name", "Tamsin Okafor"), ("People[1].Id", "p02"), ("People[1].Pin", "741026"),
        ]);
        await SignIn();
        var imported = await _odile.Upload("/store", "/store?handler=Import", "file", [("set-up.json", plan.SetUp())],
            [("from", date.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture))]);
        Refused(date, imported, "the set-up");
        Refused(date, await _odile.Post("/people", [("PersonId", "p11"), ("Name", "Ansel Ruiz"), ("Role", "Cashier"), ("Pin", "826419")]),
            "a cashier");
        await _ansel.Post("/sign-in", [("Who", "p11"), ("Pin", "826419")]);
        await _ansel.Post("/pin", [("old", "826419"), ("pin", "357190"), ("again", "357190")]);
        _hasCashier = true;
        foreach (var register in plan.Registers.Where(_ => plan.IsWired))
        {
            var page =
                await _odile.Post("/store?handler=Key", [("register", register.Id), ("second", "p02"), ("second-pin", "741026")], "/store");
            _keys[register.Id] = page.QuerySelector(".notice code")?.TextContent.Trim()
                ?? throw new DoorException("the key of a register is not shown");
        }

        _real.Opening = _real.Safe = 5_000 * plan.Unit;
    }

    private async Task SignIn()
    {
        await _odile.Post("/sign-in", [("Who", "p01"), ("Pin", "258013")]);
        if (_hasCashier)
        {
            await _ansel.Post("/sign-in", [("Who", "p11"), ("Pin", "357190")]);
        }
    }

    /// <summary>Tells where something that should have gone through was refused.</summary>
    private bool Refused(DateOnly date, IDocument page, string what)
    {
        if (Browser.Objections(page) is { Length: > 0 } objection)
        {
            Differs(date, $"{what} was refused: {objection}");
            return true;
        }

        return false;
    }

    /// <summary>Tells where something that should have been refused went through.</summary>
    private void MustRefuse(DateOnly date, IDocument page, string what)
    {
        if (Browser.Objections(page).Length == 0)
        {
            Differs(date, $"{what} was not refused");
        }
    }

    /// <summary>The days between: nobody sells; now and then the bank's statement is brought in on one of them.</summary>
    private async Task<DateOnly> Rest(DateOnly date)
    {
        var next = plan.NextOpen(date);
        if (next > date.AddDays(1) && Chance(0.6))
        {
            Clock(date.AddDays(1), 11);
            await SignIn();
            await BringStatement(date, date.AddDays(1));
        }

        return next;
    }

    /// <summary>The bank's lines until yesterday, taken in on the page of a day.</summary>
    private async Task BringStatement(DateOnly page, DateOnly today)
    {
        if (_lastStatement == today || _bank.Statement(today.AddDays(-1)) is not { } statement)
        {
            return;
        }

        _lastStatement = today;
        await Brought(today, await _odile.Upload(Path(page, "bank"), Path(page, "bank"), "statement", [(statement.Name, statement.Text)]),
            "a statement of the bank");
        if (Chance(0.2))
        {
            await Brought(today, await _odile.Upload(Path(page, "bank"), Path(page, "bank"), "statement",
                [(statement.Name, statement.Text)]), "the same statement once more");
        }
    }

    /// <summary>Where files change what was judged already, Tamsin looks at it and agrees.</summary>
    private async Task Brought(DateOnly date, IDocument page, string what)
    {
        Refused(date, page, what);
        foreach (var id in page.QuerySelectorAll("form[action*='handler=Held'] input[name='id']").Select(i => i.GetAttribute("value")!)
            .ToList())
        {
            Refused(date, await _odile.Post("/take-in?handler=Held", [("id", id), ("how", "agree"), ("who", "p02"), ("pin", "741026")],
                "/take-in"), $"agreeing to {what}");
        }
    }
}
