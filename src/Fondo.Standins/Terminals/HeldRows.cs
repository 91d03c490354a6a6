using System.Globalization;
using System.Text.Json.Nodes;

namespace Fondo.Standins.Terminals;

/// <summary>Settled rows of a generated day, as its terminals held them.</summary>
public static class HeldRows
{
    /// <summary>The approved cards of a journal that were run after their terminal's last batch was closed.</summary>
    public static IEnumerable<(string Terminal, HeldRow Row)> AfterLastBatch(string journal, string totals)
    {
        var lines = totals.Split('\n', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries);
        var (terminal, closed) = (Array.IndexOf(lines[0].Split(','), "terminal"), Array.IndexOf(lines[0].Split(','), "closed"));
        var last = lines.Skip(1).Select(l => l.Split(',')).GroupBy(f => f[terminal])
            .ToDictionary(g => g.Key, g => g.Max(f => DateTimeOffset.Parse(f[closed], CultureInfo.InvariantCulture)));
        foreach (var e in journal.Split('\n', StringSplitOptions.RemoveEmptyEntries).Select(l => JsonNode.Parse(l)!.AsObject()))
        {
            var at = DateTimeOffset.Parse((string)e["at"]!, CultureInfo.InvariantCulture);
            foreach (var t in (e["tenders"]?.AsArray() ?? []).Select(t => t!.AsObject())
                .Where(t => (string?)t["terminal"] is { } on && t["result"] is null && last.TryGetValue(on, out var end) && at > end))
            {
                long Amount(string name) =>
                    (string?)t[name] is { } text ? Math.Abs((long)(decimal.Parse(text, CultureInfo.InvariantCulture) * 100)) : 0;
                yield return ((string)t["terminal"]!, new(
                    at, (string)e["kind"]! == "refund", Amount("amount"), Amount("tip"), Amount("cashback"), (string?)t["brand"],
                    (string?)t["card"], (string?)t["auth"], (string?)t["rrn"], (string?)t["entry"],
                    (string)t["type"]! switch { "ebt-food" => "food", "ebt-cash" => "cash", _ => null }));
            }
        }
    }

    /// <param name="csv">A batches.csv that Fondo's stand-ins wrote: no quotes in it.</param>
    public static IEnumerable<(string Terminal, HeldRow Row)> Of(string csv)
    {
        var lines = csv.Split('\n', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries);
        var columns = lines[0].Split(',').Select((name, place) => (name, place)).ToDictionary(c => c.name, c => c.place);
        foreach (var fields in lines.Skip(1).Select(l => l.Split(',')))
        {
            string? Text(string name) => fields[columns[name]] is { Length: > 0 } text ? text : null;
            long Amount(string name) => Text(name) is { } text ? (long)(decimal.Parse(text, CultureInfo.InvariantCulture) * 100) : 0;
            yield return (fields[columns["terminal"]], new(
                DateTimeOffset.Parse(fields[columns["at"]], CultureInfo.InvariantCulture), fields[columns["type"]] == "refund",
                Amount("amount"), Amount("tip"), Amount("cashback"),
                Text("brand"), Text("card"), Text("auth"), Text("rrn"), Text("entry"), Text("benefit")));
        }
    }
}
