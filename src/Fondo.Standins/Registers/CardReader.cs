using System.Globalization;
using System.Security.Cryptography;
using System.Text.Json.Nodes;
using Fondo.Standins.Days;
using Fondo.Standins.Terminals;

namespace Fondo.Standins.Registers;

/// <summary>How the simulated card reader answers the next card.</summary>
public enum CardMood
{
    Approves,
    Declines,

    /// <summary>Approves, after a while.</summary>
    Waits,
    TimesOut,

    /// <summary>The customer takes the card out.</summary>
    Aborted,
}

/// <summary>What the reader answered.</summary>
/// <param name="Tender">The tender as the journal says it; null when the card was never read to the end.</param>
/// <param name="IsApproved">False for a decline, which the journal tells as well.</param>
public sealed record CardAnswer(JsonObject? Tender, bool IsApproved, string Says);

/// <summary>A simulated card reader: what it takes is what its terminal holds.</summary>
public sealed class CardReader(string terminal, TerminalHost host, TimeProvider clock)
{
    private static readonly TimeSpan _duplicateWithin = TimeSpan.FromMinutes(15);

    private readonly List<(string Card, long Amount, DateTimeOffset At)> _approved = [];

    public string Terminal => terminal;

    public CardMood Mood { get; set; }

    /// <summary>How many transactions its terminal holds, and what they come to.</summary>
    public (int Count, long Amount) Running => host.Running(terminal) is var running ? (running.Rows.Count, running.Totals.Net) : default;

    /// <param name="amount">All in, in minor units; negative for a refund.</param>
    /// <param name="again">The cashier says that the same card and amount are meant a second time.</param>
    public async Task<CardAnswer> Charge(string type, string brand, string card, long amount, long tip, long cashback, long fee, bool again)
    {
        var now = clock.GetUtcNow();
        switch (Mood)
        {
            case CardMood.TimesOut:
                return new(null, false, "The card reader timed out. Nothing was charged; try again, or take another tender.");
            case CardMood.Aborted:
                return new(null, false, "The customer took the card out. Nothing was charged.");
            case CardMood.Declines:
                return new(Slip(type, brand, card, amount, tip, cashback, fee, "declined"), false, "Declined.");
            case CardMood.Waits:
                await Task.Delay(TimeSpan.FromSeconds(3));
                break;
        }

        if (!again && _approved.Any(a => a.Card == card && a.Amount == amount && now - a.At < _duplicateWithin))
        {
            return new(null, false,
                "The reader refuses a duplicate: the same card and amount a short while ago. Charge it again only if that is meant.");
        }

        _approved.Add((card, amount, now));
        var slip = Slip(type, brand, card, amount, tip, cashback, fee, null);
        host.Take(terminal, new(now, amount < 0, Math.Abs(amount), tip, cashback, brand, card, (string?)slip["auth"], (string?)slip["rrn"],
            "chip", type switch { "ebt-food" => "food", "ebt-cash" => "cash", _ => null }));
        return new(slip, true, "Approved.");
    }

    /// <summary>Takes a charge back out of the running batch: a void, or a reversal.</summary>
    public void TakeBack(JsonObject tender) => host.TakeBack(terminal, (string?)tender["rrn"],
        (long)(decimal.Parse((string)tender["amount"]!, CultureInfo.InvariantCulture) * 100));

    private JsonObject Slip(string type, string brand, string card, long amount, long tip, long cashback, long fee, string? result)
    {
        var slip = new JsonObject { ["type"] = type, ["amount"] = Write.Amount(amount) };
        foreach (var (name, part) in new[] { ("tip", tip), ("cashback", cashback), ("fee", fee) }.Where(p => p.Item2 != 0))
        {
            slip[name] = Write.Amount(part);
        }

        slip["terminal"] = terminal;
        slip["brand"] = brand;
        slip["card"] = card;
        slip["auth"] = result == "declined"
            ? null
            : RandomNumberGenerator.GetInt32(1_000_000).ToString("000000", CultureInfo.InvariantCulture);
        slip["rrn"] = result == "declined"
            ? null
            : RandomNumberGenerator.GetString("0123456789", 6) + RandomNumberGenerator.GetString("ABCDEFGHJK", 6);
        slip["entry"] = "chip";
        if (result is not null)
        {
            slip["result"] = result;
        }

        return slip;
    }
}
