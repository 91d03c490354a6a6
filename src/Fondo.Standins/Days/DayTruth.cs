using System.Globalization;
using System.Text.Json.Nodes;

namespace Fondo.Standins.Days;

/// <summary>One settled row as the maker of the day knows it.</summary>
/// <param name="Tender">The key of the tender that it settles; null where there is none.</param>
/// <param name="Amount">In minor units; refunds negative.</param>
internal sealed record SettledRow(string Key, string? Tender, string Terminal, string Type, long Amount);

/// <summary>How a generated day should come out, worked out from what was written into its files and nothing else: a second opinion beside
/// the reconciliation.</summary>
internal sealed class DayTruth
{
    private static readonly string[] _batchTenders = ["credit", "debit", "ebt-food", "ebt-cash", "wic", "online"];

    private readonly SortedDictionary<(string Register, string Drawer, string Tender), Sums> _cells =
        new(Comparer<(string, string, string)>.Create((a, b) =>
        string.CompareOrdinal($"{a.Item1} {a.Item2} {a.Item3}", $"{b.Item1} {b.Item2} {b.Item3}")));

    private readonly (JsonObject Journal, JsonObject Batch, JsonObject CarriedJournal) _amounts = ([], [], []);
    private readonly IReadOnlyList<Trouble> _troubles;
    private readonly JsonArray _pairs = [];

    private sealed class Sums
    {
        public long Expected, Proof;
        public int ExpectedCount, ProofCount;
    }

    public DayTruth(IEnumerable<byte[]> events, IEnumerable<SettledRow> rows, IEnumerable<string> ledger, IEnumerable<JsonObject> counts,
        IEnumerable<JsonNode?> carried,
        Scene.RegisterPlan[] registers, IReadOnlyList<Trouble> troubles)
    {
        _troubles = troubles;
        var journal = events.Select(e => JsonNode.Parse(e)!.AsObject()).ToList();
        var voided = journal.Where(e => (string)e["kind"]! == "void").Select(e => (string)e["original"]!).ToHashSet();
        foreach (var e in journal.Where(e => !voided.Contains((string)e["id"]!)))
        {
            Take(e);
        }

        foreach (var e in carried.Select(c => c!["event"]!.AsObject()))
        {
            _amounts.CarriedJournal[$"{e["id"]}#1"] = (string)e["tenders"]![0]!["amount"]!;
        }

        var register = registers.ToDictionary(r => r.Terminal, r => r.Id);
        foreach (var row in rows)
        {
            Prove((register[row.Terminal], "", row.Type), row.Amount);
            _amounts.Batch[row.Key] = Write.Amount(row.Amount);
            if (row.Tender is not null && (_amounts.Journal.ContainsKey(row.Tender) || _amounts.CarriedJournal.ContainsKey(row.Tender)))
            {
                _pairs.Add((JsonNode)new JsonArray(row.Tender, row.Key));
            }
        }

        foreach (var line in ledger.Select(l => l.Split(',')))
        {
            Prove((line[3], "", line[0]), Minor(line[5]) * (line[4] == "refund" ? -1 : 1));
        }

        foreach (var count in counts.Where(c => (string)c["kind"]! == "closing"))
        {
            Prove(count, registers);
        }
    }

    public JsonObject ToJson(int seed) => new()
    {
        ["fondoTruth"] = 1,
        ["seed"] = seed,
        ["options"] = new JsonObject { ["errors"] = _troubles.Count },
        ["tradingDay"] = Scene.Date.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture),
        ["errors"] = new JsonArray([.. _troubles.Select(Error)]),
        ["notPlanted"] = new JsonArray(),
        ["noise"] = new JsonArray(),
        ["cells"] = new JsonArray([.. _cells.Select(c => Cell(c.Key, c.Value))]),
        ["checks"] = new JsonArray(),
        ["batchTenders"] = new JsonArray([.. _batchTenders.Select(t => JsonValue.Create(t))]),
        ["pairs"] = _pairs,
        ["amounts"] = new JsonObject
        {
            ["journal"] = _amounts.Journal,
            ["batch"] = _amounts.Batch,
            ["carriedJournal"] = _amounts.CarriedJournal,
            ["carriedBatch"] = new JsonObject()
        },
    };

    private static JsonObject Error(Trouble t) => new()
    {
        ["kind"] = t.Kind,
        ["cause"] = t.Open.Count > 0 ? t.Kind : null,
        ["code"] = null,
        ["keys"] = new JsonArray([.. t.Keys.Select(k => JsonValue.Create(k))]),
        ["cells"] = new JsonArray([.. t.Cells.Select(c => new JsonObject
        {
            ["register"] = c.Register,
            ["drawer"] = c.Drawer,
            ["tender"] = c.Tender,
            ["delta"] = Write.Amount(c.Variance)
        })]),
        ["open"] = new JsonArray([.. t.Open.Select(k => JsonValue.Create(k))]),
        // Which of two rows alike is the second charge cannot be told.
        ["openAny"] = t.Kind == "charged-twice",
        ["note"] = t.Note,
    };

    private static JsonObject Cell((string Register, string Drawer, string Tender) key, Sums sums)
    {
        var (variance, cash) = (sums.Proof - sums.Expected, key.Tender == "cash");
        var proves = Math.Abs(variance) <= (cash ? 2_00 : 0) && (key.Tender is "cash" or "coupon" || sums.ExpectedCount == sums.ProofCount);
        return new()
        {
            ["register"] = key.Register,
            ["drawer"] = key.Drawer.Length == 0 ? null : key.Drawer,
            ["tender"] = key.Tender,
            ["expected"] = Write.Amount(sums.Expected),
            ["proof"] = Write.Amount(sums.Proof),
            ["variance"] = Write.Amount(variance),
            ["expectedCount"] = sums.ExpectedCount,
            ["proofCount"] = key.Tender is "cash" or "coupon" ? null : sums.ProofCount,
            ["state"] = proves ? "proved" : "off",
        };
    }

    private void Take(JsonObject e)
    {
        var (register, drawer) = ((string)e["register"]!, (string?)e["drawer"] ?? "");
        var amount = e["amount"] is { } given ? Minor((string)given!) : 0;
        switch ((string)e["kind"]!)
        {
            case "open" or "loan" or "paid-in":
                Of((register, drawer, "cash")).Expected += amount;
                break;
            case "drop" or "paid-out":
                Of((register, drawer, "cash")).Expected -= amount;
                break;
            case "sale" or "refund":
                Pay(e, register, drawer);
                break;
        }
    }

    private void Pay(JsonObject ticket, string register, string drawer)
    {
        var place = 0;
        foreach (var tender in ticket["tenders"]!.AsArray().Select(t => t!.AsObject()))
        {
            place++;
            if ((string?)tender["result"] is "declined" or "reversed")
            {
                continue;
            }

            var type = (string)tender["type"]!;
            var (amount, change, cashback) =
                (Minor((string)tender["amount"]!), Minor((string?)tender["change"] ?? "0"), Minor((string?)tender["cashback"] ?? "0"));
            var cell = Of((register, type is "cash" or "check" or "coupon" ? drawer : "", type));
            cell.Expected += amount - change;
            cell.ExpectedCount++;
            if (cashback != 0)
            {
                Of((register, drawer, "cash")).Expected -= cashback;
            }

            if (_batchTenders.Contains(type))
            {
                _amounts.Journal[$"{ticket["id"]}#{place}"] = Write.Amount(amount);
            }
        }
    }

    private void Prove(JsonObject count, Scene.RegisterPlan[] registers)
    {
        var drawer = (string)count["drawer"]!;
        var register = registers.Single(r => r.Sessions.Any(s => s.Drawer == drawer)).Id;
        Of((register, drawer, "cash")).Proof += count["cash"]!.AsObject().Sum(p => Minor(p.Key) * (int)p.Value!);
        foreach (var check in count["checks"]?.AsArray() ?? [])
        {
            Prove((register, drawer, "check"), Minor((string)check!["amount"]!));
        }

        if (count["stubs"]?["coupon"] is { } coupons)
        {
            Prove((register, drawer, "coupon"), Minor((string)coupons!));
        }
    }

    private void Prove((string Register, string Drawer, string Tender) key, long amount)
    {
        var cell = Of(key);
        cell.Proof += amount;
        cell.ProofCount++;
    }

    private Sums Of((string Register, string Drawer, string Tender) key) =>
        _cells.TryGetValue(key, out var sums) ? sums : _cells[key] = new();

    private static long Minor(string amount) => (long)(decimal.Parse(amount, CultureInfo.InvariantCulture) * 100);
}
