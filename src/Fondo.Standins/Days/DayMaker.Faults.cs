using System.Globalization;
using System.Text.Json.Nodes;

namespace Fondo.Standins.Days;

/// <summary>Faults of every kind, planted into what really happens; the journal says what the cashier believed.</summary>
public sealed partial class DayMaker
{
    private sealed record Planted(string Kind, IReadOnlyList<object> Keys,
        IReadOnlyList<(string Register, string? Drawer, string Tender, long Variance)> Cells, IReadOnlyList<object>? Open = null,
        string Note = "");

    private readonly List<Planted> _planted = [];
    private readonly List<JsonNode?> _carried = [];
    private readonly Dictionary<string, DateTimeOffset> _cutoffs = [];
    private readonly List<string> _slips = [];

    private string? _withoutBatch;

    /// <summary>The cells that a fault touches already; null when several faults may meet in one cell.</summary>
    private readonly HashSet<(string, string)>? _touched;

    private void PlantFaults(int number)
    {
        (string Kind, Func<bool> Plant)[] kinds =
        [
            ("tender-swap", RungAsCash),
            ("tender-swap", SettledAsBenefits),
            ("tender-swap", CheckRungAsCash),
            ("wrong-terminal", OnTheNeighboursTerminal),
            ("other-drawer", () => IntoTheOtherDrawer(_random.Next(3) == 0 ? _random.Next(1, 10) * 20_00 : _random.Next(5_00, 90_00))),
            ("missing-from-batch", NeverSettled),
            ("after-cutoff", AfterTheCutoff),
            ("not-in-journal", NeverRung),
            ("charged-twice", ChargedTwice),
            ("void-not-sent", VoidedAtTheRegister),
            ("reversal-not-sent", () => FailedCard("reversed")),
            ("declined-but-settled", () => FailedCard("declined")),
            ("earlier-day", FromYesterday),
            ("amount-keyed", Mistyped),
            ("direction", Turned),
            ("drop-not-recorded", UnknownBag),
            ("drop-differs", OtherBag),
            ("float-differs", OtherFloat),
            ("count-slip", SlipOfALine),
            ("unvoided-ticket", NeverPaid),
            ("change-slip", WrongNote),
        ];
        kinds = _hands ? KindsOfHands() : kinds;
        if (_random.Next(3) == 0)
        {
            NoBatch();
        }

        var order = new List<Func<bool>>();
        for (var tries = 0; _planted.Count + _slips.Count < number && tries < number * 20; tries++)
        {
            if (order.Count == 0)
            {
                order.AddRange(kinds.Select(k => k.Plant).OrderBy(_ => _random.Next()));
            }

            order[^1]();
            order.RemoveAt(order.Count - 1);
        }
    }

    private bool IsFree(string registerOrDrawer, string tender) =>
        registerOrDrawer != _withoutBatch && _touched?.Contains((registerOrDrawer, tender)) != true;

    private bool Plant(string kind, IReadOnlyList<object> keys,
        params (string Register, string? Drawer, string Tender, long Variance)[] cells)
    {
        // What a fault leaves unmatched is told by its last keys: the row, or the tender, that has no other side.
        IReadOnlyList<object> open = kind switch
        {
            "missing-from-batch" or "after-cutoff" or "batch-absent" => keys,
            "not-in-journal" or "charged-twice" or "void-not-sent" or "reversal-not-sent" or "declined-but-settled" => [keys[^1]],
            _ => [],
        };
        _planted.Add(new(kind, keys, cells, open));
        foreach (var cell in cells)
        {
            _touched?.Add((cell.Drawer ?? cell.Register, cell.Tender));
        }

        return true;
    }

    /// <summary>A terminal that was never settled. Nothing else happens to its cards.</summary>
    private void NoBatch()
    {
        var register = _registers.Where(r => r.Kind is "self" or "desk").MinBy(_ => _random.Next());
        if (register is null)
        {
            return;
        }

        var rows = _rows.Where(r => r.Terminal == register.Terminal).ToList();
        var cells = rows.GroupBy(r => r.Type).Select(g => (register.Id, (string?)null, g.Key, -g.Sum(r => r.Amount))).ToArray();
        _rows.RemoveAll(rows.Contains);
        _candidates.RemoveAll(c => c.Register == register && c.Row is not null);
        Plant("batch-absent", [.. rows.Select(r => r.Tender!)], cells);
        _withoutBatch = register.Id;
    }

    private Candidate? Pick(Func<Candidate, bool> where)
    {
        var fitting = _candidates.Where(c => c.Amount > 4_00 && where(c)).ToList();
        if (fitting.Count == 0)
        {
            return null;
        }

        var chosen = fitting[_random.Next(fitting.Count)];
        _candidates.Remove(chosen);
        return chosen;
    }

    private Candidate? PickCard(Func<Candidate, bool>? where = null) =>
        Pick(c => c.Row is not null && c.Register.Kind != "online" && IsFree(c.Register.Id, c.Type) && (where is null || where(c)));

    private Candidate? PickCash(Func<Candidate, bool>? where = null) => Pick(c => c.Row is null && c.Drawer is not null
        && IsFree(c.Drawer, "cash") && _tills[c.Drawer].Cash > c.Amount + 100_00 && (where is null || where(c)));

    private string AnyDrawer()
    {
        var free = _tills.Keys.Where(d => IsFree(d, "cash")).ToList();
        return free.Count > 0 ? free[_random.Next(free.Count)] : _tills.Keys.First();
    }

    private Scene.RegisterPlan RegisterOf(string drawer) => _registers.Single(r => r.Sessions.Any(s => s.Drawer == drawer));

    private bool RungAsCash()
    {
        if (PickCash(c => IsFree(c.Register.Id, "credit")) is not { } swap)
        {
            return false;
        }

        Card(null, swap.Register, swap.Hour, "credit", swap.Amount, 0, Scene.Schemes[_random.Next(4)], "", out var row);
        _tills[swap.Drawer!].Cash -= swap.Amount;
        return Plant("tender-swap", [swap.Key, row], (swap.Register.Id, swap.Drawer, "cash", -swap.Amount),
            (swap.Register.Id, null, "credit", swap.Amount));
    }

    private bool SettledAsBenefits()
    {
        if (PickCard(c => c.Type == "credit" && IsFree(c.Register.Id, "ebt-food")) is not { } swap)
        {
            return false;
        }

        (swap.Row!.Brand, swap.Row.Benefit) = ("ebt", "food");
        return Plant("tender-swap", [swap.Key, swap.Row], (swap.Register.Id, null, "credit", -swap.Amount),
            (swap.Register.Id, null, "ebt-food", swap.Amount));
    }

    private bool CheckRungAsCash()
    {
        if (PickCash(c => IsFree(c.Drawer!, "check")) is not { } swap)
        {
            return false;
        }

        _tills[swap.Drawer!].Cash -= swap.Amount;
        _tills[swap.Drawer!].Checks.Add((_random.Next(4000, 9999).ToString(CultureInfo.InvariantCulture), swap.Amount));
        return Plant("tender-swap", [swap.Key], (swap.Register.Id, swap.Drawer, "cash", -swap.Amount),
            (swap.Register.Id, swap.Drawer, "check", swap.Amount));
    }

    private bool OnTheNeighboursTerminal()
    {
        if (PickCard() is not { } strayed)
        {
            return false;
        }

        var others = _registers.Where(r => r.Kind != "online" && r.Id != strayed.Register.Id && IsFree(r.Id, strayed.Type)).ToList();
        if (others.Count == 0)
        {
            return false;
        }

        var other = others[_random.Next(others.Count)];
        strayed.Row!.Terminal = other.Terminal;
        return Plant("wrong-terminal", [strayed.Key, strayed.Row], (strayed.Register.Id, null, strayed.Type, -strayed.Amount),
            (other.Id, null, strayed.Type, strayed.Amount));
    }

    private bool IntoTheOtherDrawer(long amount)
    {
        var (from, to) = (AnyDrawer(), AnyDrawer());
        if (from == to || !IsFree(to, "cash") || _tills[from].Cash < amount + 50_00 || !IsFree(from, "cash"))
        {
            return false;
        }

        _tills[from].Cash -= amount;
        _tills[to].Cash += amount;
        return Plant("other-drawer", [from, to], (RegisterOf(from).Id, from, "cash", -amount), (RegisterOf(to).Id, to, "cash", amount));
    }

    private bool NeverSettled()
    {
        if (PickCard() is not { } lost)
        {
            return false;
        }

        _rows.Remove(lost.Row!);
        return Plant("missing-from-batch", [lost.Key], (lost.Register.Id, null, lost.Type, -lost.Amount));
    }

    private bool AfterTheCutoff()
    {
        var terminals = _registers.Where(r => r.Kind != "online" && !_cutoffs.ContainsKey(r.Terminal)).ToList();
        if (terminals.Count == 0)
        {
            return false;
        }

        var register = terminals[_random.Next(terminals.Count)];
        var last = _rows.Where(r => r.Terminal == register.Terminal).OrderByDescending(r => r.At).Take(2).ToList();
        if (last.Count < 2 || _candidates.SingleOrDefault(c => ReferenceEquals(c.Row, last[0]) && c.Register == register) is not { } late
            || !IsFree(register.Id, late.Type) || At(late.Hour) <= last[1].At.AddSeconds(2))
        {
            return false;
        }

        _candidates.Remove(late);
        _rows.Remove(late.Row!);
        _cutoffs[register.Terminal] = last[1].At.AddSeconds(1);
        return Plant("after-cutoff", [late.Key], (register.Id, null, late.Type, -late.Amount));
    }

    private bool NeverRung()
    {
        var register = _registers[_random.Next(_registers.Length)];
        if (!IsFree(register.Id, register.Kind == "online" ? "online" : "credit"))
        {
            return false;
        }

        Card(null, register, 9 + (_random.NextDouble() * 9), register.Kind == "online" ? "online" : "credit", _random.Next(4_00, 120_00), 0,
            Scene.Schemes[_random.Next(4)], "", out var row);
        return Plant("not-in-journal", [row], (register.Id, null, register.Kind == "online" ? "online" : "credit", row.Amount));
    }

    private bool ChargedTwice()
    {
        if (PickCard() is not { } twice)
        {
            return false;
        }

        var again = twice.Row! with
        {
            Tender = null,
            At = twice.Row!.At.AddSeconds(_random.Next(20, 120)),
            Auth = _random.Next(1_000_000).ToString("000000", CultureInfo.InvariantCulture),
            Rrn = twice.Row.Rrn is null ? null : $"7{twice.Row.Rrn[1..]}"
        };
        _rows.Add(again);
        return Plant("charged-twice", [twice.Key, twice.Row, again], (twice.Register.Id, null, twice.Type, twice.Amount));
    }

    private bool VoidedAtTheRegister()
    {
        if (PickCard(c => c.IsAlone) is not { } gone)
        {
            return false;
        }

        var session = gone.Register.Sessions.First(s => s.Drawer == gone.Drawer);
        Event(gone.Register, session, Math.Min(gone.Hour + 0.1, session.Until), "void")["original"] = gone.Ticket;
        return Plant("void-not-sent", [gone.Key, gone.Row!], (gone.Register.Id, null, gone.Type, gone.Amount));
    }

    /// <summary>A ticket on which a card failed and the customer paid cash; the card was settled anyway.</summary>
    private bool FailedCard(string result)
    {
        var drawer = AnyDrawer();
        var register = RegisterOf(drawer);
        var session = register.Sessions.Single(s => s.Drawer == drawer);
        var hour = session.From + (_random.NextDouble() * (session.Until - session.From - 0.2));
        var amount = (long)_random.Next(5_00, 80_00);
        if (!IsFree(register.Id, "credit"))
        {
            return false;
        }

        var e = Event(register, session, hour, "sale");
        e["lines"] = new JsonArray(new JsonObject
        {
            ["sku"] = "M302",
            ["name"] = "Cheese, wedge",
            ["qty"] = "1",
            ["amount"] = Write.Amount(amount),
            ["tax"] = "0.00",
            ["taxRate"] = "0.00",
            ["ebt"] = true
        });
        (e["subtotal"], e["tax"], e["total"]) = (Write.Amount(amount), "0.00", Write.Amount(amount));
        var card = Card(null, register, hour, "credit", amount, 0, Scene.Schemes[_random.Next(4)], "", out var row);
        card["result"] = result;
        e["tenders"] = new JsonArray(card, new JsonObject { ["type"] = "cash", ["amount"] = Write.Amount(amount) });
        _tills[drawer].Cash += amount;
        _tickets++;
        return Plant(result == "reversed" ? "reversal-not-sent" : "declined-but-settled", [$"{e["id"]}#1", row],
            (register.Id, null, "credit", amount));
    }

    private bool FromYesterday()
    {
        var register = _registers.Where(r => r.Kind == "lane").ElementAt(_random.Next(_registers.Count(r => r.Kind == "lane")));
        var amount = (long)_random.Next(5_00, 90_00);
        if (!IsFree(register.Id, "credit"))
        {
            return false;
        }

        var id = $"{register.Id}-Y{_carried.Count + 1:00}";
        var card = Card($"{id}#1", register, 20.5 - 24, "credit", amount, 0, Scene.Schemes[_random.Next(4)], "", out var row);
        _carried.Add(new JsonObject
        {
            ["day"] = _date.AddDays(-1).ToString("yyyy-MM-dd", CultureInfo.InvariantCulture),
            ["event"] = new JsonObject
            {
                ["id"] = id,
                ["register"] = register.Id,
                ["drawer"] = register.Sessions[0].Drawer,
                ["cashier"] = register.Sessions[0].Cashier,
                ["at"] = Write.Time(At(20.5 - 24)),
                ["kind"] = "sale",
                ["lines"] = new JsonArray(),
                ["subtotal"] = Write.Amount(amount),
                ["tax"] = "0.00",
                ["total"] = Write.Amount(amount),
                ["tenders"] = new JsonArray(card),
            },
        });
        return Plant("earlier-day", [$"{id}#1", row], (register.Id, null, "credit", amount));
    }

    private bool Mistyped()
    {
        if (PickCard(c => Transposed(c.Amount) != c.Amount && Transposed(c.Amount) > 1_00) is not { } keyed)
        {
            return false;
        }

        keyed.Row!.Amount = Transposed(keyed.Amount);
        return Plant("amount-keyed", [keyed.Key, keyed.Row], (keyed.Register.Id, null, keyed.Type, keyed.Row.Amount - keyed.Amount));
    }

    private bool Turned()
    {
        if (PickCard() is not { } turned)
        {
            return false;
        }

        turned.Row!.Refund = true;
        return Plant("direction", [turned.Key, turned.Row], (turned.Register.Id, null, turned.Type, -2 * turned.Amount));
    }

    private bool UnknownBag()
    {
        var drawer = AnyDrawer();
        var amount = _random.Next(2, 15) * 20_00L;
        if (_tills[drawer].Cash < amount + 60_00 || !IsFree(drawer, "cash"))
        {
            return false;
        }

        var bag = $"B-{300 + _counts.Count}";
        CountBag(bag, amount, 18.2);
        _tills[drawer].Cash -= amount;
        return Plant("drop-not-recorded", [bag], (RegisterOf(drawer).Id, drawer, "cash", -amount));
    }

    private bool OtherBag()
    {
        var drawer = AnyDrawer();
        var register = RegisterOf(drawer);
        var (amount, pieces) = (_random.Next(3, 12) * 20_00L, _random.Next(2) == 0 ? 1 : -1);
        if (_tills[drawer].Cash < amount + 60_00 || !IsFree(drawer, "cash"))
        {
            return false;
        }

        var bag = $"B-{300 + _counts.Count}";
        var drop = Event(register, register.Sessions.Single(s => s.Drawer == drawer),
            register.Sessions.Single(s => s.Drawer == drawer).Until - 0.1, "drop");
        (drop["amount"], drop["bag"]) = (Write.Amount(amount), bag);
        CountBag(bag, amount + (pieces * 20_00), 18.4);
        _tills[drawer].Cash -= amount + (pieces * 20_00);
        return Plant("drop-differs", [bag, (string)drop["id"]!], (register.Id, drawer, "cash", -pieces * 20_00));
    }

    private bool OtherFloat()
    {
        var drawer = AnyDrawer();
        if (!IsFree(drawer, "cash") || _counts.Any(c => (string?)c["kind"] == "opening" && (string?)c["drawer"] == drawer))
        {
            return false;
        }

        var register = RegisterOf(drawer);
        var difference = new[] { 5_00, 10_00, 20_00, -5_00, -10_00, -20_00, 1_00 * _random.Next(3, 9) }[_random.Next(7)];
        var id = $"k-{_counts.Count + 1:00}";
        _counts.Add(new JsonObject
        {
            ["id"] = id,
            ["kind"] = "opening",
            ["drawer"] = drawer,
            ["by"] = "p01",
            ["at"] = Write.Time(At(register.Sessions.Single(s => s.Drawer == drawer).From - 0.06)),
            ["attempt"] = 1,
            ["cash"] = new JsonObject([.. PiecesOf(register.Float + difference)
                .Select(p => KeyValuePair.Create<string, JsonNode?>(Write.Amount(p.Key), p.Value))]),
        });
        _tills[drawer].Cash += difference;
        return Plant("float-differs", [id], (register.Id, drawer, "cash", difference));
    }

    /// <summary>Planted once the drawers are counted.</summary>
    private bool SlipOfALine()
    {
        var drawer = AnyDrawer();
        if (_slips.Contains(drawer) || !IsFree(drawer, "cash"))
        {
            return false;
        }

        _slips.Add(drawer);
        _touched?.Add((drawer, "cash"));
        return true;
    }

    private void SlipInCounts()
    {
        long[] lines = [20_00, 10_00, 5_00, 1_00, 25, 10, 5, 1];
        foreach (var drawer in _slips)
        {
            var count = _counts.Single(c => (string?)c["kind"] == "closing" && (string?)c["drawer"] == drawer);
            var cash = (JsonObject)count["cash"]!;
            if (_hands && _random.Next(3) > 0 && OtherSlip(cash) is { } other)
            {
                _planted.Add(new("count-slip", [(string)count["id"]!], [(RegisterOf(drawer).Id, drawer, "cash", other.Variance)],
                    Note: other.Note));
                continue;
            }

            var fitting = lines.Zip(lines.Skip(1)).SelectMany(p => new[] { (From: p.First, To: p.Second), (From: p.Second, To: p.First) })
                .Where(p => (int?)cash[Write.Amount(p.From)] is > 2 and var n && n * Math.Abs(p.From - p.To) > 2_00).ToList();
            if (fitting.Count == 0)
            {
                continue;
            }

            var (from, to) = fitting[_random.Next(fitting.Count)];
            var pieces = (int)cash[Write.Amount(from)]!;
            cash.Remove(Write.Amount(from));
            cash[Write.Amount(to)] = ((int?)cash[Write.Amount(to)] ?? 0) + pieces;
            _planted.Add(new("count-slip", [(string)count["id"]!], [(RegisterOf(drawer).Id, drawer, "cash", pieces * (to - from))],
                Note: $"{pieces} of {Write.Amount(from)} entered as {Write.Amount(to)}"));
        }
    }

    private bool NeverPaid()
    {
        if (PickCash() is not { } unpaid)
        {
            return false;
        }

        _tills[unpaid.Drawer!].Cash -= unpaid.Amount;
        return Plant("unvoided-ticket", [unpaid.Key], (unpaid.Register.Id, unpaid.Drawer, "cash", -unpaid.Amount));
    }

    private bool WrongNote()
    {
        (long Recorded, long Handed)[] pairs =
            [(10_00, 20_00), (20_00, 10_00), (5_00, 10_00), (10_00, 5_00), (20_00, 50_00), (50_00, 20_00)];
        var (recorded, handed) = pairs[_random.Next(pairs.Length)];
        if (PickCash(c => c.Handed == recorded && c.Amount <= handed) is not { } wrong)
        {
            return false;
        }

        _tills[wrong.Drawer!].Cash += handed - recorded;
        return Plant("change-slip", [wrong.Key], (wrong.Register.Id, wrong.Drawer, "cash", handed - recorded));
    }
}
