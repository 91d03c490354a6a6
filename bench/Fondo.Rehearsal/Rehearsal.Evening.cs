using System.Globalization;
using AngleSharp.Dom;

namespace Fondo.Rehearsal;

/// <summary>The evening: drawers, bags and the safe counted, cards settled, a deposit made, the bank's statement brought in.</summary>
public sealed partial class Rehearsal
{
    private async Task EveningOf(DateOnly date, List<Session> sessions, bool isLast)
    {
        Clock(date, 21);
        await SignIn();
        if (_open.Count > 0 && Chance(0.3))
        {
            await CloseAll();
        }

        await CountDrawersAndBags(date, sessions);
        await LookAtBatches(date);
        if (!plan.SettlesLate)
        {
            await Settle(date);
        }

        await TryAlone(date);
        if (Chance(0.9))
        {
            await BringStatement(date, date);
        }

        if (Chance(0.15))
        {
            await OrderChange(date);
        }

        await Count(date, "safe:", "Safe", _real.Safe, [.. _second]);
        if (Chance(0.8))
        {
            for (var bags = Chance(0.2) ? 2 : 1; bags > 0; bags--)
            {
                await Deposit(date, bags == 2);
            }
        }

        var evening = new Evening(date) { Then = Snap() };
        _open.Enqueue(evening);
        if (plan.SettlesLate)
        {
            Clock(date.AddDays(1), 6);
            await SignIn();
            await Settle(date);
            await CountLate();
            await CloseAll();
        }
        else if (isLast || (_uncounted.Count == 0 && Chance(0.75)))
        {
            await CountLate();
            await CloseAll();
        }

        RingLate(date, sessions);
    }

    private async Task CountDrawersAndBags(DateOnly date, List<Session> sessions)
    {
        foreach (var session in sessions.OrderBy(s => s.Register.Id, StringComparer.Ordinal).ThenBy(s => s.Drawer, StringComparer.Ordinal))
        {
            var isLastOfRegister = session == sessions.Last(s => s.Register == session.Register);
            if (Chance(0.04))
            {
                _uncounted.Add((date, session, isLastOfRegister)); // its cashier went home
                continue;
            }

            await CountDrawer(date, session, isLastOfRegister);
        }

        foreach (var (bag, holds) in _real.Bags.ToList())
        {
            if (Chance(0.1))
            {
                continue; // opened tomorrow
            }

            await Count(date, $"bag:{bag}", "Drop", holds, []);
            _real.Bags.Remove(bag);
            _real.Safe += holds;
        }
    }

    private static readonly (string, string)[] _second = [("witness", "p02"), ("witness-pin", "741026")];

    private readonly List<(DateOnly Date, Session Session, bool IsLast)> _uncounted = [];

    /// <summary>What nobody counted last night is counted this morning, before anything is sold.</summary>
    private async Task CountLate()
    {
        foreach (var (date, session, isLast) in _uncounted.ToList())
        {
            await CountDrawer(date, session, isLast);
            _open.First(e => e.Date == date).Then = Snap();
        }

        _uncounted.Clear();
    }

    /// <summary>While a terminal holds a card that no batch has, the gate says so, whatever it settled before; of a card that was rung as
    /// cash no journal knows.</summary>
    private async Task LookAtBatches(DateOnly date)
    {
        if (_unsettled.Any(c => !_rungAsCash.Contains(c) && DateOnly.FromDateTime(c.At.DateTime) == date)
            && !(await _odile.Page(Path(date, "close"))).QuerySelectorAll(".gates > li.left b")
                .Any(b => b.TextContent == "Batches complete"))
        {
            Differs(date, "the batches are said to be complete, and terminals hold cards");
        }
    }

    /// <summary>What nobody may do alone, or at all, is refused and moves nothing.</summary>
    private async Task TryAlone(DateOnly date)
    {
        if (Chance(0.2))
        {
            MustRefuse(date, await Move(date, "PettyCash", 25 * plan.Unit, isByTwo: false), "petty cash above the limit by one person");
            MustRefuse(date, await Move(date, "PettyCash",
                _real.Safe + _real.Drawers.Values.Sum() + _real.Bags.Values.Sum() + (100 * plan.Unit), isByTwo: true),
                "petty cash of more than there is");
        }

        if (Chance(0.1) && _real.Safe > 500 * plan.Unit)
        {
            var amount = _random.Next(1, 15) * plan.Unit;
            if (!Refused(date, await Move(date, "PettyCash", amount, isByTwo: true), "petty cash"))
            {
                (_real.Safe, _real.PaidOut) = (_real.Safe - amount, _real.PaidOut + amount);
            }
        }
    }

    /// <summary>What lies where now. What was rung late lies in its drawer, and no book knows of it before its register opens.</summary>
    private Snapshot Snap() => new(
        _real.Safe, _real.Drawers.Values.Sum() - RungLate, _real.Known, _real.Checks.Sum(c => c.Amount), _real.Cash - RungLate,
        _real.ChangeOnItsWay, [.. _real.Deposits], _real.Goods, _real.Tax, _real.Fees, _real.Rounding, _real.PaidOut)
    {
        Accounts = _real.Accounts.ToDictionary(),
        Items = _real.Items.ToDictionary(),
        Taken = _real.Taken.ToDictionary(),
    };

    /// <summary>A sale after the drawer was closed and counted: it counts on the next trading day.</summary>
    private void RingLate(DateOnly date, List<Session> sessions)
    {
        if (!plan.IsWired || !Chance(0.15) || sessions.Count == 0)
        {
            return;
        }

        var last = sessions[_random.Next(sessions.Count)];
        if (sessions.Last(s => s.Register == last.Register) != last || !_real.Drawers.ContainsKey(last.Register.Id))
        {
            return;
        }

        // Its journal comes with the next morning's part.
        var ticket = _till.Ring(last.Register, last.Drawer, plan.At(date, 21.2));
        if (ticket.Tenders is not [{ Type: "cash" }])
        {
            return;
        }

        _real.Drawers[last.Register.Id] += ticket.Total;
        _late.Add(ticket);
        _lateLines.Add((last.Register.Id, ticket.Line(plan)));
    }

    private readonly List<(string Register, string Line)> _lateLines = [];

    private long RungLate => _late.Sum(t => t.Total);

    private async Task SendLate()
    {
        foreach (var (register, line) in _lateLines.ToList())
        {
            await _odile.Journal(register, _keys[register], line);
        }

        _lateLines.Clear();
    }

    /// <summary>Counts a drawer as it is, sometimes wrongly at first; what is over the float goes to the safe.</summary>
    private async Task CountDrawer(DateOnly date, Session session, bool isLastOfRegister)
    {
        var drawer = session.Drawer;
        if (Chance(0.08) && _real.Drawers[drawer] > 20 * plan.Unit)
        {
            _real.Drawers[drawer] -= 10 * plan.Unit; // a note too much was given back
        }

        var holds = _real.Drawers[drawer];
        var checks = _real.DrawerChecks(drawer);
        await Count(date, drawer, "Closing", holds,
            [.. checks.SelectMany(c => new[] { ("check-number", c.Number), ("check-amount", plan.Text(c.Amount)), ("check-routing", "") })],
            isMistaken: Chance(0.1) && holds > 20 * plan.Unit);
        var cell = _real.Cell(date, session.Register.Id, drawer, "cash");
        cell.Proof = (cell.Proof ?? 0) + holds;
        if (checks.Count > 0 || _real.Cells[date].ContainsKey((session.Register.Id, drawer, "check")))
        {
            _real.Cell(date, session.Register.Id, drawer, "check").Proof = checks.Sum(c => c.Amount);
        }

        _real.Checks.AddRange(checks);
        checks.Clear();
        _real.Drawers.Remove(drawer);
        var stays = 0L;
        if (isLastOfRegister)
        {
            var path = Path(date, $"count/{drawer}/float");
            var form = (await _odile.Page(path)).QuerySelector("form.count") ?? throw new DoorException($"{path} asks for no float");
            var fields = Browser.Fields(form);
            stays = fields.Sum(f => Worth(f));
            Refused(date, await _odile.Post(path, fields), $"the float of {drawer}");
            _real.Drawers[session.Register.Id] = stays;
        }

        _real.Safe += holds - stays;
    }

    private static long Worth((string Name, string Value) field) =>
        field.Name.Length > 1 && field.Name[0] == 'p' && long.TryParse(field.Name.AsSpan(1), CultureInfo.InvariantCulture, out var worth)
            && long.TryParse(field.Value, CultureInfo.InvariantCulture, out var number) ? worth * number : 0;

    /// <summary>Counts something on its page, recounts where it is asked, until the page takes it.</summary>
    private async Task<IDocument> Count(DateOnly date, string what, string kind, long holds, List<(string, string)> more,
        bool isMistaken = false)
    {
        var path = Path(date, $"count/{Uri.EscapeDataString(what)}");
        var page = await _odile.Page(path);
        for (var attempt = 1; attempt <= 2 && page.QuerySelector("form.count") is { } form; attempt++)
        {
            var typed = isMistaken && attempt == 1 ? holds - (10 * plan.Unit) : holds;
            var fields = new List<(string, string)>
            {
                ("form", Guid.NewGuid().ToString()),
                ("kind", kind),
                ("attempt", form.QuerySelector("input[name=attempt]")!.GetAttribute("value")!)
            };
            foreach (var worth in form.QuerySelectorAll("input[data-worth]")
                .Select(i => long.Parse(i.GetAttribute("name")![1..], CultureInfo.InvariantCulture)).OrderDescending())
            {
                if (typed / worth > 0)
                {
                    fields.Add(($"p{worth}", (typed / worth).ToString(CultureInfo.InvariantCulture)));
                    typed %= worth;
                }
            }

            if (typed != 0)
            {
                Differs(date, $"{what} holds {holds}, which the sheet cannot say: {typed} is left");
            }

            fields.AddRange(more);
            page = await _odile.Post(path, fields);
            Refused(date, page, $"the count of {what}");
            page = await _odile.Page(path);
        }

        return page;
    }

    private async Task Deposit(DateOnly date, bool isHalf)
    {
        var path = Path(date, "deposit");
        var page = await _odile.Page(path);
        var form = page.QuerySelector("form.count") ?? throw new DoorException($"{path} has no form");
        var fields = Browser.Fields(form).Where(f => f.Name is not ("bag" or "witness" or "witness-pin")).ToList();
        if (isHalf)
        {
            fields = [.. fields.Select(f => Worth(f) > 0
                ? (f.Name, (long.Parse(f.Value, CultureInfo.InvariantCulture) / 2).ToString(CultureInfo.InvariantCulture))
                : f)];
        }

        var cash = fields.Sum(Worth);
        var checks = isHalf ? [] : form.QuerySelectorAll("input[name=check]").Select(c => c.GetAttribute("value")!).ToList();
        var amount = isHalf ? 0 : _real.Checks.Sum(c => c.Amount);
        if (cash + amount == 0)
        {
            return;
        }

        if (checks.Count != (isHalf ? 0 : _real.Checks.Count))
        {
            Differs(date, $"{checks.Count} checks lie in the safe by the page, {_real.Checks.Count} really do");
        }

        var bag = string.Create(CultureInfo.InvariantCulture, $"D{70_000 + _real.Deposits.Count + ++_bags}");
        if (Refused(date, await _odile.Post(path, [.. fields, .. checks.Select(c => ("check", c)), ("bag", bag), .. _second]), "a deposit"))
        {
            return;
        }

        var number = ++_deposits;
        _real.Safe -= cash;
        if (!isHalf)
        {
            _real.Checks.Clear();
        }

        _real.Deposits.Add(new(number, bag, cash, amount));
        Refused(date, await _odile.Post(Path(date, string.Create(CultureInfo.InvariantCulture, $"deposit/{number}")),
            [("to", "Ferry Lane carriers"), ("seal", "")]), "handing a deposit over");
        Credit(date, number, bag, cash, amount);
    }

    private int _deposits;

    /// <summary>What the bank makes of a deposit: whole, a note short, in parts, without its number, together with the next one, or taken
    /// back and credited again.</summary>
    private void Credit(DateOnly date, int number, string bag, long cash, long checks)
    {
        var (on, all, isCamt) = (HouseBank.Later(date, 1), cash + checks, plan.Shape is StatementShape.Camt02 or StatementShape.Camt08);
        BankLine Line(DateOnly booked, long amount, string text, bool isLast = true) => new(null, booked, amount, text, number, isLast);
        if (_together is { } first && isCamt)
        {
            var pieces = new[] { first, Line(on, all, $"BAG {bag}") };
            _bank.Will(new(null, on, pieces.Sum(p => p.Amount), "CASH DEPOSITS") { Pieces = pieces });
            _together = null;
            return;
        }

        switch (_random.Next(16))
        {
            case 0 when cash > 0 && checks > 0:
                _bank.Will(Line(on, cash, $"DEPOSIT {bag} CASH", isLast: false));
                _bank.Will(Line(HouseBank.Later(on, 1), checks, $"DEPOSIT {bag} CHECKS"));
                break;
            case 1 when cash > 10 * plan.Unit:
                _bank.Will(Line(on, all - (10 * plan.Unit), $"DEPOSIT {bag}"));
                break;
            case 2 when all > 1_000 * plan.Unit && checks < all / 4:
                _bank.Will(Line(on, all * 2 / 5, $"BAG {bag} PART 1", isLast: false));
                _bank.Will(Line(HouseBank.Later(on, 1), all - (all * 2 / 5), $"BAG {bag} PART 2"));
                break;
            case 3:
                _bank.Will(Line(on, all, "NIGHT DEPOSIT"));
                break;
            case 4 when isCamt:
                _together = Line(on, all, $"BAG {bag}");
                break;
            case 5:
                _bank.Will(Line(on, all, $"DEPOSIT {bag}"));
                _bank.Will(Line(HouseBank.Later(on, 1), -all, $"REVERSAL {bag}", isLast: false) with { IsReversal = true });
                _bank.Will(Line(HouseBank.Later(on, 3), all, $"DEPOSIT {bag} AGAIN"));
                break;
            default:
                _bank.Will(Line(on, all, $"DEPOSIT {bag}"));
                break;
        }

        if (Chance(0.05))
        {
            _bank.Will(new(null, on, -3 * plan.Unit, Chance(0.5) ? "ACCOUNT FEE" : $"FEE BAG {bag}"));
        }
    }

    /// <summary>A credit that waits for the next one, to be booked with it.</summary>
    private BankLine? _together;

    private async Task OrderChange(DateOnly date)
    {
        var path = Path(date, "change");
        var page = await _odile.Page(path);
        if (page.QuerySelector("input[name=order]") is { } open)
        {
            // What was ordered before comes today, piece by piece.
            var form = page.QuerySelectorAll("form")
                .First(f => f.QuerySelector("input[name=kind]")?.GetAttribute("value") == "ChangeBought");
            var fields = Browser.Fields(form).Where(f => f.Name is not ("witness" or "witness-pin")).ToList();
            if (!Refused(date, await _odile.Post($"{path}?handler=Step", [.. fields, .. _second], path), "a delivery of change"))
            {
                var came = fields.Sum(Worth);
                _real.Safe += came;
                _real.ChangeOnItsWay -= came;
            }

            return;
        }

        var worth = page.QuerySelectorAll("form.count input[data-worth]")
            .Select(i => long.Parse(i.GetAttribute("name")![1..], CultureInfo.InvariantCulture)).Where(w => w >= plan.Unit).Min();
        if (Refused(date, await _odile.Post($"{path}?handler=Order", [("form", Guid.NewGuid().ToString()), ($"p{worth}", "50")], path),
            "an order of change") || _real.Safe < worth * 50)
        {
            return;
        }

        var ordered = await _odile.Page(path);
        var pay = ordered.QuerySelectorAll("form").First(f => f.QuerySelector("input[name=kind]")?.GetAttribute("value") == "ChangeGiven");
        var alone = Browser.Fields(pay).Where(f => f.Name is not ("witness" or "witness-pin")).ToList();
        if (worth * 50 > 20 * plan.Unit)
        {
            MustRefuse(date, await _odile.Post($"{path}?handler=Step", alone, path), "paying for change alone");
        }

        if (!Refused(date, await _odile.Post($"{path}?handler=Step", [.. alone, .. _second], path), "paying for change"))
        {
            _real.Safe -= worth * 50;
            _real.ChangeOnItsWay += worth * 50;
        }
    }
}
