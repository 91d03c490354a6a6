using System.Globalization;
using Fondo.Core.Custody;
using Fondo.Core.Entries;
using Fondo.Core.SetUp;

namespace Fondo.Core.Banking;

/// <summary>Finds what the bank's lines are (rules §9): what a person decided, what is named and fits, what fits. The order in which things
/// come means nothing.</summary>
internal sealed class BankMatching
{
    /// <summary>A bank credits a deposit so many days after it was handed over at most, where nothing but its amount tells.</summary>
    private const int MostDays = 10;

    /// <summary>So many days of one processor may be paid in one sum: a long weekend.</summary>
    private const int MostTogether = 5;

    /// <summary>So many days lie at most between the two lines of a transfer.</summary>
    private const int TransferDays = 3;

    /// <summary>So many lines may together pay one day of a processor.</summary>
    private const int MostLines = 4;

    /// <summary>What a processor pays for a day differs from what is owed by so much at most; else the line pays a part, or is something
    /// else.</summary>
    private const decimal MostOff = 0.05m;

    private readonly Setup _setup;
    private readonly BankWork _work;
    private readonly List<BankLine> _lines;
    private readonly Dictionary<string, BankText> _texts;
    private readonly Dictionary<string, BankText> _names = new(StringComparer.Ordinal);
    private readonly List<BankLine> _parted = [];
    private readonly List<OpenDeposit> _deposits;
    private readonly List<Funding> _fundings;
    private readonly List<OwedFee> _fees;
    private readonly List<OpenOrder> _orders;
    private readonly List<OpenClaim> _claims;
    private readonly List<BankMatch> _matches = [];
    private readonly HashSet<BankTarget> _ended;

    public BankMatching(Setup setup, BankWork work)
    {
        (_setup, _work) = (setup, work);
        _lines = [.. work.Lines.OrderBy(l => l.Booked).ThenBy(l => l.Key, StringComparer.Ordinal)];
        _texts = _lines.ToDictionary(l => l.Key, l => BankText.Of(l.Text), StringComparer.Ordinal);
        _deposits = [.. work.Deposits.OrderBy(d => d.Deposit.Number)];
        _fundings = [.. work.Fundings.OrderBy(f => f.Day).ThenBy(f => f.Processor, StringComparer.Ordinal)];
        _fees = [.. work.Fees];
        _claims = [.. work.Claims.OrderBy(c => c.Day).ThenBy(c => c.Id)];
        _orders = [.. work.Orders.Where(o => o.ToPay.Sign > 0).OrderBy(o => o.Number)];
        _ended = [.. BankDecision.EndedBy(work.Decisions)];
    }

    /// <summary>What nothing was found for.</summary>
    public ImmutableArray<BankLine> Left => [.. _lines.Concat(_parted).OrderBy(l => l.Booked).ThenBy(l => l.Key, StringComparer.Ordinal)];

    public ImmutableArray<BankMatch> Find()
    {
        Decided();
        NamedDeposits();
        foreach (var processor in _setup.Processors)
        {
            // Where a line names its processor, its amount decides which days it pays for.
            PayExactly(processor, l => Names(l, processor.Reference) && (l.Amount.Sign > 0 || !Text(l).IsDispute));
            PayTogether(processor);
            Bill(processor);
        }

        DepositsByAmount();
        foreach (var processor in _setup.Processors)
        {
            PayExactly(processor, l => l.Amount.Sign > 0 && NamesNobody(l));
        }

        Claims();
        foreach (var processor in _setup.Processors)
        {
            PayOtherwise(processor);
        }

        Debits();
        Transfers();
        NothingMore();
        return [.. _matches];
    }

    /// <summary>What persons decided comes first. What they matched to something that is not open stays open.</summary>
    private void Decided()
    {
        var decided = _work.Decisions.Where(d => d.Line.Length > 0).GroupBy(d => d.Line, StringComparer.Ordinal).Select(g => g.Last())
            .Where(d => d.Kind != BankDecisionKind.Release).ToList();
        foreach (var decision in decided.Where(d => d.Kind == BankDecisionKind.Part))
        {
            _parted.AddRange(_lines.Where(l => l.Key == decision.Line));
            _lines.RemoveAll(l => l.Key == decision.Line);
        }

        // What was credited, taken back and credited again is open once more for whatever credits it.
        Reversed(decided.Select(d => d.Line).ToHashSet(StringComparer.Ordinal));
        foreach (var target in decided.Where(d => d.Target is not null).GroupBy(d => d.Target!.Value).OrderBy(g => g.Key.Kind)
            .ThenBy(g => g.Key.Key, StringComparer.Ordinal))
        {
            var keys = target.Select(d => d.Line).ToHashSet(StringComparer.Ordinal);
            var own = _lines.Where(l => keys.Contains(l.Key)).ToList();
            _lines.RemoveAll(own.Contains);
            if (own.Count > 0 && !Match(target.Key, own, target.Any(d => d.Kind == BankDecisionKind.Last)))
            {
                _parted.AddRange(own);
            }
        }
    }

    private bool Match(BankTarget target, List<BankLine> own, bool isLast)
    {
        var booked = own.Sum(l => l.Amount);
        if (_deposits.FirstOrDefault(d => BankTarget.Of(d.Deposit) == target) is { } open)
        {
            // A debit that takes the same credit back belongs to it, and then nothing is final.
            var back = _lines.Where(l => l.Amount.Sign < 0 && Names(l, open.Deposit) && own.Exists(o => o.Amount == -l.Amount)).ToList();
            _lines.RemoveAll(back.Contains);
            Credit(open, [.. own, .. back], isLast && back.Count == 0);
        }
        else if (_fundings.FirstOrDefault(f => BankTarget.Of(f) == target) is { } funding)
        {
            Pay(own, [funding], isPart: !isLast && booked.Sign > 0 && booked < funding.Expected && !IsNear(booked, funding.Expected));
        }
        else if (_orders.FirstOrDefault(o => BankTarget.Of(o) == target) is { } order)
        {
            _orders.Remove(order);
            _matches.Add(new BankMatch.Change(order, [.. own]));
        }
        else if (_claims.FirstOrDefault(c => BankTarget.Of(c) == target) is { } claim)
        {
            _claims.Remove(claim);
            _matches.Add(new BankMatch.Claimed(claim, [.. own]));
        }
        else if (booked.Sign < 0 && _work.Credited.FirstOrDefault(d => BankTarget.Of(d) == target) is { } credited)
        {
            _matches.Add(new BankMatch.Reversed(credited, [.. own]));
        }
        else
        {
            return false;
        }

        return true;
    }

    /// <summary>A credit that the bank takes back puts its deposit on its way again.</summary>
    /// <param name="decided">Lines that a person decided about.</param>
    private void Reversed(HashSet<string> decided)
    {
        var credited = _work.Credited.Where(d => !IsOpen(d)).ToList();
        foreach (var line in _lines.Where(l => l.Amount.Sign < 0 && !decided.Contains(l.Key)).ToList())
        {
            var named = credited.Where(d => Names(line, d)).ToList();
            var isByAmount = named.Count == 0 && line.IsReversal && NamesNobody(line);
            if ((named.Find(d => TakesBack(line, d))
                ?? (isByAmount ? credited.FindLast(d => -line.Amount == d.Amount) : null)) is { } deposit)
            {
                _lines.Remove(line);
                _matches.Add(new BankMatch.Reversed(deposit, [line]));
            }
        }

        _deposits.AddRange(_matches.OfType<BankMatch.Reversed>().GroupBy(m => m.Deposit.Number)
            .Select(g => new OpenDeposit(g.First().Deposit, g.First().Deposit.Amount + g.Sum(m => m.Booked))));

        bool IsOpen(Deposit deposit) => _deposits.Exists(o => o.Deposit.Number == deposit.Number);
        bool TakesBack(BankLine line, Deposit deposit) =>
            -line.Amount == deposit.Cash || -line.Amount == deposit.CheckAmount
                || (-line.Amount - deposit.Amount).Abs() <= Miscount(deposit);
    }

    /// <summary>Lines on which the bag or the deposit's number stands. A fee or a dispute that mentions one is a fee or a
    /// dispute.</summary>
    private void NamedDeposits()
    {
        foreach (var open in _deposits.ToList())
        {
            var named = _lines.Where(l => Names(l, open.Deposit)).ToList();
            var credits = named.Where(l => l.Amount.Sign > 0 && !Text(l).IsDispute && !(Text(l).IsFee && l.Amount != open.Outstanding))
                .ToList();
            // What is credited, taken back and credited again belongs together; so does the count that corrects a credit of the same
            // statement.
            var back = credits.Count == 0
                ? []
                : named.Where(l => l.Amount.Sign < 0
                    && (l.IsReversal || credits.Exists(c => c.Amount == -l.Amount)
                        || (!Text(l).IsFee && -l.Amount <= Miscount(open.Deposit)))).ToList();
            if (credits.Count > 0 && credits.Concat(back).Sum(l => l.Amount) is var booked
                && booked <= open.Outstanding + Miscount(open.Deposit))
            {
                _lines.RemoveAll(l => credits.Contains(l) || back.Contains(l));
                Credit(open, [.. credits, .. back]);
            }
        }
    }

    /// <summary>A sum within what a bank may miscount is the last of a deposit; a smaller one is a part of it, and the rest stays on its
    /// way.</summary>
    private void Credit(OpenDeposit open, List<BankLine> own, bool isLast = false)
    {
        var booked = own.Sum(l => l.Amount);
        var isHalf = open.Credited.IsZero && booked != open.Outstanding
            && (booked == open.Deposit.Cash || booked == open.Deposit.CheckAmount);
        var isPart = !isLast && !_ended.Contains(BankTarget.Of(open.Deposit))
            && (isHalf || booked < open.Outstanding - Miscount(open.Deposit));
        _matches.Add(isPart ? new BankMatch.DepositPart(open, [.. own]) : new BankMatch.WholeDeposit(open, [.. own]));
        _deposits.Remove(open);
    }

    /// <summary>By how much a bank's count may differ: three of the largest pieces, as long as these are no more than a quarter of it; a
    /// check; or a twentieth of the whole.</summary>
    private static Money Miscount(Deposit deposit)
    {
        var piece = deposit.Pieces.Select(p => p.Denomination.Minor * Math.Min(p.Number, 3)).DefaultIfEmpty().Max();
        var check = deposit.Checks.Select(c => c.Amount.Minor).DefaultIfEmpty().Max();
        return new(Math.Max(Math.Max(Math.Min(piece, deposit.Amount.Minor / 4), check), deposit.Amount.Minor / 20));
    }

    /// <summary>What is worth exactly a deposit that was handed over, or its rest, in the days after; the nearest in time first.</summary>
    private void DepositsByAmount()
    {
        var amounts = _deposits.SelectMany(o => new[] { o.Outstanding, o.Deposit.Cash, o.Deposit.CheckAmount }).ToHashSet();
        var pairs = from line in _lines
                    where line.Amount.Sign > 0 && amounts.Contains(line.Amount) && NamesNobody(line) && !Text(line).IsDispute
                        && !Text(line).IsFee
                    from open in _deposits
                    where open.Deposit.HandedOver is not null
                    let days = line.Booked.DayNumber - DateOf(open.Deposit.HandedOver!.At).DayNumber
                    where days is >= 0 and <= MostDays
                        && (line.Amount == open.Outstanding
                            || (open.Credited.IsZero && (line.Amount == open.Deposit.Cash || line.Amount == open.Deposit.CheckAmount)))
                    orderby line.Amount != open.Outstanding, days, open.Deposit.Number, line.Booked, line.Key
                    select (line, open);
        foreach (var (line, open) in pairs.ToList())
        {
            if (_lines.Contains(line) && _deposits.Contains(open))
            {
                _lines.Remove(line);
                Credit(open, [line]);
            }
        }
    }

    /// <summary>Lines that come to exactly what a processor owes for one day, or for days that follow each other.</summary>
    private void PayExactly(Processor processor, Func<BankLine, bool> isOf)
    {
        var sums = Runs(processor, DateOnly.MaxValue).Select(r => r.Sum(f => f.Expected)).ToHashSet();
        foreach (var line in _lines.Where(l => !l.Amount.IsZero && sums.Contains(l.Amount)).Where(isOf).ToList())
        {
            if (Runs(processor, line.Booked).Where(r => r.Sum(f => f.Expected) == line.Amount)
                .OrderBy(r => r.Count).ThenBy(r => Math.Abs(line.Booked.DayNumber - r[^1].Due.DayNumber)).ThenBy(r => r[0].Day)
                .FirstOrDefault() is { } found)
            {
                Pay([line], found, isPart: false);
            }
        }
    }

    private IEnumerable<List<Funding>> Runs(Processor processor, DateOnly until)
    {
        var own = _fundings.Where(f => f.Processor == processor.Id && f.Day.Date <= until).ToList();
        return from length in Enumerable.Range(1, MostTogether)
               from first in Enumerable.Range(0, Math.Max(0, own.Count - length + 1))
               select own.GetRange(first, length);
    }

    /// <summary>Several lines that name a processor and together come to exactly what it owes for one day.</summary>
    private void PayTogether(Processor processor)
    {
        foreach (var funding in _fundings.Where(f => f.Processor == processor.Id && f.Expected.Sign > 0).ToList())
        {
            var own = _lines.Where(l => l.Amount.Sign > 0 && l.Amount < funding.Expected && l.Booked >= funding.Day.Date
                && Names(l, processor.Reference) && !Text(l).IsDispute).Take(12).ToList();
            for (var size = 2; size <= Math.Min(MostLines, own.Count); size++)
            {
                if (Choose(own, size, funding.Expected) is { } found)
                {
                    Pay(found, [funding], isPart: false);
                    break;
                }
            }
        }
    }

    private static List<BankLine>? Choose(List<BankLine> from, int size, Money sum, int first = 0)
    {
        if (size == 0)
        {
            return sum.IsZero ? [] : null;
        }

        for (var i = first; i < from.Count; i++)
        {
            if (Choose(from, size - 1, sum - from[i].Amount, i + 1) is { } rest)
            {
                return [from[i], .. rest];
            }
        }

        return null;
    }

    /// <summary>A line that names its processor and comes to nothing that is owed is taken for the day that is due, or for a part of
    /// it.</summary>
    private void PayOtherwise(Processor processor)
    {
        foreach (var line in _lines.Where(l => l.Amount.Sign > 0 && Names(l, processor.Reference) && !Text(l).IsDispute).ToList())
        {
            var due = _fundings.Where(f => f.Processor == processor.Id && f.Day.Date <= line.Booked && f.Expected.Sign > 0)
                .OrderBy(f => !IsNear(line.Amount, f.Expected)).ThenBy(f => Math.Abs(line.Booked.DayNumber - f.Due.DayNumber))
                .ThenBy(f => (f.Expected - line.Amount).Abs()).ThenBy(f => f.Day).FirstOrDefault();
            if (due is not null && (IsNear(line.Amount, due.Expected) || (line.Amount < due.Expected && !Text(line).IsFee)))
            {
                Pay([line], [due], isPart: !IsNear(line.Amount, due.Expected));
            }
        }
    }

    private static bool IsNear(Money amount, Money expected) => (amount - expected).Abs() <= expected.Abs().Times(MostOff);

    private void Pay(List<BankLine> own, List<Funding> found, bool isPart)
    {
        _lines.RemoveAll(own.Contains);
        _fundings.RemoveAll(found.Contains);
        isPart &= !_ended.Contains(BankTarget.Of(found[0]));
        _matches.Add(isPart ? new BankMatch.FundingPart(found[0], [.. own]) : new BankMatch.Funded([.. found], [.. own]));
    }

    /// <summary>What is worth exactly an open claim: of a processor where the line names one, of any other where it names nobody; the
    /// earliest first.</summary>
    private void Claims()
    {
        foreach (var claim in _claims.Where(c => c.Awaits is null or AwaitedProof.BankLine).ToList())
        {
            if (_lines.Find(l => l.Amount == claim.Amount && !_work.Explained.Contains(l.Key) && !Text(l).IsFee
                && !(l.Amount.Sign < 0 && Text(l).IsDispute) && (NamesNobody(l) || IsOfProcessor(claim, l))) is { } line)
            {
                _lines.Remove(line);
                _claims.Remove(claim);
                _matches.Add(new BankMatch.Claimed(claim, [line]));
            }
        }

        bool IsOfProcessor(OpenClaim claim, BankLine line) =>
            claim.Party == ClaimParty.Processor && _setup.Processors.Any(p => Names(line, p.Reference));
    }

    /// <summary>What comes to exactly what is still to be paid for a change order, on its day or later.</summary>
    private void Debits()
    {
        foreach (var order in _orders.ToList())
        {
            if (_lines.FirstOrDefault(l => l.Amount == -order.ToPay && l.Booked >= order.Day.Date && NamesNobody(l)
                && !Text(l).IsDispute) is { } line)
            {
                _lines.Remove(line);
                _matches.Add(new BankMatch.Change(order, [line]));
            }
        }
    }

    /// <summary>What leaves one account of the store and comes to another within a few days.</summary>
    private void Transfers()
    {
        var credits = _lines.Where(l => l.Amount.Sign > 0 && NamesNobody(l)).ToLookup(l => l.Amount);
        var paired = new HashSet<string>(StringComparer.Ordinal);
        foreach (var from in _lines.Where(l => l.Amount.Sign < 0 && NamesNobody(l) && !Text(l).IsFee))
        {
            if (credits[-from.Amount].FirstOrDefault(l => !paired.Contains(l.Key) && l.Account != from.Account
                && Math.Abs(l.Booked.DayNumber - from.Booked.DayNumber) <= TransferDays) is { } to)
            {
                paired.Add(from.Key);
                paired.Add(to.Key);
                _matches.Add(new BankMatch.Transfer([from, to]));
            }
        }

        _lines.RemoveAll(l => paired.Contains(l.Key));
    }

    /// <summary>What a person waits for no longer: what is missing of it is a difference.</summary>
    private void NothingMore()
    {
        foreach (var open in _deposits.Where(d => _ended.Contains(BankTarget.Of(d.Deposit))).ToList())
        {
            Credit(open, []);
        }

        foreach (var funding in _fundings.Where(f => _ended.Contains(BankTarget.Of(f))).ToList())
        {
            Pay([], [funding], isPart: false);
        }
    }

    /// <summary>Fees that a processor bills: all that is owed, or, where the line says that it is a fee, some of it.</summary>
    private void Bill(Processor processor)
    {
        if (_fees.FirstOrDefault(f => f.Processor == processor.Id) is not { } owed)
        {
            return;
        }

        var bills = _lines.Where(l => l.Amount.Sign < 0 && Names(l, processor.Reference) && !Text(l).IsDispute).ToList();
        if ((bills.Find(l => l.Amount == -owed.Amount) ?? bills.Find(l => Text(l).IsFee && -l.Amount < owed.Amount)) is { } line)
        {
            _lines.Remove(line);
            _fees.Remove(owed);
            _matches.Add(new BankMatch.Fees(owed with { Amount = -line.Amount }, [line]));
        }
    }

    private BankText Text(BankLine line) => _texts[line.Key];

    private bool Names(BankLine line, string name) =>
        Text(line).Names(_names.TryGetValue(name, out var known) ? known : _names[name] = BankText.Of(name));

    private bool Names(BankLine line, Deposit deposit) =>
        Names(line, deposit.Bag) || Names(line, string.Create(CultureInfo.InvariantCulture, $"deposit {deposit.Number}"));

    private bool NamesNobody(BankLine line) =>
        !_setup.Processors.Any(p => Names(line, p.Reference)) && !_work.Deposits.Any(d => Names(line, d.Deposit.Bag));

    /// <summary>The date of a moment in the store's zone: an evening is not tomorrow.</summary>
    private DateOnly DateOf(DateTimeOffset at) => DateOnly.FromDateTime(TimeZoneInfo.ConvertTime(at, _setup.TimeZone).DateTime);
}
