using System.Globalization;
using System.Net;
using System.Net.Sockets;
using System.Text;
using System.Text.Json.Nodes;

namespace Fondo.Rehearsal;

/// <summary>The processor of connected terminals: says what a terminal holds, closes its batch once for a key, and now and then does so
/// without an answer.</summary>
public sealed class WireProcessor : IDisposable
{
    private readonly ShopPlan _plan;
    private readonly HttpListener _door = new();
    private readonly Dictionary<string, Batch> _settlements = [];
    private readonly Random _random;
    private int _batches;

    private sealed record Batch(string Terminal, string Number, DateTimeOffset Closed, List<CardRow> Rows);

    public WireProcessor(ShopPlan plan)
    {
        (_plan, _random) = (plan, new(plan.Seed * 104_729));
        using var free = new TcpListener(IPAddress.Loopback, 0);
        free.Start();
        Address = new(string.Create(CultureInfo.InvariantCulture, $"http://127.0.0.1:{((IPEndPoint)free.LocalEndpoint).Port}/"));
        free.Stop();
        _door.Prefixes.Add(Address.ToString());
        _door.Start();
        _ = Task.Run(Listen);
    }

    public Uri Address { get; }

    /// <summary>What terminals hold.</summary>
    public List<CardRow> Held { get; set; } = [];

    /// <summary>What was settled and is not collected yet.</summary>
    public List<CardRow> Settled { get; } = [];

    public Func<DateTimeOffset> Now { get; set; } = () => default;

    public void Dispose() => ((IDisposable)_door).Dispose();

    private async Task Listen()
    {
        while (_door.IsListening)
        {
            try
            {
                Answer(await _door.GetContextAsync());
            }
            catch (Exception e) when (e is HttpListenerException or ObjectDisposedException or InvalidOperationException)
            {
                return;
            }
        }
    }

    private void Answer(HttpListenerContext asked)
    {
        var way = asked.Request.Url!.AbsolutePath.Trim('/').Split('/');
        lock (_settlements)
        {
            var (status, body) = way switch
            {
                ["terminals", var terminal] => (200, Running(terminal)),
                ["terminals", var terminal, "settlements"] => Settle(terminal, asked.Request),
                ["settlements", var key] => _settlements.TryGetValue(key, out var own) ? (200, Json(own)) : Unknown(),
                ["batches"] => (200, Since(DateTimeOffset.Parse(asked.Request.QueryString["after"]!, CultureInfo.InvariantCulture))),
                ["batches", var terminal, var number] => _settlements.Values.FirstOrDefault(b => b.Terminal == terminal
                    && b.Number == number) is { } own ? (200, Json(own)) : Unknown(),
                _ => Unknown(),
            };
            asked.Response.StatusCode = status;
            asked.Response.ContentType = "application/json";
            asked.Response.Close(Encoding.UTF8.GetBytes(body.ToJsonString()), willBlock: false);
        }
    }

    private static (int, JsonNode) Unknown() => (404, new JsonObject { ["detail"] = "Nothing is known of it." });

    private JsonObject Running(string terminal)
    {
        var rows = Rows(terminal);
        return new() { ["terminal"] = terminal, ["totals"] = Totals(rows), ["rows"] = Json(rows) };
    }

    private List<CardRow> Rows(string terminal) => [.. Held.Where(c => c.Terminal == terminal).OrderBy(c => c.At)];

    private (int, JsonNode) Settle(string terminal, HttpListenerRequest request)
    {
        using var reader = new StreamReader(request.InputStream);
        var key = (string)JsonNode.Parse(reader.ReadToEnd())!["key"]!;
        if (!_settlements.TryGetValue(key, out var batch))
        {
            var rows = Rows(terminal);
            if (rows.Count == 0)
            {
                return (409, new JsonObject { ["detail"] = "It holds nothing." });
            }

            batch = _settlements[key] = new(terminal, (++_batches).ToString(CultureInfo.InvariantCulture), Now(), rows);
            foreach (var (row, place) in rows.Select((r, i) => (r, i + 1)))
            {
                (row.Batch, row.Sequence) = (batch.Number, place);
            }

            Held = [.. Held.Except(rows)];
            Settled.AddRange(rows);
            if (_random.Next(8) == 0)
            {
                return (503, new JsonObject()); // it settled, and says nothing
            }
        }

        return (200, Json(batch));
    }

    private JsonArray Since(DateTimeOffset after) => [.. _settlements.Values.Where(b => b.Closed > after).Select(Json)];

    private JsonObject Json(Batch batch) =>
        new()
        {
            ["terminal"] = batch.Terminal,
            ["batch"] = batch.Number,
            ["closed"] = ShopPlan.Text(batch.Closed),
            ["totals"] = Totals(batch.Rows),
            ["rows"] = Json(batch.Rows)
        };

    private JsonObject Totals(List<CardRow> rows) => new()
    {
        ["debits"] = Sum(rows.Where(r => r.Amount > 0)),
        ["credits"] = Sum(rows.Where(r => r.Amount < 0)),
        ["reversals"] = Sum([]),
        ["net"] = _plan.Text(rows.Sum(r => r.Amount)),
        ["brands"] = new JsonArray([.. rows.GroupBy(r => r.Brand)
            .Select(g => new JsonObject
            {
                ["brand"] = g.Key,
                ["benefit"] = Benefit(g.First()),
                ["debits"] = Sum(g.Where(r => r.Amount > 0)),
                ["credits"] = Sum(g.Where(r => r.Amount < 0))
            })]),
    };

    private JsonObject Sum(IEnumerable<CardRow> rows) =>
        new() { ["number"] = rows.Count(), ["amount"] = _plan.Text(Math.Abs(rows.Sum(r => r.Amount))) };

    private JsonArray Json(List<CardRow> rows) =>
    [
        .. rows.Select((r, i) => new JsonObject
        {
            ["seq"] = (i + 1).ToString(CultureInfo.InvariantCulture),
            ["at"] = ShopPlan.Text(r.At),
            ["type"] = r.Amount < 0 ? "refund" : "sale",
            ["amount"] = _plan.Text(Math.Abs(r.Amount)),
            ["tip"] = _plan.Text(0),
            ["cashback"] = _plan.Text(0),
            ["brand"] = r.Brand,
            ["card"] = "4471",
            ["auth"] = r.Approval,
            ["rrn"] = r.Reference,
            ["entry"] = "chip",
            ["benefit"] = Benefit(r),
        }),
    ];

    private static string? Benefit(CardRow row) => row.Tender == "ebt-food" ? "food" : null;
}
