using System.Globalization;
using System.Text.Json.Nodes;
using AngleSharp.Dom;

namespace Fondo.Rehearsal;

/// <summary>Closes the days that are open, by what the gates ask for, and holds each close against the real money.</summary>
public sealed partial class Rehearsal
{
    /// <summary>So many rounds of gates a day may take.</summary>
    private const int MostRounds = 60;

    private static readonly string[] _pages = ["board", "watch", "journal", "settle", "safe", "money", "bank", "books", "checks", "carried",
        "open-items", "bridge", "approvals", "count", "open", "take-in", "floats", "change", "close"];

    private readonly SortedDictionary<DateOnly, JsonNode> _closes = [];
    private readonly Dictionary<string, long> _accounts = [];

    private async Task CloseAll()
    {
        while (_open.TryPeek(out var evening))
        {
            foreach (var page in _pages)
            {
                await _odile.Page(Path(evening.Date, page));
            }

            await MatchByHand(evening.Date);
            if (!await CloseDay(evening.Date))
            {
                return;
            }

            _open.Dequeue();
            await Compare(evening);
        }
    }

    private async Task<bool> CloseDay(DateOnly date)
    {
        var (path, last) = (Path(date, "close"), "");
        for (var round = 0; round < MostRounds; round++)
        {
            var page = await _odile.Page(path);
            var left = page.QuerySelectorAll(".gates > li.left").ToList();
            if (left.Count == 0)
            {
                var closed = await _odile.Post($"{path}?handler=Close", [], path);
                if (Browser.Objections(closed) is { Length: > 0 } objection)
                {
                    Differs(date, $"every gate is green and the day does not close: {objection}");
                    return false;
                }

                return true;
            }

            last = $"“{left[0].QuerySelector("b")!.TextContent}”: {left[0].QuerySelector("li")?.TextContent.Trim()}";
            if (!await Work(date, left[0]))
            {
                Differs(date,
                    $"no way past the gate “{left[0].QuerySelector("b")!.TextContent}”: {left[0].QuerySelector("li")?.TextContent.Trim()}");
                return false;
            }
        }

        Differs(date, $"the gates are never green, the last one left is {last}");
        return false;
    }

    /// <summary>Does what a gate asks for: where its first item leads, or with an excuse.</summary>
    private async Task<bool> Work(DateOnly date, IElement gate)
    {
        var (link, excuse) = (gate.QuerySelector("li a")?.GetAttribute("href"), gate.QuerySelector("form"));
        switch (gate.QuerySelector("b")!.TextContent)
        {
            case "Every cell proved or explained"
                when gate.QuerySelector("li")!.TextContent.Contains("waits for approval", StringComparison.Ordinal):
                return await Sign(date);
            case "Every cell proved or explained" when link is not null && excuse is null:
                foreach (var cell in gate.QuerySelectorAll("li")
                    .Where(i => i.QuerySelector("form") is null && !i.TextContent.Contains("waits for approval", StringComparison.Ordinal))
                    .Select(i => i.QuerySelector("a")?.GetAttribute("href")).OfType<string>().ToList())
                {
                    if (!await Explain(date, cell))
                    {
                        return false;
                    }
                }

                return true;
            case "Approvals given":
                return await Sign(date);
            case "Ticket checks seen":
                return await Answer(date);
            case "Carried items owned" or "Holds settled":
                return await Own(date);
            default:
                return excuse is not null && !Refused(date,
                    await _odile.Post(Path(date, "close?handler=Excuse"),
                        [.. Browser.Fields(excuse).Where(f => f.Name != "reason"), ("reason", "looked into")], Path(date, "close")),
                    "an excuse");
        }
    }

    private async Task<bool> Explain(DateOnly date, string cell)
    {
        var page = await _odile.Page(cell);
        var leads = page.QuerySelector("form.take") is null ? await _odile.Page(cell + "?handler=Leads") : page;
        // Who counts knows that the count was right: nobody says that it was wrong.
        if (leads.QuerySelector("form.take") is { } take
            && take.QuerySelector("button")?.TextContent.Contains("Correct the count", StringComparison.Ordinal) != true && !Chance(0.1))
        {
            var fields = Browser.Fields(take);
            var isTaken = !Refused(date, await _odile.Post($"{cell}?handler=Take", fields, cell), $"the first lead of {cell}");
            if (isTaken && Chance(0.2))
            {
                // The key was pressed twice: what is taken already is not taken again.
                await _odile.Post($"{cell}?handler=Take", fields, cell);
            }

            return isTaken;
        }

        if (page.QuerySelector("form.entry") is null
            && page.QuerySelector("h1")?.TextContent.Contains("is proved", StringComparison.Ordinal) == true)
        {
            return true; // an entry on another cell put it right
        }

        var form = page.QuerySelector("form.entry") ?? throw new DoorException($"{cell} has no form for an entry");
        var kept = Browser.Fields(form).Where(f => f.Name is "Id" or "Seen" or "Amount" or "Owner" or "Until").ToList();
        var isNothing = kept.Any(f => f.Name == "Amount" && f.Value.Trim('0', '.', '−', '-').Length == 0);
        if (isNothing && page.QuerySelector("h1")?.TextContent.Contains("amounts match", StringComparison.Ordinal) != true)
        {
            return true; // what waits for a signature explains it
        }

        var isCarried = cell.EndsWith("/credit", StringComparison.Ordinal) && Chance(0.3) && !isNothing;
        return !Refused(date, await _odile.Post($"{cell}?handler=Entry",
            [.. kept, ("Kind", isCarried ? "Carry" : "Accept"), ("Proof", "BankLine"), ("Reason", "nothing was found")], cell),
            $"an entry on {cell}");
    }

    private async Task<bool> Sign(DateOnly date)
    {
        var path = Path(date, "approvals");
        var entries = (await _odile.Page(path)).QuerySelectorAll("input[name=entry]").Select(e => ("entry", e.GetAttribute("value")!))
            .ToList();
        return entries.Count > 0 && !Refused(date, await _odile.Post(path, [.. entries, ("approver", "p02"), ("pin", "741026")]),
            "signing");
    }

    private async Task<bool> Answer(DateOnly date)
    {
        var path = Path(date, "checks");
        var form = (await _odile.Page(path)).QuerySelectorAll("form").FirstOrDefault(f => f.QuerySelector("[name=key]") is not null);
        if (form is null)
        {
            return false;
        }

        var keys = form.QuerySelectorAll("[name=key]").Select(k => k.GetAttribute("value")!).ToList();
        return !Refused(date, await _odile.Post(path, keys.SelectMany(k => new[] { ("key", k), ("remedy", "Leave"), ("reason", "seen") })),
            "answering ticket checks");
    }

    private async Task<bool> Own(DateOnly date)
    {
        var path = Path(date, "carried");
        // The one that the page opens: others have their owner.
        var page = await _odile.Page(path);
        var form = page.QuerySelector("form.answer[data-sends=carried]") ?? page.QuerySelector("form.answer");
        var all = form?.QuerySelector("button[name=all]") is not null && Chance(0.5) ? [("all", "true")] : Array.Empty<(string, string)>();
        return form is not null && !Refused(date, await _odile.Post(path, [.. Browser.Fields(form), .. all]), "owning a carried item");
    }

    /// <summary>The frozen document against the real money: cells, safe, bags, floats, checks, deposits, processor, and the books of all
    /// days so far.</summary>
    private async Task Compare(Evening evening)
    {
        var (date, then) = (evening.Date, evening.Then);
        var doc = JsonNode.Parse(await _odile.Text(Path(date, "close/document?handler=File&kind=json")))!;
        _closes[date] = doc;
        Same(date, "the trading day of the document", date.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture),
            (string)doc["TradingDay"]!);
        CompareCells(date, doc);
        var money = doc["Whereabouts"]!;
        Same(date, "the safe", then.Safe, Read(money["Loose"]));
        Same(date, "floats in drawers", then.Floats, money["Floats"]!.AsArray().Sum(f => Read(f!["Amount"])));
        Same(date, "bags", string.Join(' ', then.Bags.OrderBy(b => b.Key, StringComparer.Ordinal).Select(b => $"{b.Key}={b.Value}")),
            string.Join(' ', money["Bags"]!.AsArray().OrderBy(b => (string)b!["Name"]!, StringComparer.Ordinal)
                .Select(b => $"{b!["Name"]}={Read(b["Amount"])}")));
        Same(date, "checks in the safe", then.Checks, money["Checks"]!.AsArray().Sum(c => Read(c!["Amount"])));
        CompareBank(date, then, money);
        CompareBooks(date, doc, then);
        await CompareSpan(date, then);
        await CompareCustomers(date, doc, then);
    }

    private void Book(BankLine line)
    {
        _bank.Stated.Remove(line);
        _real.Bank += line.Amount;
        if (line.Deposit is { } number && _real.Deposits.FirstOrDefault(d => d.Number == number) is { } deposit)
        {
            deposit.Credited = line.IsLast ? deposit.Cash + deposit.Checks : deposit.Credited + line.Amount;
        }

        if (line.Pays is { } paid && line.IsLast)
        {
            _real.Owed.Remove(paid);
        }
        else if (line.Pays is { } inPart && _real.Owed.TryGetValue(inPart, out var owed))
        {
            _real.Owed[inPart] = (owed.Gross - line.Amount, owed.Fee);
        }
    }

    private static bool IsSettled(string tender) => tender is "credit" or "debit" or "online" or "ebt-food";

    private void CompareCells(DateOnly date, JsonNode doc)
    {
        foreach (var cell in doc["Cells"]!.AsArray().Where(c => c!["Variance"] is not null && Read(c["Variance"]) != Read(c["Explained"])))
        {
            Differs(date,
                $"a cell of {cell!["RegisterId"]} {cell["Drawer"]} {cell["TenderId"]} is off by {cell["Variance"]} and its entries come "
                    + $"to {cell["Explained"]}");
        }

        var expected = _real.Cells.GetValueOrDefault(date) ?? [];
        var said = doc["Cells"]!.AsArray()
            .ToDictionary(c => ((string?)c!["RegisterId"] ?? "", (string?)c["Drawer"], (string)c["TenderId"]!),
                c => (Expected: Read(c!["Expected"]), Proof: c["Proof"] is null ? (long?)null : Read(c["Proof"])));
        var hasRows = said.Any(s => IsSettled(s.Key.Item3) && s.Value.Proof is not null);
        foreach (var (key, cell) in expected)
        {
            var proof = cell.Proof ?? (IsSettled(key.Tender) ? hasRows ? 0 : null : key.Tender is "cash" or "check" ? 0 : null);
            if (!said.TryGetValue(key, out var own))
            {
                if (cell.Expected != 0 || (cell.Proof ?? 0) != 0)
                {
                    Differs(date, $"no cell of {key}: {cell.Expected} expected, {proof} proof");
                }
            }
            else if (own.Expected != cell.Expected || own.Proof != proof)
            {
                Differs(date, $"{key}: {own.Expected} expected and {own.Proof} proof, really {cell.Expected} and {proof}");
            }
        }

        foreach (var key in said.Keys.Where(k => !expected.ContainsKey(k)))
        {
            Differs(date, $"a cell of {key} that nothing happened in: {said[key]}");
        }
    }

    private void CompareBank(DateOnly date, Snapshot then, JsonNode money)
    {
        List<(int Place, BankLine Line)> seen = [];
        foreach (var line in money["Bank"]!.AsArray())
        {
            var (key, on, amount) =
                ((string)line!["Key"]!, DateOnly.Parse((string)line["Booked"]!, CultureInfo.InvariantCulture), Read(line["Amount"]));
            var own = _bank.Stated.Where(l => l.Booked == on && l.Amount == amount && !seen.Exists(s => ReferenceEquals(s.Line, l)))
                .ToList();
            var booked = own.Find(l => l.Reference == key)
                ?? own.Find(l => ((string)line["Text"]!).Contains(l.Text, StringComparison.Ordinal));
            if (booked is null)
            {
                Differs(date, $"the bank’s line {key} of {on:yyyy-MM-dd}, {amount}, stands on a second day, or was never booked");
                continue;
            }

            seen.Add((_bank.Stated.IndexOf(booked), booked));
        }

        // In the order in which the bank booked them.
        foreach (var (_, booked) in seen.OrderBy(s => s.Place))
        {
            Book(booked);
        }

        Same(date, "deposits on their way", string.Join(' ', then.Sealed.Where(d => d.Outstanding != 0).Select(d => d.Number)),
            string.Join(' ', money["OpenDeposits"]!.AsArray().Select(d => (int)d!["Number"]!)));
        Same(
            date, "what processors owe", string.Join(' ',
                _real.Owed.Where(o => o.Key.Day <= date)
                    .Select(o => $"{o.Key.Day:yyyy-MM-dd} {o.Key.Processor}={o.Value.Gross}-{o.Value.Fee}").Order(StringComparer.Ordinal)),
            string.Join(' ', money["OpenFundings"]!.AsArray()
                .Select(f => $"{f!["Day"]} {f["Processor"]}={f["Tenders"]!.AsArray().Sum(t => Read(t!["Amount"]))}-{Read(f["Fee"])}")
                .Order(StringComparer.Ordinal)));
    }

    /// <summary>The entries of all days so far: each balances, and each account of money is what is really there.</summary>
    private void CompareBooks(DateOnly date, JsonNode doc, Snapshot then)
    {
        var books = doc["Books"]!.AsArray()
            .Select(b => (Account: (string)b!["Account"]!, What: (string)b["What"]!, Amount: Read(b["Amount"]))).ToList();
        Same(date, "the balance of the entry", 0, books.Sum(b => b.Amount));
        Post(books.Select(b => (b.Account, b.Amount)));

        var items = doc["Whereabouts"]!["Items"]!.AsArray().GroupBy(i => (string)i!["Account"]!)
            .ToDictionary(g => g.Key, g => g.Sum(i => Read(i!["Amount"])));
        Same(date, "books: cash", then.Cash, Of("Assets:Cash to deposit"));
        Same(date, "books: checks", then.Checks, Of("Assets:Checks to deposit"));
        Same(date, "books: deposits on the way", then.Sealed.Sum(d => d.Outstanding), Of("Assets:Deposits on the way"));
        Same(date, "books: card clearing", Owed("cards"), Of("Assets:Card clearing"));
        Same(date, "books: benefit clearing", Owed("benefits"), Of("Assets:Benefit clearing"));
        foreach (var (account, amount) in then.Accounts)
        {
            Same(date, $"books: {account}", amount, Of(account));
        }

        Same(date, "books: the bank", _real.Bank, Of("Assets:Bank"));
        Same(date, "books: change on its way", then.Change, Of("Assets:Change on the way"));
        Same(date, "books: opening balances", -_real.Opening, Of("Equity:Opening balances"));
        Same(date, "books: sales", -then.Goods, Of("Income:Sales"));
        Same(date, "books: tax", -then.Tax, Of("Liabilities:Sales tax"));
        Same(date, "books: card fees", -then.Fees, Of("Income:Card fees"));
        Same(date, "books: cash rounding", -then.Rounding, Of("Expenses:Cash rounding"));
        Same(date, "books: paid out", then.PaidOut, Of("Expenses:Petty cash"));
        foreach (var account in new[]
        {
            "Assets:Carried items",
            "Assets:Claims",
            "Liabilities:Claims",
            "Assets:Cash to deposit",
            "Assets:Deposits on the way",
            "Assets:Card clearing",
            "Assets:Benefit clearing",
            "Assets:Checks to deposit",
            "Assets:Change on the way"
        })
        {
            Same(date, $"{account}, by its items", items.GetValueOrDefault(account), Of(account));
        }

        long Owed(string processor) => _real.Owed.Where(o => o.Key.Day <= date && o.Key.Processor == processor).Sum(o => o.Value.Gross);
        long Of(string account) => _accounts.GetValueOrDefault(account);
    }

    private void Post(IEnumerable<(string Account, long Amount)> sums)
    {
        foreach (var (account, amount) in sums)
        {
            _accounts[account] = _accounts.GetValueOrDefault(account) + amount;
        }
    }

    private long Read(JsonNode? text) => text is null ? 0 : plan.Read((string)text!);

    private void Same<T>(DateOnly date, string what, T real, T said)
    {
        if (!EqualityComparer<T>.Default.Equals(real, said))
        {
            Differs(date, $"{what}: {said}, really {real}");
        }
    }
}
