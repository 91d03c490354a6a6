using System.Globalization;
using System.Text;
using System.Text.Json.Nodes;

namespace Fondo.Standins.Days;

/// <summary>Another mix of faults: what hands do to drawers. Whole notes, small even amounts, several ways to miscount, all of which look
/// alike from outside.</summary>
public sealed partial class DayMaker
{
    private static readonly long[] _wholeNotes = [5_00, 10_00, 20_00, 20_00, 20_00, 40_00, 50_00, 100_00];

    private bool _hands;

    /// <summary>A day on which mostly hands slip: drawers, notes and counts rather than cards.</summary>
    public static MadeDay MakeByHand(int seed, int registers, int tickets, int faults, bool overlap) =>
        new DayMaker(seed, Scene.Grown(registers, tickets), overlap) { _hands = true }.Play(seed, faults);

    private (string Kind, Func<bool> Plant)[] KindsOfHands() =>
    [
        ("other-drawer", () => IntoTheOtherDrawer(_wholeNotes[_random.Next(_wholeNotes.Length)])),
        ("other-drawer", () => IntoTheOtherDrawer(_random.Next(3, 16) * 1_00)),
        ("float-differs", OtherFloat),
        ("float-differs", OtherFloatDeclared),
        ("count-slip", SlipOfALine),
        ("count-slip", SlipOfALine),
        ("unvoided-ticket", NeverPaid),
        ("change-slip", WrongNote),
        ("drop-not-recorded", UnknownBag),
        ("drop-differs", OtherBag),
        ("tender-swap", RungAsCash),
        ("tender-swap", CheckRungAsCash),
        ("ticket-finding", ChangeOnACheck),
        ("ticket-finding", FeeNeverSettled),
        ("missing-from-batch", NeverSettled), ("not-in-journal", NeverRung), ("amount-keyed", Mistyped),
    ];

    /// <summary>The cashier declared another float than the standard one that was really there; nobody counted it.</summary>
    private bool OtherFloatDeclared()
    {
        var drawer = AnyDrawer();
        var at = _events.FindIndex(e => e.Line.AsSpan().IndexOf("\"kind\":\"open\""u8) >= 0
            && Encoding.UTF8.GetString(e.Line).Contains($"\"drawer\":\"{drawer}\"", StringComparison.Ordinal));
        if (at < 0 || !IsFree(drawer, "cash") || _declared.Contains(drawer))
        {
            return false;
        }

        _declared.Add(drawer);
        var register = RegisterOf(drawer);
        var off = new[] { 10_00, 20_00, 50_00, -10_00, -20_00, -50_00 }[_random.Next(6)];
        var open = JsonNode.Parse(_events[at].Line)!;
        open["amount"] = Write.Amount(register.Float + off);
        _events[at] = (_events[at].At, Encoding.UTF8.GetBytes(Write.Json(open) + "\n"));
        return Plant("float-differs", [(string)open["id"]!], (register.Id, drawer, "cash", -off));
    }

    private readonly HashSet<string> _declared = [];

    /// <summary>Change given on a check, which gives none: nobody expects it of the drawer.</summary>
    private bool ChangeOnACheck()
    {
        var drawer = AnyDrawer();
        var register = RegisterOf(drawer);
        if (!IsFree(drawer, "cash") || _tills[drawer].Cash < 60_00)
        {
            return false;
        }

        var session = register.Sessions.Single(s => s.Drawer == drawer);
        var (total, change) = ((long)_random.Next(12_00, 60_00), (long)_random.Next(3_00, 20_00));
        var e = Event(register, session, session.From + (_random.NextDouble() * (session.Until - session.From - 0.2)), "sale");
        var number = _random.Next(5000, 9999).ToString(CultureInfo.InvariantCulture);
        e["lines"] = new JsonArray(new JsonObject
        {
            ["sku"] = "M302",
            ["name"] = "Cheese, wedge",
            ["qty"] = "1",
            ["amount"] = Write.Amount(total),
            ["tax"] = "0.00",
            ["taxRate"] = "0.00",
            ["ebt"] = true
        });
        (e["subtotal"], e["tax"], e["total"]) = (Write.Amount(total), "0.00", Write.Amount(total));
        e["tenders"] = new JsonArray(new JsonObject
        {
            ["type"] = "check",
            ["amount"] = Write.Amount(total + change),
            ["change"] = Write.Amount(change),
            ["number"] = number,
            ["name"] = "R. Pell"
        });
        _tills[drawer].Checks.Add((number, total + change));
        _tills[drawer].Cash -= change;
        _tickets++;
        return Plant("ticket-finding", [(string)e["id"]!], (register.Id, drawer, "cash", -change));
    }

    /// <summary>A fee on a debit card, which bears none, recorded at the register and never charged.</summary>
    private bool FeeNeverSettled()
    {
        var drawer = AnyDrawer();
        var register = RegisterOf(drawer);
        if (!IsFree(register.Id, "debit"))
        {
            return false;
        }

        var session = register.Sessions.Single(s => s.Drawer == drawer);
        var hour = session.From + (_random.NextDouble() * (session.Until - session.From - 0.2));
        var (value, fee) = ((long)_random.Next(12_00, 90_00), (long)_random.Next(40, 2_80));
        var e = Event(register, session, hour, "sale");
        e["lines"] = new JsonArray(new JsonObject
        {
            ["sku"] = "M302",
            ["name"] = "Cheese, wedge",
            ["qty"] = "1",
            ["amount"] = Write.Amount(value),
            ["tax"] = "0.00",
            ["taxRate"] = "0.00",
            ["ebt"] = true
        });
        (e["subtotal"], e["tax"], e["fee"], e["total"]) = (Write.Amount(value), "0.00", Write.Amount(fee), Write.Amount(value + fee));
        var card = Card($"{e["id"]}#1", register, hour, "debit", value + fee, 0, "debit", "", out var row);
        card["fee"] = Write.Amount(fee);
        row.Amount = value;
        e["tenders"] = new JsonArray(card);
        _tickets++;
        return Plant("ticket-finding", [$"{e["id"]}#1", row], (register.Id, null, "debit", -fee));
    }

    /// <summary>Other ways to miscount than a whole row on the wrong line: a part of it, a roll or strap, the value for the pieces. Null
    /// where it does not fit the count.</summary>
    private (string Note, long Variance)? OtherSlip(JsonObject cash)
    {
        var rows = cash.Select(p => (Worth: (long)(decimal.Parse(p.Key, CultureInfo.InvariantCulture) * 100), Number: (int)p.Value!))
            .ToList();
        void Set(long worth, int number)
        {
            cash.Remove(Write.Amount(worth));
            if (number > 0)
            {
                cash[Write.Amount(worth)] = number;
            }
        }

        switch (_random.Next(3))
        {
            case 0 when rows.FirstOrDefault(r => r is { Worth: 1_00 or 5_00 or 10_00 or 20_00, Number: > 5 }) is { Number: > 0 } part:
                var (to, moved) = (part.Worth switch { 1_00 => 5_00, 5_00 => 10_00, 10_00 => 20_00, _ => 10_00 }, _random.Next(1, 4));
                Set(part.Worth, part.Number - moved);
                Set(to, rows.FirstOrDefault(r => r.Worth == to).Number + moved);
                return ($"{moved} of {Write.Amount(part.Worth)} entered as {Write.Amount(to)}", moved * (to - part.Worth));
            case 1:
                (long Worth, int Pack)[] packs = [(25, 40), (10, 50), (5, 40), (1, 50)];
                var fitting = packs.Where(p => p.Worth * p.Pack > 2_00 && rows.Any(r => r.Worth == p.Worth && r.Number >= p.Pack)).ToList();
                if (fitting.Count == 0)
                {
                    return null;
                }

                var (worth, pack) = fitting[_random.Next(fitting.Count)];
                var twice = _random.Next(2) == 0;
                Set(worth, rows.First(r => r.Worth == worth).Number + (twice ? pack : -pack));
                return ($"a roll of {Write.Amount(worth)} {(twice ? "counted twice" : "missed")}", (twice ? 1 : -1) * worth * pack);
            default:
                var coins = rows.Where(r => r.Worth < 1_00 && r.Worth * r.Number % 1_00 == 0 && r.Number * (1_00 - r.Worth) > 2_00)
                    .ToList();
                if (coins.Count == 0)
                {
                    return null;
                }

                var coin = coins[_random.Next(coins.Count)];
                var value = (int)(coin.Worth * coin.Number / 1_00);
                Set(coin.Worth, value);
                return ($"the value of {Write.Amount(coin.Worth)} entered as its pieces", (value - coin.Number) * coin.Worth);
        }
    }
}
