using System.Globalization;
using AngleSharp.Dom;

namespace Fondo.Rehearsal;

/// <summary>The selling hours: drawers opened, tickets rung, drops, closes.</summary>
public sealed partial class Rehearsal
{
    /// <summary>A drawer session of the day.</summary>
    private sealed record Session(Register Register, string Drawer, double From, double Until)
    {
        public List<Ticket> Tickets { get; } = [];

        public List<string> Lines { get; } = [];
    }

    private async Task Day(DateOnly date, bool isFirst, bool isLast)
    {
        Clock(date, 7.5);
        await SignIn();
        await CountLate();
        if (_open.Count > 0 && Chance(0.8))
        {
            await CloseAll(); // yesterday is closed this morning
        }

        await FindSlips();
        await SendLate();
        if (isFirst || Chance(0.5))
        {
            await _odile.Post("/days?handler=Begin", [], "/days");
        }

        if (isFirst)
        {
            // What the safe held before any float went out of it.
            Refused(date, await Move(date, "Opening", _real.Opening, isByTwo: false), "the opening amount");
            MustRefuse(date, await Move(date, "Opening", _real.Opening, isByTwo: false), "the opening amount, typed twice");
            await SayNothingOfAnEmptyDay(date);
        }

        var sessions = SessionsOfTheDay();

        // Drawers open and end in the order of the clock.
        var acts =
            sessions.SelectMany(s => new (double Hour, Func<Task> Act)[] { (s.From, () => Open(date, s)), (s.Until, () => End(date, s)) });
        if (plan.SwapsOn == date)
        {
            acts = acts.Append((ShopPlan.SwapHour, () => SwapTerminal(date)));
        }

        foreach (var (_, act) in acts.OrderBy(a => a.Hour).ToList())
        {
            await act();
        }

        if (!plan.IsWired)
        {
            Clock(date, 20.8);
            await SignIn();
            await BringJournal(date, [.. sessions]);
        }

        await EveningOf(date, [.. sessions.Where(s => s.Register.HasDrawer)], isLast);
    }

    private List<Session> SessionsOfTheDay()
    {
        var sessions = new List<Session>();
        foreach (var register in plan.Registers)
        {
            if (!register.HasDrawer)
            {
                sessions.Add(new(register, "", 8, 20));
                continue;
            }

            if (plan.Registers.Count > 2 && Chance(0.1))
            {
                continue; // closed today
            }

            var isTwo = Chance(0.25);
            sessions.Add(new(register, $"{register.Id}-A", 8 + _random.NextDouble(), isTwo ? 14 : 20 + (_random.NextDouble() / 2)));
            if (isTwo)
            {
                sessions.Add(new(register, $"{register.Id}-B", 14.2, 20 + (_random.NextDouble() / 2)));
            }
        }

        if (sessions.Count == 0)
        {
            sessions.Add(new(plan.Registers[0], $"{plan.Registers[0].Id}-A", 8, 20)); // somebody sells on a day of trade
        }

        return sessions;
    }

    /// <summary>A terminal breaks, and a spare one takes its place: the set-up says so from this day on.</summary>
    private async Task SwapTerminal(DateOnly date)
    {
        Clock(date, ShopPlan.SwapHour);
        await SignIn();
        var setUp = ("set-up.json", plan.SetUp(isSwapped: true));
        Refused(date, await _odile.Upload("/store", "/store?handler=Import", "file", [setUp],
            [("from", date.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture))]), "another terminal");
    }

    private Task<IDocument> Move(DateOnly date, string kind, long amount, bool isByTwo)
    {
        List<(string, string)> fields =
            [("form", Guid.NewGuid().ToString()), ("kind", kind), ("amount", plan.Text(amount)), ("reason", "as it was needed")];
        return _odile.Post(Path(date, "safe?handler=Move"), isByTwo ? [.. fields, .. _second] : fields, Path(date, "safe"));
    }

    /// <summary>Where nothing happened yet, no page says that all is well.</summary>
    private async Task SayNothingOfAnEmptyDay(DateOnly date)
    {
        string[] claims = ["Everything is settled", "every drawer is counted", "Every drawer is counted", "nothing is left to look at",
            "Nothing left to resolve", "every batch adds up", "Every batch adds up"];
        foreach (var page in _pages)
        {
            var text = (await _odile.Page(Path(date, page))).QuerySelector("main")?.TextContent ?? "";
            foreach (var claim in claims.Where(c => text.Contains(c, StringComparison.Ordinal)))
            {
                Differs(date, $"{page} says “{claim}” of a day on which nothing happened");
            }
        }
    }

    private async Task End(DateOnly date, Session session)
    {
        Sell(date, session);
        Clock(date, session.Until);
        if (plan.IsWired)
        {
            await Send(session);
        }
    }

    /// <summary>Opens a drawer: on the page, at the register, or at both; the float is what lies there, or goes out of the safe.</summary>
    private async Task Open(DateOnly date, Session session)
    {
        if (!session.Register.HasDrawer)
        {
            return;
        }

        Clock(date, session.From);
        await SignIn();
        var id = session.Register.Id;
        // Only the first session of a day finds what was left there.
        var isLeft = session.Drawer.EndsWith("-A", StringComparison.Ordinal) && _real.Drawers.TryGetValue(id, out _);
        var lies = isLeft ? _real.Drawers[id] : session.Register.Float;
        if (isLeft)
        {
            _real.Drawers.Remove(id);
        }

        if (!isLeft)
        {
            _real.Safe -= session.Register.Float;
        }

        // What was rung after last night's count lies beside the float: it is not declared.
        var rungLate = isLeft
            ? _late.Where(t => t.Register.Id == id).SelectMany(t => t.Tenders).Where(t => t.Card is null && t.Check is null)
                .Sum(t => t.Amount - t.Change)
            : 0;
        var declared = lies - rungLate;
        _real.Drawers[session.Drawer] = lies;
        // Where journals come in the evening, the page knows of no session that ended before.
        var onPage = plan.IsWired ? Chance(0.4) : session.Drawer.EndsWith("-A", StringComparison.Ordinal) && Chance(0.2);
        if (onPage && await IsThere(date))
        {
            Refused(date, await _ansel.Post(Path(date, $"open/{id}"), [("form", Guid.NewGuid().ToString()), ("accept", "true")]),
                $"opening {session.Register.Name}");
        }

        if (!onPage || !await IsThere(date) || Chance(0.5))
        {
            session.Lines.Add(Line(date, session, session.From, "open", $",\"amount\":\"{plan.Text(declared)}\""));
        }

        _real.Cell(date, id, session.Drawer, "cash").Expected += declared;
        foreach (var late in _late.Where(t => t.Register.Id == id).ToList())
        {
            Count(late, date, session.Drawer);
            _late.Remove(late);
        }
    }

    private async Task<bool> IsThere(DateOnly date) =>
        (await _odile.Page("/days")).QuerySelector($"a[href^='/{date:yyyy-MM-dd}/']") is not null;

    private string Line(DateOnly date, Session session, double hour, string kind, string more) =>
        Line(plan.At(date, hour), session, kind, more);

    private string Line(DateTimeOffset at, Session session, string kind, string more) =>
        $"{{\"id\":\"{_till.NextId(session.Register)}\",\"register\":\"{session.Register.Id}\",\"drawer\":\""
            + $"{session.Drawer}\",\"cashier\":\"p11\",\"at\":\"{ShopPlan.Text(at)}\",\"kind\":\"{kind}\"{more}}}";

    private void Sell(DateOnly date, Session session)
    {
        var number = _random.Next(2, plan.Registers.Count > 8 ? 6 : 12);
        string? drawer = session.Register.HasDrawer ? session.Drawer : null;
        for (var i = 0; i < number; i++)
        {
            var at = plan.At(date, session.From + 0.05 + ((session.Until - session.From - 0.2) * (i + 1) / (number + 1)));
            var ticket = _till.Ring(session.Register, drawer, at);
            // A card that the cashier rang as cash.
            ticket = ticket.Tenders is [{ Card: not null, Type: "credit" }] && ticket.Fee == 0 && Chance(0.03) && drawer is not null
                && plan.Rounded(ticket.Total) == ticket.Total ? ticket with { CardsAsCash = true } : ticket;
            Ring(ticket, date, session);
            if (ticket is { Account: "goods", CardsAsCash: false, Tenders: [{ Type: "cash" or "credit" or "debit" }] } && Chance(0.05))
            {
                Ring(_till.Refund(ticket, at.AddMinutes(4)), date, session);
            }
        }

        if (drawer is null)
        {
            return;
        }

        if (_real.Drawers[drawer] > session.Register.Float * 2 && Chance(0.6))
        {
            var amount = session.Register.Float / (10 * plan.Unit) * 10 * plan.Unit / 2;
            var bag = string.Create(CultureInfo.InvariantCulture, $"B{++_bags:00000}");
            _real.Drawers[drawer] -= amount;
            _real.Bags[bag] = amount;
            if (Chance(0.06))
            {
                _real.Unrecorded.Add(bag); // nobody knows of it until it is opened
            }
            else
            {
                session.Lines.Add(Line(date, session, session.Until - 0.1, "drop",
                    $",\"amount\":\"{plan.Text(amount)}\",\"bag\":\"{bag}\""));
                _real.Cell(date, session.Register.Id, drawer, "cash").Expected -= amount;
            }
        }

        if (Chance(0.15))
        {
            var amount = _random.Next(5, 15) * plan.Unit;
            if (_real.Drawers[drawer] > amount)
            {
                _real.Drawers[drawer] -= amount;
                _real.PaidOut += amount;
                _real.Cell(date, session.Register.Id, drawer, "cash").Expected -= amount;
                session.Lines.Add(Line(date, session, session.Until - 0.12, "paid-out",
                    $",\"amount\":\"{plan.Text(amount)}\",\"reason\":\"window cleaning\""));
            }
        }

        Forget(date, session);
        session.Lines.Add(Line(date, session, session.Until, "close", ""));
    }

    private void Ring(Ticket ticket, DateOnly date, Session session)
    {
        string? drawer = ticket.Register.HasDrawer ? session.Drawer : null;
        session.Tickets.Add(ticket);
        session.Lines.Add(ticket.Line(plan));
        Receive(ticket, drawer);
        if (ticket is { IsRefund: false, CardsAsCash: false, Tenders: [{ Card: not null }] } && drawer is not null && Chance(0.01))
        {
            // Voided at the register, and its terminal never heard of it.
            session.Lines.Add(Line(ticket.At.AddMinutes(2), session, "void", $",\"original\":\"{ticket.Id}\""));
            return;
        }

        Count(ticket, date, drawer);
    }

    /// <summary>What becomes of a card on its way to a batch: charged twice, another amount, another lane's terminal; nearly always just
    /// what was rung.</summary>
    private IEnumerable<CardRow> Run(CardRow card)
    {
        var run = card;
        if (Chance(0.006))
        {
            run = card with { Amount = card.Amount + (Math.Sign(card.Amount) * 9) };
        }
        else if (Chance(0.006) && card.Tender != "online"
            && plan.Registers.Skip(1).FirstOrDefault(r => r.HasDrawer && r.Terminal is not null && r.Id != card.Register) is { } other)
        {
            run = card with { Terminal = other.Terminal!, Register = other.Id };
        }

        yield return run;
        if (card.Amount > 0 && Chance(0.006))
        {
            yield return _till.Again(card);
        }
    }

    /// <summary>The money itself changes hands.</summary>
    private void Receive(Ticket ticket, string? drawer)
    {
        foreach (var paid in ticket.Tenders)
        {
            if (paid.Card is { } card)
            {
                List<CardRow> run = [.. Run(card)];
                _unsettled.AddRange(run);
                if (ticket.CardsAsCash)
                {
                    _rungAsCash.UnionWith(run);
                }
            }
            else if (paid.Check is { } number)
            {
                _real.DrawerChecks(drawer!).Add((number, paid.Amount));
            }
            else if (paid.Ref is null)
            {
                _real.Drawers[drawer!] += paid.Amount - paid.Change;
            }
        }
    }

    /// <summary>The ticket counts on this day, in this drawer session (rules §1).</summary>
    private void Count(Ticket ticket, DateOnly date, string? drawer)
    {
        (_real.Tax, _real.Fees, _real.Rounding) = (_real.Tax + ticket.Tax, _real.Fees + ticket.Fee, _real.Rounding + ticket.Rounding);
        switch (ticket.Account)
        {
            case "goods":
                _real.Goods += ticket.Goods;
                break;
            default:
                _real.Post(ticket.Account switch { "layaway" => CustomerDeposits, "gift-card-load" => GiftCards, _ => CustomerAccounts },
                    ticket.Ref!, -ticket.Goods);
                break;
        }

        _real.Post(Discounts, ticket.CashDiscount);
        foreach (var paid in ticket.Tenders)
        {
            if (paid.Ref is { } number)
            {
                _real.Post(paid.Type == "gift-card" ? GiftCards : CustomerAccounts, number, paid.Amount);
            }

            var type = paid.Card is not null && ticket.CardsAsCash ? "cash" : paid.Type;
            _real.Cell(date, ticket.Register.Id, type is "cash" or "check" ? drawer : null, type).Expected += paid.Amount - paid.Change;
            _real.Taken[type] = _real.Taken.GetValueOrDefault(type) + paid.Amount - paid.Change;
        }
    }

    private const string CustomerDeposits = "Liabilities:Customer deposits", GiftCards = "Liabilities:Gift cards",
        CustomerAccounts = "Assets:Customer accounts", Discounts = "Income:Discounts";

    private readonly List<CardRow> _unsettled = [];

    private readonly HashSet<CardRow> _rungAsCash = new(ReferenceEqualityComparer.Instance);

    private async Task Send(Session session)
    {
        if (session.Lines.Count == 0)
        {
            return;
        }

        var lines = session.Lines.ToList();
        if (Chance(0.3))
        {
            // A part comes late, after the one behind it; and one comes twice.
            var half = lines.Count / 2;
            await _odile.Journal(session.Register.Id, _keys[session.Register.Id], string.Join('\n', lines.Skip(half)));
            await _odile.Journal(session.Register.Id, _keys[session.Register.Id], string.Join('\n', lines.Take(half)));
            await _odile.Journal(session.Register.Id, _keys[session.Register.Id], string.Join('\n', lines.Take(half)));
        }
        else
        {
            await _odile.Journal(session.Register.Id, _keys[session.Register.Id], string.Join('\n', lines));
        }

        session.Lines.Clear();
    }

    private async Task BringJournal(DateOnly date, List<Session> sessions)
    {
        var journal = string.Join('\n', sessions.SelectMany(s => s.Lines)) + "\n";
        sessions.ForEach(s => s.Lines.Clear());
        for (var times = Chance(0.15) ? 2 : 1; times > 0; times--)
        {
            await Brought(date, await _odile.Upload("/take-in", "/take-in/files", "files", [("journal.jsonl", journal)]), "the journal");
        }
    }
}
