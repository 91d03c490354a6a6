using System.Text.Json.Nodes;

namespace Fondo.Rehearsal;

/// <summary>What customers owe and are owed is, number by number, what their tickets came to; and each account of theirs stands at the sum
/// of its numbers.</summary>
public sealed partial class Rehearsal
{
    private static readonly Dictionary<string, string> _kinds =
        new() { ["Invoices and accounts"] = CustomerAccounts, ["Gift cards"] = GiftCards, ["Layaways"] = CustomerDeposits };

    private async Task CompareCustomers(DateOnly date, JsonNode doc, Snapshot then)
    {
        var page = await _odile.Page($"/customers?to={date:yyyy-MM-dd}");
        Dictionary<(string, string), long> said = [];
        foreach (var title in page.QuerySelectorAll("h2").Where(h => _kinds.ContainsKey(h.TextContent.Trim())))
        {
            var account = _kinds[title.TextContent.Trim()];
            for (var part = title.NextElementSibling; part is not null && part.TagName != "H2"; part = part.NextElementSibling)
            {
                foreach (var row in part.QuerySelectorAll("tbody tr"))
                {
                    var left = plan.Read(Plain(row.QuerySelectorAll("td")[5].TextContent));
                    said[(account, row.QuerySelector("th")!.TextContent.Trim())] = account == CustomerAccounts ? left : -left;
                }
            }
        }

        foreach (var key in then.Items.Keys.Union(said.Keys).Order())
        {
            Same(date, $"{key.Item1} {key.Item2}, what is left", then.Items.GetValueOrDefault(key), said.GetValueOrDefault(key));
        }

        foreach (var account in doc["CustomerAccounts"]!.AsArray())
        {
            var name = (string)account!["Account"]!;
            Same(date, $"{name} at the close", then.Items.Where(i => i.Key.Account == name).Sum(i => i.Value), Read(account["Balance"]));
        }
    }
}
