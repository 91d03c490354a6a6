using System.Globalization;
using System.Text.Json.Nodes;

namespace Fondo.Standins.Days;

/// <summary>What really lies in the safe of the invented store, piece by piece, day after day: its stock for change, bags, what drawers
/// brought, less floats and deposits.</summary>
public sealed class SafeKeeper
{
    /// <summary>What it begins with: 640.00 for change.</summary>
    private readonly SortedDictionary<long, int> _pieces =
        new() { [10_00] = 20, [5_00] = 40, [1_00] = 150, [25] = 200, [10] = 300, [5] = 200 };

    public IReadOnlyDictionary<long, int> Pieces => _pieces;

    /// <summary>A day's counts.json, with the safe counted as it really is at that moment. What is counted later comes in
    /// afterwards.</summary>
    /// <param name="floats">The float of every register, in minor units.</param>
    /// <param name="journal">The day's journal, for loans out of the safe.</param>
    public string Count(string counts, string journal, IReadOnlyDictionary<string, long> floats, DateTimeOffset at)
    {
        var all = JsonNode.Parse(counts)!.AsArray();
        foreach (var safe in all.Where(c => (string?)c!["kind"] == "safe").ToList())
        {
            all.Remove(safe);
        }

        bool IsBefore(JsonNode count) => DateTimeOffset.Parse((string)count["at"]!, CultureInfo.InvariantCulture) <= at;
        var loans = journal.Split('\n').Where(l => l.Contains("\"kind\":\"loan\"", StringComparison.Ordinal))
            .Select(l => JsonNode.Parse(l)!)
            .ToLookup(IsBefore, l => (long)(decimal.Parse((string)l["amount"]!, CultureInfo.InvariantCulture) * 100));
        Bring(all, floats, c => IsBefore(c));
        Leave(loans[true].Sum(), new Dictionary<long, int>());
        var counted = new JsonObject
        {
            ["id"] = "k-safe",
            ["kind"] = "safe",
            ["by"] = "p01",
            ["witness"] = "p02",
            ["at"] = Write.Time(at),
            ["attempt"] = 1,
            ["cash"] = new JsonObject([.. _pieces.Where(p => p.Value > 0).Reverse()
                .Select(p => KeyValuePair.Create<string, JsonNode?>(Write.Amount(p.Key), p.Value))]),
        };
        Bring(all, floats, c => !IsBefore(c));
        Leave(loans[false].Sum(), new Dictionary<long, int>());
        all.Add(counted);
        return Write.Json(all);
    }

    /// <summary>A drawer that is counted later: all but its float comes in.</summary>
    public void Bring(IEnumerable<KeyValuePair<long, int>> pieces, long @float)
    {
        Move(pieces, 1);
        Leave(@float, pieces.ToDictionary(p => p.Key, p => p.Value));
    }

    /// <summary>So many pieces that were entered on another line.</summary>
    public void Exchange(long entered, long really, int number)
    {
        _pieces[entered] = _pieces.GetValueOrDefault(entered) - number;
        _pieces[really] = _pieces.GetValueOrDefault(really) + number;
    }

    /// <summary>What leaves in a deposit.</summary>
    public void Take(IEnumerable<KeyValuePair<long, int>> pieces) => Move(pieces, -1);

    private void Bring(JsonArray all, IReadOnlyDictionary<string, long> floats, Func<JsonNode, bool> which)
    {
        foreach (var count in all.Select(c => c!).Where(c => (string?)c["kind"] is "drop" && which(c)))
        {
            Move(PiecesOf(count), 1);
        }

        var closing = all.Select(c => c!).Where(c => (string?)c["kind"] == "closing").GroupBy(c => (string)c["drawer"]!)
            .Select(g => g.MaxBy(c => (int)c["attempt"]!)!).Where(which).ToList();
        foreach (var count in closing)
        {
            var drawer = (string)count["drawer"]!;
            Move(PiecesOf(count), 1);
            var kept = all.Select(c => c!).Where(c => (string?)c["kind"] == "kept" && (string?)c["drawer"] == drawer)
                .MaxBy(c => (int)c["attempt"]!);
            // Every drawer of a register takes a float out of the safe, or leaves one in it: as many as it has sessions.
            if (kept is not null)
            {
                Move(PiecesOf(kept), -1);
            }
            else
            {
                Leave(floats[drawer.Split('-')[0]], PiecesOf(count));
            }
        }
    }

    /// <summary>Takes a float out, of the drawer's own pieces as far as they make it, largest first; the rest out of the safe.</summary>
    private void Leave(long @float, IReadOnlyDictionary<long, int> own)
    {
        foreach (var from in new[] { own, new Dictionary<long, int>(_pieces) })
        {
            foreach (var (worth, number) in from.OrderByDescending(p => p.Key).Where(p => p.Key <= 20_00))
            {
                var pieces = (int)Math.Min(Math.Min(number, _pieces.GetValueOrDefault(worth)), @float / worth);
                _pieces[worth] = _pieces.GetValueOrDefault(worth) - pieces;
                @float -= pieces * worth;
            }
        }
    }

    private void Move(IEnumerable<KeyValuePair<long, int>> pieces, int sign)
    {
        foreach (var (worth, number) in pieces)
        {
            _pieces[worth] = _pieces.GetValueOrDefault(worth) + (sign * number);
        }
    }

    private static Dictionary<long, int> PiecesOf(JsonNode count) =>
        count["cash"]!.AsObject().ToDictionary(p => (long)(decimal.Parse(p.Key, CultureInfo.InvariantCulture) * 100), p => (int)p.Value!);
}
