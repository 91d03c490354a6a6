namespace Fondo.Rehearsal;

/// <summary>Days taken together are what their entries come to, with the corrections that stand in later ones.</summary>
public sealed partial class Rehearsal
{
    private async Task CompareSpan(DateOnly date)
    {
        var first = _closes.Keys.First();
        var said = await Accounts(first, date);
        foreach (var (account, amount) in _accounts.Where(a => a.Value != 0))
        {
            Same(date, $"{account}, at the end of the span from {first:yyyy-MM-dd}", amount, said.TryGetValue(account, out var own) ? own : 0);
        }

        var from = _closes.Keys.ElementAt(_random.Next(_closes.Count));
        await Accounts(from, date);
    }

    /// <summary>What stands on each account when the span ends, as its page says; no account and its items may be apart.</summary>
    private async Task<Dictionary<string, long>> Accounts(DateOnly from, DateOnly to)
    {
        var page = await _odile.Page($"/span?from={from:yyyy-MM-dd}&to={to:yyyy-MM-dd}");
        Dictionary<string, long> ends = [];
        foreach (var row in page.QuerySelectorAll("h2").FirstOrDefault(h => h.TextContent == "Accounts")?.NextElementSibling?.QuerySelectorAll("tbody tr") ?? throw new DoorException("the span shows no accounts"))
        {
            var cells = row.QuerySelectorAll("td").Select(c => c.TextContent.Trim()).ToList();
            ends[cells[0]] = plan.Read(Plain(cells[4]));
            if (cells[6].Length > 0)
            {
                Differs(to, $"{cells[0]} and its items are {cells[6]} apart in the span from {from:yyyy-MM-dd}");
            }
        }

        return ends;
    }
}
