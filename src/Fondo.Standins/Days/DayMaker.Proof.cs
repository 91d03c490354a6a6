using System.Globalization;
using System.Text;
using System.Text.Json.Nodes;

namespace Fondo.Standins.Days;

/// <summary>What shows at the end of the played day: the counted drawers, the settled batches, and the store itself.</summary>
public sealed partial class DayMaker
{
    private DrawerContent CountDrawers(string uncounted)
    {
        var left = new DrawerContent("", new Dictionary<long, int>(), [], 0);
        foreach (var (drawer, till) in _tills)
        {
            var content = new DrawerContent(drawer, PiecesOf(till.Cash), till.Checks, till.Coupons);
            if (drawer == uncounted)
            {
                left = content;
                continue;
            }

            var session = _registers.SelectMany(r => r.Sessions).Single(s => s.Drawer == drawer);
            var count = new JsonObject
            {
                ["id"] = $"k-{_counts.Count + 1:00}",
                ["kind"] = "closing",
                ["drawer"] = drawer,
                ["by"] = session.Cashier,
                ["witness"] = session.Cashier == "p01" ? "p02" : "p01",
                ["at"] = Write.Time(At(session.Until + 0.25)),
                ["attempt"] = 1,
                ["cash"] =
                    new JsonObject([.. content.Pieces.Select(p => KeyValuePair.Create<string, JsonNode?>(Write.Amount(p.Key), p.Value))]),
            };
            if (till.Checks.Count > 0)
            {
                count["checks"] = new JsonArray([.. till.Checks.Select(c =>
                    new JsonObject { ["number"] = c.Number, ["amount"] = Write.Amount(c.Amount) })]);
            }

            if (till.Coupons > 0)
            {
                count["stubs"] = new JsonObject { ["coupon"] = Write.Amount(till.Coupons) };
            }

            _counts.Add(count);
            if (IsQuiet)
            {
                KeepFloat(content, session);
            }
        }

        return left;
    }

    /// <summary>What stays for the next session, where small pieces make it exactly.</summary>
    private void KeepFloat(DrawerContent content, Scene.SessionPlan session)
    {
        var left = _registers.Single(r => r.Sessions.Contains(session)).Float;
        var kept = new JsonObject();
        foreach (var (worth, number) in content.Pieces.Where(p => p.Key <= 20_00))
        {
            var pieces = (int)Math.Min(number, left / worth);
            if (pieces > 0)
            {
                kept[Write.Amount(worth)] = pieces;
                left -= pieces * worth;
            }
        }

        if (left == 0)
        {
            _counts.Add(new JsonObject
            {
                ["id"] = $"k-{_counts.Count + 1:00}",
                ["kind"] = "kept",
                ["drawer"] = content.Drawer,
                ["by"] = session.Cashier,
                ["at"] = Write.Time(At(session.Until + 0.3)),
                ["attempt"] = 1,
                ["cash"] = kept,
            });
        }
    }

    /// <summary>A likely mixture of notes and coins worth exactly this much.</summary>
    private SortedDictionary<long, int> PiecesOf(long cash)
    {
        var pieces = new SortedDictionary<long, int>(Comparer<long>.Create((a, b) => b.CompareTo(a)));
        (long Worth, double Share)[] likely =
            [(100_00, 0.1), (50_00, 0.2), (20_00, 0.8), (10_00, 0.6), (5_00, 0.7), (1_00, 0.85), (25, 0.8), (10, 0.7), (5, 0.8), (1, 1)];
        foreach (var (worth, share) in likely)
        {
            var number = (int)(cash / worth * (worth == 1 ? 1 : share * (0.7 + (0.3 * _random.NextDouble()))));
            if (number > 0)
            {
                pieces[worth] = number;
                cash -= number * worth;
            }
        }

        return pieces;
    }

    private (string Rows, string Totals) Batches(int first)
    {
        var rows = new StringBuilder("terminal,batch,seq,at,type,amount,tip,cashback,brand,card,auth,rrn,entry,benefit\n");
        var totals = new StringBuilder("terminal,batch,closed,sales_count,sales_amount,refunds_count,refunds_amount\n");
        foreach (var settled in _rows.GroupBy(r => (r.Terminal, IsEarly: IsSettledEarly(r)))
            .OrderBy(g => g.Key.Terminal, StringComparer.Ordinal).ThenBy(g => !g.Key.IsEarly))
        {
            var (terminal, batch) = (settled.Key.Terminal, first++);
            var sequence = 0;
            foreach (var r in settled.OrderBy(r => r.At).ThenBy(r => r.Auth, StringComparer.Ordinal))
            {
                r.Key = $"{r.Terminal}/{batch}/{sequence + 1}";
                rows.Append(CultureInfo.InvariantCulture,
                    $"{r.Terminal},{batch},{++sequence},{Write.Time(r.At)},{(r.Refund ? "refund" : "sale")},{Write.Amount(r.Amount)},0.00,"
                        + $"{Write.Amount(r.Cashback)},{r.Brand},{r.Card},{r.Auth},{r.Rrn},{r.Entry},{r.Benefit}\n");
            }

            var closed = _cutoffs.TryGetValue(terminal, out var cutoff) ? cutoff : At(settled.Key.IsEarly ? AutomaticHour : 21.5);
            var (sales, refunds) = (settled.Where(r => !r.Refund).ToList(), settled.Where(r => r.Refund).ToList());
            totals.Append(CultureInfo.InvariantCulture,
                $"{terminal},{batch},{Write.Time(closed)},{sales.Count},{Write.Amount(sales.Sum(r => r.Amount))},{refunds.Count},"
                    + $"{Write.Amount(refunds.Sum(r => r.Amount))}\n");
        }

        return (rows.ToString(), totals.ToString());
    }

    /// <summary>In the demo one terminal settles by itself in the afternoon; its evening is in a second batch.</summary>
    private bool IsSettledEarly(Row row) => _isDemo && row.Terminal == AutomaticTerminal && row.At < At(AutomaticHour);

    private string DayJson() => Write.Json(new JsonObject
    {
        ["fondo"] = 1,
        ["store"] = Scene.Store,
        ["tradingDay"] = _date.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture),
        ["currency"] = "USD",
        ["timeZone"] = Scene.TimeZone,
        ["dayEndsAt"] = "04:00",
        ["registers"] = new JsonArray([.. _registers.Select(r => new JsonObject
        {
            ["id"] = r.Id,
            ["name"] = r.Name,
            ["kind"] = r.Kind,
            ["float"] = Write.Amount(r.Float),
            ["dropAbove"] = r.Kind == "online" ? null : Write.Amount(r.Float + 400_00)
        })]),
        ["terminals"] = new JsonArray([.. _registers.Select(Place)]),
        ["people"] = new JsonArray([.. Scene.People.Select(p => new JsonObject { ["id"] = p.Id, ["name"] = p.Name, ["role"] = p.Role })]),
        ["tenders"] = new JsonArray(),
        ["processors"] = _isDemo ? Scene.Processors() : null,
        ["cardFees"] = _isDemo ? Scene.CardFees() : null,
        ["policy"] = new JsonObject
        {
            ["cashTolerance"] = "2.00",
            ["approvalAbove"] = "20.00",
            ["priceProgramme"] = _cardRate > 0
                ? new JsonObject { ["kind"] = "surcharge", ["rate"] = $"0.{_cardRate:000}", ["tenders"] = new JsonArray("credit") }
                : null,
            ["ebtTax"] = "taxable-first",
            ["cashRounding"] = "0.01",
            ["matchMinutes"] = 15,
            ["settledBy"] = _isDemo ? "22:30" : null,
            ["disputeHours"] = 48,
            ["safeFund"] = _isDemo ? "640.00" : null,
        },
    }) + "\n";

    private JsonObject Place(Scene.RegisterPlan register)
    {
        var place = new JsonObject { ["id"] = register.Terminal, ["register"] = register.Id, ["connected"] = register.Id != "BK" };
        if (_isDemo && register.Terminal == AutomaticTerminal)
        {
            place["settlesAt"] = $"{AutomaticHour:00}:00";
        }

        return place;
    }
}
