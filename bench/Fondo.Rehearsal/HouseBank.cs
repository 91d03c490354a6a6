using System.Globalization;
using System.Text;

namespace Fondo.Rehearsal;

/// <summary>A line that the bank booked, and what it really was.</summary>
/// <param name="Deposit">The deposit that it credits; null for everything else.</param>
/// <param name="IsLast">Whether the bank credits no more of that deposit.</param>
/// <param name="Pays">The processor that pays, and the trading day for which it does; null for everything else.</param>
public sealed record BankLine(string Key, DateOnly Booked, long Amount, string Text, int? Deposit = null, bool IsLast = true, (string Processor, DateOnly Day)? Pays = null);

/// <summary>The shop's bank: credits deposits, books what the processor pays, charges, and writes statements as CSV.</summary>
public sealed class HouseBank(ShopPlan plan)
{
    private readonly List<BankLine> _waiting = [];
    private long _balance = 1_000 * plan.Unit;
    private int _statements, _lines;
    private DateOnly? _to;

    public Dictionary<string, BankLine> Booked { get; } = [];

    public static DateOnly Later(DateOnly from, int days)
    {
        while (days > 0)
        {
            from = from.AddDays(1);
            days -= from.DayOfWeek is DayOfWeek.Saturday or DayOfWeek.Sunday ? 0 : 1;
        }

        return from;
    }

    public void Will(DateOnly on, long amount, string text, int? deposit = null, bool isLast = true, (string Processor, DateOnly Day)? pays = null) =>
        _waiting.Add(new(string.Create(CultureInfo.InvariantCulture, $"BK{++_lines:000000}"), on, amount, text, deposit, isLast, pays));

    /// <summary>The statement of everything booked until a date; null where there is none to send.</summary>
    public string? Statement(DateOnly until)
    {
        var from = _to?.AddDays(1) ?? plan.Begins;
        if (until < from)
        {
            return null;
        }

        var lines = _waiting.Where(l => l.Booked <= until).OrderBy(l => l.Booked).ToList();
        _waiting.RemoveAll(lines.Contains);
        _to = until;
        var (opening, closing) = (_balance, _balance + lines.Sum(l => l.Amount));
        _balance = closing;
        var id = string.Create(CultureInfo.InvariantCulture, $"ST-{++_statements:0000}");
        var text = new StringBuilder("statement,account,currency,from,to,opening,closing,booked,amount,reference,text,items\n");
        foreach (var line in lines)
        {
            // What was to be booked on a day without a statement is booked on the first one.
            var booked = line.Booked < from ? line with { Booked = from } : line;
            Booked[line.Key] = booked;
            text.Append(CultureInfo.InvariantCulture, $"{id},{ShopPlan.Account},{plan.Currency},{from:yyyy-MM-dd},{until:yyyy-MM-dd},{plan.Text(opening)},{plan.Text(closing)},{booked.Booked:yyyy-MM-dd},{plan.Text(booked.Amount)},{booked.Key},{booked.Text},\n");
        }

        if (lines.Count == 0)
        {
            text.Append(CultureInfo.InvariantCulture, $"{id},{ShopPlan.Account},{plan.Currency},{from:yyyy-MM-dd},{until:yyyy-MM-dd},{plan.Text(opening)},{plan.Text(closing)},,,,,\n");
        }

        return text.ToString();
    }
}
