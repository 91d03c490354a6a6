using Fondo.Core.Custody;
using Fondo.Core.SetUp;

namespace Fondo.Core.Banking;

/// <summary>Finds what the bank's lines are: deposits and parts of them, what processors pay, what they bill. In the order: what is named and fits, what is named, what fits.
/// The order in which things come means nothing.</summary>
/// <param name="deposits">Those on their way.</param>
/// <param name="fundings">What processors owe.</param>
/// <param name="orders">Change that is not paid yet.</param>
internal sealed class BankMatching(Setup setup, ImmutableArray<BankLine> lines, IReadOnlyList<OpenDeposit> deposits, IReadOnlyList<Funding> fundings, IReadOnlyList<OwedFee> fees, IReadOnlyList<OpenOrder> orders)
{
    /// <summary>A bank credits a deposit so many days after it was sealed at most, where nothing but its amount tells.</summary>
    private const int MostDays = 10;

    /// <summary>So many days of one processor may be paid in one sum: a long weekend.</summary>
    private const int MostTogether = 5;

    private readonly List<BankLine> _lines = [.. lines.OrderBy(l => l.Booked).ThenBy(l => l.Key, StringComparer.Ordinal)];
    private readonly List<OpenDeposit> _deposits = [.. deposits.OrderBy(d => d.Deposit.Number)];
    private readonly List<Funding> _fundings = [.. fundings.OrderBy(f => f.Day).ThenBy(f => f.Processor, StringComparer.Ordinal)];
    private readonly List<OwedFee> _fees = [.. fees];
    private readonly List<BankMatch> _matches = [];

    /// <summary>What nothing was found for.</summary>
    public ImmutableArray<BankLine> Left => [.. _lines];

    public ImmutableArray<BankMatch> Find()
    {
        NamedDeposits();
        foreach (var processor in setup.Processors)
        {
            // Where a line names its processor, its amount decides which days it pays for.
            PayExactly(processor, l => l.Names(processor.Reference));
            Bill(processor);
        }

        DepositsByAmount();
        foreach (var processor in setup.Processors)
        {
            PayExactly(processor, l => l.Amount.Sign > 0 && NamesNobody(l));
            PayOtherwise(processor);
        }

        Debits();

        return [.. _matches];
    }

    /// <summary>Lines on which the bag or the deposit's number stands.</summary>
    private void NamedDeposits()
    {
        foreach (var open in _deposits.ToList())
        {
            var own = _lines.Where(l => l.Names(open.Deposit.Bag) || l.Names(string.Create(System.Globalization.CultureInfo.InvariantCulture, $"deposit {open.Deposit.Number}"))).ToList();
            if (own.Count > 0)
            {
                Take(open, own);
            }
        }
    }

    private void Take(OpenDeposit open, List<BankLine> own)
    {
        var booked = own.Sum(l => l.Amount);
        _lines.RemoveAll(own.Contains);
        // Notes and coin may be credited before the checks, or the checks before.
        var isPart = booked != open.Outstanding && open.Credited.IsZero && (booked == open.Deposit.Cash || booked == open.Deposit.CheckAmount) && !booked.IsZero;
        _matches.Add(isPart ? new BankMatch.DepositPart(open, [.. own]) : new BankMatch.WholeDeposit(open, [.. own]));
        _deposits.Remove(open);
    }

    /// <summary>What is worth exactly a deposit, or its rest, in the days after it was sealed; the nearest in time first.</summary>
    private void DepositsByAmount()
    {
        var pairs = from line in _lines
                    where line.Amount.Sign > 0 && NamesNobody(line)
                    from open in _deposits
                    let days = line.Booked.DayNumber - DateOf(open.Deposit).DayNumber
                    where days is >= 0 and <= MostDays && (line.Amount == open.Outstanding || (open.Credited.IsZero && (line.Amount == open.Deposit.Cash || line.Amount == open.Deposit.CheckAmount)))
                    orderby line.Amount != open.Outstanding, days, open.Deposit.Number, line.Booked, line.Key
                    select (line, open);
        foreach (var (line, open) in pairs.ToList().Where(p => _lines.Contains(p.line) && _deposits.Contains(p.open)))
        {
            if (_lines.Contains(line) && _deposits.Contains(open))
            {
                Take(open, [line]);
            }
        }
    }

    /// <summary>Lines that come to exactly what a processor owes for one day, or for days that follow each other.</summary>
    private void PayExactly(Processor processor, Func<BankLine, bool> isOf)
    {
        foreach (var line in _lines.Where(isOf).Where(l => !l.Amount.IsZero).ToList())
        {
            var own = _fundings.Where(f => f.Processor == processor.Id && f.Day.Date <= line.Booked).ToList();
            var runs = from length in Enumerable.Range(1, MostTogether)
                       from first in Enumerable.Range(0, Math.Max(0, own.Count - length + 1))
                       let run = own.GetRange(first, length)
                       where run.Sum(f => f.Expected) == line.Amount
                       orderby length, Math.Abs(line.Booked.DayNumber - run[^1].Due.DayNumber), first
                       select run;
            if (runs.FirstOrDefault() is { } found)
            {
                Pay(line, found);
            }
        }
    }

    /// <summary>A line that names its processor and comes to nothing that is owed: it is taken for the day that is due, and the difference is shown.</summary>
    private void PayOtherwise(Processor processor)
    {
        foreach (var line in _lines.Where(l => l.Amount.Sign > 0 && l.Names(processor.Reference)).ToList())
        {
            if (_fundings.Where(f => f.Processor == processor.Id && f.Day.Date <= line.Booked && f.Expected.Sign > 0)
                .OrderBy(f => Math.Abs(line.Booked.DayNumber - f.Due.DayNumber)).ThenBy(f => (f.Expected - line.Amount).Abs()).ThenBy(f => f.Day).FirstOrDefault() is { } due)
            {
                Pay(line, [due]);
            }
        }
    }

    private void Pay(BankLine line, List<Funding> found)
    {
        _lines.Remove(line);
        _fundings.RemoveAll(found.Contains);
        _matches.Add(new BankMatch.Funded([.. found], [line]));
    }

    /// <summary>What comes to exactly what is still to be paid for a change order, on its day or later.</summary>
    private void Debits()
    {
        foreach (var order in orders.Where(o => o.ToPay.Sign > 0).OrderBy(o => o.Number))
        {
            if (_lines.FirstOrDefault(l => l.Amount == -order.ToPay && l.Booked >= order.Day.Date && NamesNobody(l)) is { } line)
            {
                _lines.Remove(line);
                _matches.Add(new BankMatch.Change(order, [line]));
            }
        }
    }

    private void Bill(Processor processor)
    {
        if (_fees.FirstOrDefault(f => f.Processor == processor.Id) is { } owed && _lines.FirstOrDefault(l => l.Names(processor.Reference) && l.Amount == -owed.Amount && l.Amount.Sign < 0) is { } line)
        {
            _lines.Remove(line);
            _fees.Remove(owed);
            _matches.Add(new BankMatch.Fees(owed, [line]));
        }
    }

    private bool NamesNobody(BankLine line) => !setup.Processors.Any(p => line.Names(p.Reference)) && !deposits.Any(d => line.Names(d.Deposit.Bag));

    /// <summary>When a deposit left: as far as the bank can know of it.</summary>
    private static DateOnly DateOf(Deposit deposit) => DateOnly.FromDateTime(deposit.At.DateTime);
}
