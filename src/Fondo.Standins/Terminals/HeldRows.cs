using System.Globalization;

namespace Fondo.Standins.Terminals;

/// <summary>Settled rows of a generated day, as its terminals held them.</summary>
public static class HeldRows
{
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
                DateTimeOffset.Parse(fields[columns["at"]], CultureInfo.InvariantCulture), fields[columns["type"]] == "refund", Amount("amount"), Amount("tip"), Amount("cashback"),
                Text("brand"), Text("card"), Text("auth"), Text("rrn"), Text("entry"), Text("benefit")));
        }
    }
}
