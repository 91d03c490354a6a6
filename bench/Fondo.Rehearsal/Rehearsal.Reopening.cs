using System.Globalization;
using System.Text.Json.Nodes;

namespace Fondo.Rehearsal;

/// <summary>A slip turns up days later: the day that it belongs to is opened again, put right and closed anew, with closed days behind
/// it.</summary>
public sealed partial class Rehearsal
{
    /// <summary>A paid-out of a closed day that nobody rang: its drawer was short by it, and that was accepted.</summary>
    private sealed record Forgotten(DateOnly Date, string Register, string Drawer, long Amount);

    private readonly List<Forgotten> _forgotten = [];

    /// <summary>Money went out of a drawer against a slip that nobody enters until later.</summary>
    private void Forget(DateOnly date, Session session)
    {
        var amount = _random.Next(21, 30) * plan.Unit;
        if (!plan.IsWired || !Chance(0.06) || _real.Drawers[session.Drawer] <= amount)
        {
            return;
        }

        _real.Drawers[session.Drawer] -= amount;
        _forgotten.Add(new(date, session.Register.Id, session.Drawer, amount));
    }

    /// <summary>Opens the day again when two more are closed behind it, and nothing is open.</summary>
    private async Task FindSlips()
    {
        if (_open.Count > 0 || _forgotten.FirstOrDefault(f => _closes.Keys.Any(d => d > f.Date)
            && _closes.ContainsKey(f.Date)) is not { } slip)
        {
            return;
        }

        _forgotten.Remove(slip);
        await SignIn();
        var close = Path(slip.Date, "close");
        if (Refused(slip.Date, await _odile.Post($"{close}?handler=Reopen",
            [("manager", "p02"), ("pin", "741026"), ("reason", "a slip was found")], close), "opening the day again"))
        {
            return;
        }

        // The slip is rung after all; the entry that accepted the difference is taken back, or what it leaves is explained anew.
        var register = plan.Registers.First(r => r.Id == slip.Register);
        var at = Closed(slip)?.AddMinutes(-10) ?? plan.At(slip.Date, 13);
        await _odile.Journal(slip.Register, _keys[slip.Register],
            $"{{\"id\":\"{_till.NextId(register)}\",\"register\":\"{slip.Register}\",\"drawer\":\""
                + $"{slip.Drawer}\",\"cashier\":\"p11\",\"at\":\"{ShopPlan.Text(at)}\",\"kind\":\"paid-out\",\"amount\":\""
                + $"{plan.Text(slip.Amount)}\",\"reason\":\"glazier\"}}");
        _real.Cell(slip.Date, slip.Register, slip.Drawer, "cash").Expected -= slip.Amount;
        await TakeBack(slip);
        if (!await CloseDay(slip.Date))
        {
            return;
        }

        var doc = JsonNode.Parse(await _odile.Text(Path(slip.Date, "close/document?handler=File&kind=json")))!;
        CompareCells(slip.Date, doc);
        Same(slip.Date, "the revision of the document", (int)_closes[slip.Date]["Revision"]! + 1, (int)doc["Revision"]!);
        _closes[slip.Date] = doc;
        // From now on the paid-out is an expense; it is posted in the next day that closes.
        _real.PaidOut += slip.Amount;
    }

    /// <summary>When the drawer was closed at its register.</summary>
    private DateTimeOffset? Closed(Forgotten slip) =>
        _closes[slip.Date]["Sessions"]!.AsArray().Where(s => (string)s!["Drawer"]! == slip.Drawer)
            .Select(s => s!["Until"] is { } until
                ? DateTimeOffset.Parse((string)until!, CultureInfo.InvariantCulture)
                : (DateTimeOffset?)null).FirstOrDefault();

    private async Task TakeBack(Forgotten slip)
    {
        var cell = Path(slip.Date, $"cell/{slip.Register}/{slip.Drawer}/cash");
        for (var entries = 0; entries < 5; entries++)
        {
            var page = await _odile.Page(cell);
            if (page.QuerySelectorAll("form")
                .FirstOrDefault(f =>
                    f.GetAttribute("action")?.Contains("handler=Reverse", StringComparison.Ordinal) == true) is not { } form)
            {
                return;
            }

            Refused(slip.Date, await _odile.Post($"{cell}?handler=Reverse",
                [.. Browser.Fields(form).Where(f => f.Name != "reason"), ("reason", "a slip was found")], cell), "taking an entry back");
            await Sign(slip.Date);
        }
    }
}
