namespace Fondo.Rehearsal;

/// <summary>Days taken together are what their entries come to, with the corrections that stand in later ones.</summary>
public sealed partial class Rehearsal
{
    private static readonly Dictionary<string, string> _names = new()
    {
        ["cash"] = "Cash",
        ["check"] = "Checks",
        ["credit"] = "Credit",
        ["debit"] = "Debit",
        ["online"] = "Online",
        ["ebt-food"] = "Food benefits",
        ["gift-card"] = "Gift cards",
        ["house-account"] = "Accounts",
    };

    private async Task CompareSpan(DateOnly date, Snapshot then)
    {
        var first = _closes.Keys.First();
        var said = await Accounts(first, date);
        var taken = (await Table(first, date, "Takings by tender")).ToDictionary(r => r[0], r => plan.Read(Plain(r[1])));
        foreach (var (tender, amount) in then.Taken.Where(t => t.Value != 0))
        {
            Same(date, $"takings in {tender} from {first:yyyy-MM-dd}", amount, taken.GetValueOrDefault(_names[tender]));
        }

        foreach (var (account, amount) in _accounts.Where(a => a.Value != 0))
        {
            Same(date, $"{account}, at the end of the span from {first:yyyy-MM-dd}", amount,
                said.TryGetValue(account, out var own) ? own : 0);
        }

        foreach (var bank in (await _odile.Page(Span(first, date))).QuerySelectorAll("h2")
            .Where(h => h.TextContent.EndsWith("against the bank", StringComparison.Ordinal)))
        {
            Same(date, $"difference in {bank.TextContent}", 0,
                plan.Read(Plain(bank.NextElementSibling!.QuerySelectorAll("tbody tr")[^1].QuerySelectorAll("td")[^1].TextContent)));
        }

        var from = _closes.Keys.ElementAt(_random.Next(_closes.Count));
        await Accounts(from, date);
    }

    /// <summary>What stands on each account when the span ends, as its page says; no account and its items may be apart.</summary>
    private async Task<Dictionary<string, long>> Accounts(DateOnly from, DateOnly to)
    {
        Dictionary<string, long> ends = [];
        foreach (var cells in await Table(from, to, "Accounts"))
        {
            ends[cells[0]] = plan.Read(Plain(cells[4]));
            if (cells[6].Length > 0)
            {
                Differs(to, $"{cells[0]} and its items are {cells[6]} apart in the span from {from:yyyy-MM-dd}");
            }
        }

        return ends;
    }

    private static string Span(DateOnly from, DateOnly to) => $"/span?from={from:yyyy-MM-dd}&to={to:yyyy-MM-dd}";

    private async Task<List<List<string>>> Table(DateOnly from, DateOnly to, string name)
    {
        var page = await _odile.Page(Span(from, to));
        var rows = page.QuerySelectorAll("h2").FirstOrDefault(h => h.TextContent == name)?.NextElementSibling?.QuerySelectorAll("tbody tr")
            ?? throw new DoorException($"the span shows no {name}");
        return [.. rows.Select(r => r.QuerySelectorAll("td").Select(c => c.TextContent.Trim()).ToList())];
    }
}
