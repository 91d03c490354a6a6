using System.Globalization;

namespace Fondo.Rehearsal;

/// <summary>A line that the bank booked, and what it really was.</summary>
/// <param name="Reference">The bank's own reference; null where it writes none.</param>
/// <param name="Deposit">The deposit that it credits, or takes back; null for everything else.</param>
/// <param name="IsLast">Whether the bank credits, or the processor pays, no more of it.</param>
/// <param name="Pays">The processor that pays, and the trading day for which it does; null for everything else.</param>
public sealed record BankLine(string? Reference, DateOnly Booked, long Amount, string Text, int? Deposit = null, bool IsLast = true,
    (string Processor, DateOnly Day)? Pays = null)
{
    /// <summary>Two credits in one line, which its details tell apart.</summary>
    public IReadOnlyList<BankLine> Pieces { get; init; } = [];

    public bool IsReversal { get; init; }
}

/// <summary>A statement as the bank sends it.</summary>
public sealed record StatementFile(string Name, string Text);

/// <summary>The shop's bank: credits deposits, books what processors pay, charges, takes back, and writes statements in the shape that this
/// shop gets.</summary>
public sealed class HouseBank(ShopPlan plan)
{
    private readonly Random _random = new(plan.Seed * 31);
    private readonly List<BankLine> _waiting = [], _booked = [];
    private readonly long _begins = 1_000 * plan.Unit;
    private int _statements, _lines;
    private DateOnly? _to;

    /// <summary>What was stated and not looked at yet.</summary>
    public List<BankLine> Stated { get; } = [];

    public static DateOnly Later(DateOnly from, int days)
    {
        while (days > 0)
        {
            from = from.AddDays(1);
            days -= from.DayOfWeek is DayOfWeek.Saturday or DayOfWeek.Sunday ? 0 : 1;
        }

        return from;
    }

    public void Will(BankLine line) => _waiting.Add(line with { Reference = Reference() });

    /// <summary>Some banks write slashes into their references, some write none on some lines.</summary>
    private string? Reference()
    {
        var number = ++_lines;
        return plan.Shape == StatementShape.Ofx || _random.Next(5) > 0
            ? string.Create(CultureInfo.InvariantCulture, $"BK{(plan.Seed % 2 == 0 ? "/" : "")}{number:000000}")
            : null;
    }

    /// <summary>The statement of everything booked until a date, now and then with days that were stated before; null where there is none
    /// to send.</summary>
    public StatementFile? Statement(DateOnly until)
    {
        var first = _to?.AddDays(1) ?? plan.Begins;
        if (until < first)
        {
            return null;
        }

        foreach (var line in _waiting.Where(l => l.Booked <= until).OrderBy(l => l.Booked).ToList())
        {
            _waiting.Remove(line);
            // What was to be booked on a day without a statement is booked on the first one.
            var booked = line.Booked < first ? line with { Booked = first } : line;
            _booked.Add(booked);
            Stated.AddRange(booked.Pieces.Count == 0 ? [booked] : booked.Pieces.Select(p => p with { Booked = booked.Booked }));
        }

        _to = until;
        var from = _random.Next(5) == 0 && first.AddDays(-3) >= plan.Begins ? first.AddDays(-3) : first;
        var lines = _booked.Where(l => l.Booked >= from).OrderBy(l => l.Booked).ToList();
        var opening = _begins + _booked.Where(l => l.Booked < from).Sum(l => l.Amount);
        var writer =
            new StatementWriter(plan, string.Create(CultureInfo.InvariantCulture, $"ST-{++_statements:0000}"), from, until, opening, lines);
        return new(string.Create(CultureInfo.InvariantCulture, $"statement-{until:yyyy-MM-dd}{writer.Ending}"), writer.Write());
    }
}
