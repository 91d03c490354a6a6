using System.Globalization;
using System.Text;
using System.Text.Json.Nodes;

namespace Fondo.Standins.Days;

/// <summary>Plays one day of the demo store, ticket by ticket, with troubles planted. The same seed, the same day.</summary>
public sealed partial class DayMaker
{
    private readonly Random _random;
    private readonly List<(DateTimeOffset At, byte[] Line)> _events = [];
    private JsonObject? _unwritten;
    private readonly List<Row> _rows = [];
    private readonly List<string> _ledger = [];
    private readonly List<JsonObject> _counts = [];
    private readonly List<Trouble> _troubles = [];
    private readonly Dictionary<string, Till> _tills = [];
    private readonly Dictionary<string, int> _numbers = [];
    private int _tickets, _tenders;

    /// <param name="Tender">The key of the tender that it settles, where one was recorded.</param>
    private sealed record Row(string? Tender, string Terminal, DateTimeOffset At, bool Refund, long Amount, long Cashback, string Brand,
        string Card, string Auth, string? Rrn, string Entry, string Benefit)
    {
        public string? Tender { get; set; } = Tender;

        public string Terminal { get; set; } = Terminal;

        public long Amount { get; set; } = Amount;

        public bool Refund { get; set; } = Refund;

        public string Brand { get; set; } = Brand;

        public string Benefit { get; set; } = Benefit;

        /// <summary>Terminal, batch and sequence, once the batches are made.</summary>
        public string Key { get; set; } = "";

        /// <summary>What tender it proves, by benefit and brand.</summary>
        public string Type => Benefit.Length > 0 ? $"ebt-{Benefit}" : Brand == "debit" ? "debit" : Entry == "online" ? "online" : "credit";

        public SettledRow Settled => new(Key, Tender, Terminal, Type, Refund ? -Amount : Amount);
    }

    /// <summary>What really lies in a drawer as the day goes on.</summary>
    private sealed class Till
    {
        public long Cash, Coupons;
        public List<(string Number, long Amount)> Checks { get; } = [];
    }

    /// <summary>A card ticket that a trouble can happen to.</summary>
    private sealed record Candidate(Scene.RegisterPlan Register, string? Drawer, string Ticket, double Hour, Row? Row, long Amount,
        string Type, int Place, long Handed, bool IsAlone)
    {
        public string Key => $"{Ticket}#{Place}";
    }

    private readonly List<Candidate> _candidates = [];

    private readonly Scene.RegisterPlan[] _registers;

    private readonly Prices _prices;

    /// <summary>The share of tickets paid by card; null: as in the demo store.</summary>
    private readonly double? _settled;

    private DayMaker(int seed, Scene.RegisterPlan[] registers, bool overlap = true, Prices prices = Prices.Mixed, bool isDemo = false,
        int cardRate = 0, double? settled = null) =>
        (_random, _registers, _touched, _prices, _isDemo, _cardRate, _settled) =
            (new(seed), registers, overlap ? null : [], prices, isDemo, isDemo ? DemoRate : cardRate, settled);

    /// <summary>The demo store's day: nine registers, about 400 tickets, a card price, and everything that the demo is to show.</summary>
    public static MadeDay Make(int seed) => new DayMaker(seed, Scene.Registers, isDemo: true).Play(seed);

    /// <summary>How many tenders a generated ticket has, on average.</summary>
    public const double TendersOfATicket = 1.08;

    /// <summary>The same store with more lanes and more to do: so many registers, about so many tickets.</summary>
    /// <param name="cardRate">What credit cards pay more, in thousandths.</param>
    /// <param name="settled">The share of tickets paid by card; null: as in the demo store.</param>
    public static MadeDay Make(int seed, int registers, int tickets, int cardRate = 0, double? settled = null) =>
        new DayMaker(seed, Scene.Grown(registers, tickets), cardRate: cardRate, settled: settled).Play(seed);

    /// <summary>A day with so many faults planted, of every kind; what was planted is told in <see cref="MadeDay.Troubles"/>.</summary>
    /// <param name="overlap">Whether several faults may meet in one cell.</param>
    public static MadeDay MakeFaulty(int seed, int registers, int tickets, int faults, bool overlap, Prices prices = Prices.Mixed,
        int cardRate = 0, double? settled = null) =>
        new DayMaker(seed, Scene.Grown(registers, tickets), overlap, prices, cardRate: cardRate, settled: settled).Play(seed, faults);

    private MadeDay Play(int seed, int? faults = null)
    {
        foreach (var register in _registers)
        {
            foreach (var session in register.Sessions)
            {
                PlaySession(register, session);
            }
        }

        if (IsQuiet)
        {
            ServeCustomers();
            MiscountCents();
        }
        else if (faults is { } some)
        {
            PlantFaults(some);
        }
        else
        {
            PlantTroubles();
            if (_isDemo)
            {
                PlantDemo();
            }
        }

        var uncounted = CountDrawers(faults is null && !IsQuiet ? "L4-A" : "");
        SlipInCounts();
        if (_isDemo && !IsQuiet)
        {
            TensAsFives();
        }

        if (_isDemo)
        {
            CountSafe();
        }

        Finish();
        NumberByTime();
        var (rows, totals) = Batches(700 + (seed % 1000));
        List<MadeFile> files =
        [
            new("day.json", [Encoding.UTF8.GetBytes(DayJson())]),
            new("journal.jsonl", [.. _events.OrderBy(e => e.At).Select(e => e.Line)]),
            new("ledger.csv", [Encoding.UTF8.GetBytes("tender,seq,at,register,type,amount,ref\n" + string.Concat(_ledger))]),
            new("counts.json", [Encoding.UTF8.GetBytes("[\n" + string.Join(",\n", _counts.Select(Write.Json)) + "\n]\n")]),
            new("batches.csv", [Encoding.UTF8.GetBytes(rows)]),
            new("batch-totals.csv", [Encoding.UTF8.GetBytes(totals)]),
        ];
        if (_carried.Count > 0)
        {
            files.Add(new("carried.json", [Encoding.UTF8.GetBytes(Write.Json(new JsonObject
            {
                ["journal"] = new JsonArray([.. _carried]),
                ["batch"] = new JsonArray()
            }))]));
        }

        _troubles.AddRange(_planted.Select(p => new Trouble(p.Kind, [.. p.Keys.Select(k => k is Row row ? row.Key : (string)k)], p.Cells)
        {
            Open = [.. (p.Open ?? []).Select(k => k is Row row ? row.Key : (string)k)],
            Note = p.Note
        }));
        return new(files, _tickets, _tenders, _troubles, uncounted,
            faults is null
                ? null
                : () => new DayTruth(_events.Select(e => e.Line), _rows.Select(r => r.Settled), _ledger, _counts, _carried, _registers,
                    _troubles).ToJson(seed));
    }

    private DateTimeOffset At(double hour) =>
        new DateTimeOffset(_date.ToDateTime(TimeOnly.MinValue), _offset).AddSeconds(Math.Round(hour * 3600));

    private JsonObject Event(Scene.RegisterPlan register, Scene.SessionPlan session, double hour, string kind)
    {
        var e = new JsonObject
        {
            ["id"] = NextId(register.Id),
            ["register"] = register.Id,
            ["drawer"] = session.Drawer,
            ["cashier"] = session.Cashier,
            ["at"] = Write.Time(At(hour)),
            ["kind"] = kind,
        };
        Finish();
        _unwritten = e;
        return e;
    }

    /// <summary>Writes the latest event down: nothing is added to it any more. A day of a million tickets is not kept as a tree.</summary>
    private void Finish()
    {
        if (_unwritten is not null)
        {
            var at = DateTimeOffset.Parse((string)_unwritten["at"]!, CultureInfo.InvariantCulture);
            _events.Add((at, Encoding.UTF8.GetBytes(Write.Json(_unwritten) + "\n")));
            _tenders += (_unwritten["tenders"] as JsonArray)?.Count ?? 0;
            _unwritten = null;
        }
    }

    private void PlaySession(Scene.RegisterPlan register, Scene.SessionPlan session)
    {
        var till = session.Drawer is null ? new Till() : _tills[session.Drawer] = new Till { Cash = register.Float };
        if (session.Drawer is not null)
        {
            Event(register, session, session.From - 0.05, "open")["amount"] = Write.Amount(register.Float);
        }

        var hours = session.Until - session.From;
        var tickets = (int)Math.Round(register.Tickets * hours / register.Sessions.Sum(s => s.Until - s.From));
        var times = Enumerable.Range(0, tickets).Select(_ => session.From + (_random.NextDouble() * (hours - 0.2))).Order().ToList();
        var middle = times[tickets / 2];
        for (var i = 0; i < tickets; i++)
        {
            if (i == tickets / 2 && session.Drawer is not null)
            {
                Interlude(register, session, till, middle - 0.01);
            }

            Sell(register, session, till, times[i]);
        }

        if (session.Drawer is not null)
        {
            Event(register, session, session.Until + 0.02, "close");
        }
    }

    /// <summary>What happens beside the tickets: a drop, a no-sale, a hold taken up again.</summary>
    private void Interlude(Scene.RegisterPlan register, Scene.SessionPlan session, Till till, double hour)
    {
        var drop = (till.Cash - register.Float) / 20_00 * 20_00;
        if (drop >= 40_00)
        {
            var bag = $"B-{300 + _counts.Count}";
            var e = Event(register, session, hour, "drop");
            e["amount"] = Write.Amount(drop);
            e["bag"] = bag;
            till.Cash -= drop;
            CountBag(bag, drop, hour);
        }

        if (_random.Next(2) == 0)
        {
            Event(register, session, hour + 0.002, "no-sale");
        }

        if (register.Kind == "lane")
        {
            var hold = Event(register, session, hour + 0.004, "hold");
            hold["total"] = Write.Amount(_random.Next(500, 4000));
            Event(register, session, hour + 0.006, "recall")["original"] = (string)hold["id"]!;
        }
    }

    private void CountBag(string bag, long amount, double hour) => _counts.Add(new JsonObject
    {
        ["id"] = $"k-{_counts.Count + 1:00}",
        ["kind"] = "drop",
        ["bag"] = bag,
        ["by"] = "p01",
        ["witness"] = "p02",
        ["at"] = Write.Time(At(hour + 0.5)),
        ["attempt"] = 1,
        ["cash"] = new JsonObject { ["20.00"] = (int)(amount / 20_00) },
    });

    private void Sell(Scene.RegisterPlan register, Scene.SessionPlan session, Till till, double hour)
    {
        _tickets++;
        var lines = Enumerable.Range(0, 1 + _random.Next(1, 5)).Select(_ => Line(register)).ToList();
        var food = register.Kind is "lane" or "self" && _random.Next(12) == 0 && lines.Any(l => l.Ebt);
        if (food)
        {
            lines = [.. lines.Select(l => l.Ebt ? l with { Tax = 0 } : l)];
        }

        var e = Event(register, session, hour, "sale");
        var subtotal = lines.Sum(l => l.Amount);
        var tax = lines.Sum(l => l.Tax);
        var total = subtotal + tax;
        e["lines"] = new JsonArray([.. lines.Select(l => l.ToJson())]);
        e["subtotal"] = Write.Amount(subtotal);
        e["discount"] = "0.00";
        e["tax"] = Write.Amount(tax);
        e["fee"] = "0.00";
        e["rounding"] = "0.00";
        e["total"] = Write.Amount(total);
        var tenders = new JsonArray();
        e["tenders"] = tenders;
        var left = total;
        if (food)
        {
            var eligible = lines.Where(l => l.Ebt).Sum(l => l.Amount);
            tenders.Add((JsonNode)Card($"{e["id"]}#1", register, hour, "ebt-food", eligible, 0, "ebt", "food", out _));
            left -= eligible;
        }

        if (left > 0)
        {
            Pay(register, session, till, hour, e, tenders, left, total);
        }
    }

    private void Pay(Scene.RegisterPlan register, Scene.SessionPlan session, Till till, double hour, JsonObject e, JsonArray tenders,
        long left, long total)
    {
        var pick = register.Kind == "online" ? 999 : _random.Next(100);
        if (_settled is { } share)
        {
            // Between 30 and 88, and from 97 on, it is a card; the others share what is left.
            var other = pick % 39;
            pick = _random.NextDouble() < share ? 30 + (pick * 58 / 100) : other < 30 ? other : 58 + other;
        }

        if (pick is >= 94 and < 97 && register.Kind == "lane" && left > 2_00)
        {
            tenders.Add((JsonNode)new JsonObject { ["type"] = "coupon", ["amount"] = "1.00" });
            till.Coupons += 1_00;
            left -= 1_00;
            pick = 0;
        }

        if (pick < 30)
        {
            var handed = Handed(left);
            tenders.Add((JsonNode)new JsonObject
            {
                ["type"] = "cash",
                ["amount"] = Write.Amount(handed),
                ["change"] = Write.Amount(handed - left)
            });
            till.Cash += left;
            _candidates.Add(new(register, session.Drawer, (string)e["id"]!, hour, null, left, "cash", tenders.Count, handed,
                tenders.Count == 1));
        }
        else if (pick is >= 88 and < 91 && register.Kind is "lane" or "desk")
        {
            var number = _random.Next(300, 4000).ToString(CultureInfo.InvariantCulture);
            tenders.Add((JsonNode)new JsonObject
            {
                ["type"] = "check",
                ["amount"] = Write.Amount(left),
                ["number"] = number,
                ["name"] = "R. Pell"
            });
            till.Checks.Add((number, left));
        }
        else if (pick is >= 91 and < 94)
        {
            PayWithGiftCard(register, hour, tenders, left);
        }
        else
        {
            PayByCard(register, session, till, hour, e, tenders, left, total, debit: pick is >= 60 and < 88);
        }
    }

    private void PayWithGiftCard(Scene.RegisterPlan register, double hour, JsonArray tenders, long left)
    {
        var reference = _random.Next(1000, 9999).ToString(CultureInfo.InvariantCulture);
        tenders.Add((JsonNode)new JsonObject { ["type"] = "gift-card", ["amount"] = Write.Amount(left), ["ref"] = reference });
        _ledger.Add($"gift-card,{_ledger.Count + 1},{Write.Time(At(hour))},{register.Id},sale,{Write.Amount(left)},{reference}\n");
    }

    private void PayByCard(Scene.RegisterPlan register, Scene.SessionPlan session, Till till, double hour, JsonObject e, JsonArray tenders,
        long left, long total, bool debit)
    {
        var type = register.Kind == "online" ? "online" : debit ? "debit" : "credit";
        var cashback = debit && register.Kind == "lane" && _random.Next(15) == 0 && till.Cash > 150_00 ? 20_00 : 0;
        var fee = type == "credit" ? FeeOf(left) : 0;
        tenders.Add((JsonNode)Card($"{e["id"]}#{tenders.Count + 1}", register, hour, type, left + fee + cashback, cashback,
            debit ? "debit" : Scene.Schemes[_random.Next(4)], "", out var row));
        till.Cash -= cashback;
        if (fee > 0)
        {
            tenders[^1]!["fee"] = Write.Amount(fee);
            (e["fee"], e["total"]) = (Write.Amount(fee), Write.Amount(total + fee));
        }

        if (cashback == 0)
        {
            _candidates.Add(new(register, session.Drawer, (string)e["id"]!, hour, row, left + fee, type, tenders.Count, left + fee,
                tenders.Count == 1));
        }
    }

    private JsonObject Card(string? tenderKey, Scene.RegisterPlan register, double hour, string type, long amount, long cashback,
        string brand, string benefit, out Row row)
    {
        var unconnected = register.Id == "BK";
        row = new(
            tenderKey, register.Terminal, At(hour).AddSeconds(_random.Next(2, 30)), false, amount, cashback, brand,
            _random.Next(10_000).ToString("0000", CultureInfo.InvariantCulture),
            _random.Next(1_000_000).ToString("000000", CultureInfo.InvariantCulture),
            unconnected ? null : Reference(hour, _rows.Count + 1),
            register.Kind == "online" ? "online" : unconnected ? "keyed" : _random.Next(3) == 0 ? "tap" : "chip", benefit);
        _rows.Add(row);
        var tender = new JsonObject { ["type"] = type, ["amount"] = Write.Amount(amount) };
        if (cashback > 0)
        {
            tender["cashback"] = Write.Amount(cashback);
        }

        tender["terminal"] = register.Terminal;
        tender["brand"] = brand;
        tender["card"] = row.Card;
        tender["auth"] = row.Auth;
        tender["rrn"] = row.Rrn;
        tender["entry"] = row.Entry;
        return tender;
    }

    private sealed record TicketLine(Scene.Good Good, string Quantity, long Amount, long Tax, bool Ebt)
    {
        public JsonObject ToJson() => new()
        {
            ["sku"] = Good.Sku,
            ["name"] = Good.Name,
            ["qty"] = Quantity,
            ["amount"] = Write.Amount(Amount),
            ["tax"] = Write.Amount(Tax),
            ["taxRate"] = (Good.TaxRate / 10_000m).ToString("0.00", CultureInfo.InvariantCulture),
            ["ebt"] = Ebt,
        };
    }

    private TicketLine Line(Scene.RegisterPlan register)
    {
        var goods =
            register.Id switch { "GY" => Scene.Goods[6..12], "BK" => [Scene.Goods[0], Scene.Goods[5], Scene.Goods[12]], _ => Scene.Goods };
        var good = Priced(goods[_random.Next(goods.Length)]);
        var thousandths = good.ByWeight ? _random.Next(300, 3000) : 1000 * (1 + (_random.Next(4) == 0 ? 1 : 0));
        var amount = (long)Math.Round(good.Price * thousandths / 1000m, MidpointRounding.AwayFromZero);
        var tax = (long)Math.Round(amount * good.TaxRate / 10_000m, MidpointRounding.AwayFromZero);
        var quantity = good.ByWeight
            ? (thousandths / 1000m).ToString("0.000", CultureInfo.InvariantCulture)
            : (thousandths / 1000).ToString(CultureInfo.InvariantCulture);
        return new(good, quantity, amount, tax, good.Ebt);
    }

    private Scene.Good Priced(Scene.Good good) => _prices switch
    {
        Prices.Few => good with { Price = Scene.FewPrices[_random.Next(Scene.FewPrices.Length)], TaxRate = 0, ByWeight = false },
        Prices.Any => good with { Price = _random.Next(50, 60_00) },
        _ => good,
    };

    private long Handed(long due)
    {
        long[] notes = [1_00, 5_00, 10_00, 20_00, 50_00];
        var note = notes[_random.Next(notes.Length)];
        return _random.Next(6) == 0 ? due : (due + note - 1) / note * note;
    }

    private Candidate Take(string register, bool card, Func<Candidate, bool>? where = null)
    {
        var fitting = _candidates.Where(c => c.Register.Id == register && (card ? c.Type == "credit" : c.Row is null) && c.Amount > 8_00
            && (where is null || where(c))).ToList();
        var chosen = fitting[_random.Next(fitting.Count)];
        _candidates.Remove(chosen);
        return chosen;
    }

    private void PlantTroubles()
    {
        // Rung as cash, paid by card.
        var swap = Take("L1", card: false, c => c.Drawer == "L1-A");
        var run = Card(null, swap.Register, swap.Hour, "credit", swap.Amount, 0, "heron", "", out var swapped);
        _tills[swap.Drawer!].Cash -= swap.Amount;
        _troubles.Add(new("tender-swap", [swap.Ticket, (string)run["rrn"]!],
            [("L1", "L1-A", "cash", -swap.Amount), ("L1", null, "credit", swapped.Amount)]));

        // A bag in the safe that nobody recorded.
        var bag = $"B-{300 + _counts.Count}";
        CountBag(bag, 300_00, 18.2);
        _tills["L2-A"].Cash -= 300_00;
        _tills["L2-A"].Cash += TopUp("L2-A", 400_00);
        _troubles.Add(new("drop-not-recorded", [bag], [("L2", "L2-A", "cash", -300_00)]));

        // Run on the neighbour's terminal.
        var strayed = Take("L2", card: true);
        strayed.Row!.Terminal = "T-03";
        _troubles.Add(new("wrong-terminal", [strayed.Ticket],
            [("L2", null, "credit", -strayed.Amount), ("L3", null, "credit", strayed.Amount)]));

        // Two neighbouring digits exchanged where amounts are typed by hand.
        var keyed = Take("BK", card: true, c => c.Amount / 1000 % 10 != 0 && c.Amount / 100 % 10 != 0 && Transposed(c.Amount) != c.Amount);
        keyed.Row!.Amount = Transposed(keyed.Amount);
        _troubles.Add(new("amount-keyed", [keyed.Ticket], [("BK", null, "credit", keyed.Row.Amount - keyed.Amount)]));
    }

    /// <summary>A loan from the safe in the morning, so that a drawer can have held what was taken out of it.</summary>
    private long TopUp(string drawer, long amount)
    {
        var register = _registers.Single(r => r.Sessions.Any(s => s.Drawer == drawer));
        Event(register, register.Sessions.Single(s => s.Drawer == drawer), 11.5, "loan")["amount"] = Write.Amount(amount);
        return amount;
    }

    /// <summary>The two digits before the point exchanged.</summary>
    private static long Transposed(long amount) =>
        (amount / 10_000 * 10_000) + (amount / 100 % 10 * 1000) + (amount / 1000 % 10 * 100) + (amount % 100);
}
