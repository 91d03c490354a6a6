using Fondo.Core.Cells;
using Fondo.Core.Days;
using Fondo.Core.Entries;
using Fondo.Core.Journal;
using Fondo.Core.Proof;
using Fondo.Core.Sheets;

namespace Fondo.Core.Custody;

/// <summary>Works the custody of a day out: what moved the loose cash of the safe, line by line, and what every place should
/// hold.</summary>
internal sealed class CustodyWork
{
    private readonly FloatsBefore _floats;
    private readonly IReadOnlyCollection<Entry> _entries;
    private readonly CustodyStart _start;
    private readonly CustodyActs _acts;
    private readonly Day _day;
    private readonly SetUp.Setup _setup;

    /// <summary>The entries that hold.</summary>
    private readonly IReadOnlyList<Entry> _standing;

    /// <summary>The closing count that stands for each drawer.</summary>
    private readonly IReadOnlyDictionary<DrawerId, Count> _counts;

    /// <summary>By register and time.</summary>
    private readonly IReadOnlyList<DrawerSession> _sessions;

    private readonly List<SafeLine> _lines = [];
    private readonly List<Cell> _cells = [];
    private readonly List<HeldBag> _bags = [];

    /// <summary>What stays in each counted drawer as the float of the next session.</summary>
    private readonly Dictionary<DrawerId, Money> _left = [];

    public CustodyWork(Overview overview, FloatsBefore floats, IReadOnlyCollection<Entry> entries, CustodyStart start, CustodyActs acts)
    {
        (_floats, _entries, _start, _acts) = (floats, entries, start, acts);
        (_day, _setup) = (overview.Result.Day, overview.Result.Day.Setup);
        _standing = [.. entries.Where(e => e.Holds)];
        _counts = CellSums.ClosingCounts(_day);
        _sessions = [.. overview.Sessions.Where(s => _setup.Find(s.Register) is not null).OrderBy(s => s.From)
            .ThenBy(s => s.Drawer.Value, StringComparer.Ordinal)];
    }

    public CustodyDay Day()
    {
        var drops = OfEntries();
        OfBags(drops);
        _lines.AddRange(drops.Select(d => new SafeLine(SafeLineKind.Entry, -d.Amount, d.Entry.Id.ToString(), null, d.Entry.By)));
        OfJournal();
        OfFloats();
        OfDrawers();
        OfActs();
        return Ended();
    }

    /// <summary>What an entry says of a drawer's cash lies elsewhere than it was counted: in a bag, or in the safe.</summary>
    /// <returns>Drops that entries record without their bag.</returns>
    private List<(Entry Entry, Money Amount)> OfEntries()
    {
        var drops = new List<(Entry Entry, Money Amount)>();
        foreach (var (entry, amount) in OnDrawers())
        {
            if (entry.Detail is EntryDetail.Moved { What: MovementKind.Drop, Bag: null })
            {
                drops.Add((entry, amount));
            }
            else if (entry.Kind == EntryKind.Recount || entry.Detail is EntryDetail.Moved { What: MovementKind.Loan })
            {
                _lines.Add(new(SafeLineKind.Entry, -amount, entry.Id.ToString(), null, entry.By));
            }
        }

        return drops;
    }

    /// <summary>Every bag, also those that only an entry names. A counted one lies with the rest from then on.</summary>
    private void OfBags(List<(Entry Entry, Money Amount)> drops)
    {
        var moved = OnDrawers().Where(m => m.Entry.Detail is EntryDetail.Moved { What: MovementKind.Drop, Bag: not null })
            .ToLookup(m => ((EntryDetail.Moved)m.Entry.Detail!).Bag!, m => m.Amount);
        var before = _start.Bags.ToDictionary(b => b.Name);
        var today = Bag.In(_day).ToDictionary(b => b.Name);
        foreach (var name in before.Keys.Union(today.Keys).Union(moved.Select(m => m.Key)).Order(StringComparer.Ordinal))
        {
            var bag = today.GetValueOrDefault(name) ?? new(name, [], []);
            var held = before.GetValueOrDefault(name);
            var expected = (bag.Recorded ?? Money.Zero) + (held?.Amount ?? Money.Zero) - moved[name].Sum(m => m);
            // A drop that an entry records without its bag is that of the bag which it makes right.
            if (bag.Counted is { } holds && drops.FindIndex(d => d.Amount == expected - holds) is >= 0 and var at && expected != holds)
            {
                expected -= drops[at].Amount;
                drops.RemoveAt(at);
            }

            var key = new CellKey.Bag(name);
            _cells.Add(CellOf(key, expected, bag.Counted, Money.Zero) with { ExpectedCount = bag.Drops.Length + (held is null ? 0 : 1) });
            if (bag.Counted is { } counted)
            {
                // A wrong count of it is put right by what an entry says.
                _lines.Add(new(SafeLineKind.Bag, counted - Recounts(key), name, bag.Counts[0].At, bag.Counts[^1].By));
            }
            else
            {
                _bags.Add(new(name, held?.Day ?? _setup.TradingDay, expected));
            }
        }
    }

    /// <summary>Loans, and drops without a bag.</summary>
    private void OfJournal()
    {
        foreach (var movement in _day.Journal.OfType<CashMovement>()
            .Where(m => m.Kind == EventKind.Loan || m is { Kind: EventKind.Drop, Bag: null }))
        {
            _lines.Add(new(movement.Kind == EventKind.Loan ? SafeLineKind.Loan : SafeLineKind.Bag, -movement.Effect, movement.Id.Value,
                movement.At, movement.Head.Cashier));
        }
    }

    /// <summary>The float of each session: left by an earlier one, or out of the safe.</summary>
    private void OfFloats()
    {
        var taken = new HashSet<(RegisterId, DateTimeOffset?)>();
        var opens = _day.Journal.OfType<SessionOpen>().Where(o => o.Drawer is not null).ToLookup(o => (o.Register, o.Drawer!.Value));
        var issued = Issued();
        foreach (var session in _sessions)
        {
            if (opens[(session.Register, session.Drawer)].MinBy(o => (o.At, o.Id)) is not { } open)
            {
                continue;
            }

            var expected = _floats.Expected(_setup.Find(session.Register)!, open.At);
            var brought = issued[session.Drawer].Sum(m => m.Amount);
            var isLeft = expected.LeftBy is not null && taken.Add((session.Register, expected.LeftAt));
            if (!isLeft && brought.IsZero)
            {
                // Nobody left a float for it: it went out of the safe (rules §9).
                _lines.Add(new(SafeLineKind.Float, -open.Float, session.Drawer.Value, open.At, open.Head.Cashier));
                continue;
            }

            _cells.Add(CellOf(new CellKey.Float(session.Register, session.Drawer), (isLeft ? expected.Amount : Money.Zero) + brought,
                open.Float, Money.Zero) with
            { ExpectedCount = 1 });
            if (isLeft && expected.Drawer is { } from && _sessions.Any(s => s.Drawer == from))
            {
                _left[from] = expected.Amount;
            }
        }
    }

    /// <summary>Counted drawers: their cash comes into the safe, less the float that stays for the next session.</summary>
    private void OfDrawers()
    {
        foreach (var last in _sessions.Where(s => _counts.ContainsKey(s.Drawer)).GroupBy(s => s.Register)
            .Select(g => g.MaxBy(s => (s.From, s.Drawer.Value))!))
        {
            _left.TryAdd(last.Drawer, _floats.LeftIn(_setup.Find(last.Register)!, last.Drawer));
        }

        foreach (var session in _sessions.Where(s => _counts.ContainsKey(s.Drawer)))
        {
            var count = _counts[session.Drawer];
            var first = _day.Counts.Where(c => c.Kind == CountKind.Closing && c.Drawer == session.Drawer)
                .MinBy(c => (c.At.UtcTicks, c.Attempt))!;
            _lines.Add(new(SafeLineKind.Drawer, count.Cash, session.Drawer.Value, first.At, count.By));
            if (_left.TryGetValue(session.Drawer, out var stays))
            {
                _lines.Add(new(SafeLineKind.Float, -stays, session.Drawer.Value, first.At, count.By));
            }
        }
    }

    /// <summary>What people moved at the safe, and deposits.</summary>
    private void OfActs()
    {
        _lines.AddRange(_acts.Movements.Where(m => m.Kind != SafeMovementKind.OrderClosed)
            .Select(m => new SafeLine(m.Kind == SafeMovementKind.Opening ? SafeLineKind.Opening : SafeLineKind.Movement, m.Effect,
                m.Id.ToString(), m.Kind == SafeMovementKind.Opening ? null : m.At, m.By)));
        _lines.AddRange(_acts.Deposits.Where(d => d.Day == _setup.TradingDay)
            .Select(d => new SafeLine(SafeLineKind.Deposit, -d.Cash, d.Name, d.At, d.By)));
        _lines.AddRange(_acts.Deposits.Where(d => d.Unsealed?.Day == _setup.TradingDay)
            .Select(d => new SafeLine(SafeLineKind.Unsealed, d.Cash, d.Name, d.Unsealed!.At, d.Unsealed.By)));
    }

    /// <summary>The safe against its count, and what the next day begins with.</summary>
    private CustodyDay Ended()
    {
        var known = _start.Loose ?? (_acts.Movements.Any(m => m.Kind == SafeMovementKind.Opening) ? _start.Moved : null);
        var count = _day.Counts.Where(c => c.Kind == CountKind.Safe).MaxBy(c => (c.Attempt, c.At.UtcTicks, c.Id));
        bool IsLater(SafeLine line) => count is not null && line.At > count.At;
        var (later, until) = (_lines.Where(IsLater).ToList(), _lines.Where(l => !IsLater(l)).Sum(l => l.Amount));
        var expected = known + until;
        if (expected is { } should)
        {
            _cells.Add(CellOf(new CellKey.Safe(), should, count?.Cash, _setup.ToleranceOf(TenderId.Cash)));
        }

        var counted = count?.Cash - Recounts(new CellKey.Safe());
        var loose = counted is { } lies ? lies + later.Sum(l => l.Amount) : expected;
        var end = new CustodyStart(loose, [.. _bags.OrderBy(b => b.Day).ThenBy(b => b.Name, StringComparer.Ordinal)], Checks())
        {
            Pieces = _day.Counts.Any(c => c.Kind == CountKind.Kept && c.At > count?.At) ? [] : PiecesAtEnd(count, later, _acts),
            Moved = loose is null ? _start.Moved + until : Money.Zero
        };
        return new(
            _start,
            [.. _lines.OrderBy(l => l.At ?? DateTimeOffset.MinValue).ThenBy(l => l.Kind).ThenBy(l => l.Source, StringComparer.Ordinal)],
            expected, count, [.. _cells.OrderBy(c => c.Key)], end,
            [.. _setup.Registers.Where(r => r.Kind != SetUp.RegisterKind.Online).Select(FloatAt).OfType<FloatLeft>()],
            known is null && counted is { } found ? found - _start.Moved - until : Money.Zero);
    }

    /// <summary>What lies in a register's drawer for its next session; null while the drawer is out, or where nobody ever left
    /// anything.</summary>
    private FloatLeft? FloatAt(SetUp.Register register)
    {
        var own = _sessions.Where(s => s.Register == register.Id).ToList();
        if (own.Count == 0)
        {
            return _floats.Expected(register, DateTimeOffset.MaxValue) is { LeftBy: not null } still
                ? new(register.Id, still.Amount)
                : null;
        }

        return own.Any(s => !_counts.ContainsKey(s.Drawer))
            ? null
            : new(register.Id, _left[own.MaxBy(s => (s.From, s.Drawer.Value))!.Drawer]);
    }

    /// <summary>What the entries that hold say of drawers' cash.</summary>
    private IEnumerable<(Entry Entry, Money Amount)> OnDrawers() => _standing.SelectMany(e =>
        e.Postings.Where(p => p.Cell.OfTender == TenderId.Cash && p.Cell.Drawer is not null).Select(p => (Meant(e), p.Amount)));

    /// <summary>Taking an entry back goes the way of the entry that it takes back.</summary>
    private Entry Meant(Entry entry) =>
        entry.Kind == EntryKind.Reverse ? _entries.FirstOrDefault(e => e.Id == entry.Reverses) ?? entry : entry;

    private Money Recounts(CellKey key) => _standing.Where(e => Meant(e).Kind == EntryKind.Recount).Sum(e => e.On(key));

    /// <summary>What entries say of a drawer's checks, against its count.</summary>
    private Money CountedOtherwise(DrawerId drawer) => -_standing.Where(e => Meant(e).Kind == EntryKind.Recount).SelectMany(e => e.Postings)
        .Where(p => p.Cell.Drawer == drawer && p.Cell.OfTender == TenderId.Check).Sum(p => p.Amount);

    /// <summary>Floats that went out of the safe, by the drawer session that began with them: the one of their register that began nearest
    /// in time.</summary>
    private ILookup<DrawerId, SafeMovement> Issued() =>
        _acts.Movements.Where(m => m is { Kind: SafeMovementKind.FloatIssued, Register: not null })
            .Select(m => (Movement: m, Session: _sessions.Where(s => s.Register == m.Register).MinBy(s => (s.From - m.At).Duration())))
            .Where(m => m.Session is not null).ToLookup(m => m.Session!.Drawer, m => m.Movement);

    /// <summary>The checks in the safe at the end: those that were there, those that were counted today, less those in deposits that
    /// stand.</summary>
    private ImmutableArray<HeldCheck> Checks()
    {
        var (today, closing) = (_setup.TradingDay, _counts.Values.Where(c => c.Drawer is not null).ToList());
        var counted = closing.SelectMany(c => c.Checks.GroupBy(k => (k.Number, k.Amount))
            .SelectMany(g => g.Select((k, i) => new HeldCheck(today, c.Drawer!.Value, k.Number, k.Amount, i + 1))));
        var otherwise = closing.Select(c => c.Drawer!.Value).Distinct()
            .Select(d => new HeldCheck(today, d, "counted otherwise", CountedOtherwise(d), 1)).Where(c => !c.Amount.IsZero);
        var gone = _acts.Deposits.Where(d => d.IsSealedBy(today)).SelectMany(d => d.Checks).Select(c => c.Key)
            .ToHashSet(StringComparer.Ordinal);
        var back = _acts.Deposits.Where(d => d.Unsealed?.Day == today && d.Day != today).SelectMany(d => d.Checks);
        return [.. _start.Checks.Concat(counted).Concat(otherwise).Concat(back).DistinctBy(c => c.Key).Where(c => !gone.Contains(c.Key))
            .OrderBy(c => c.Day).ThenBy(c => c.Key, StringComparer.Ordinal)];
    }

    /// <summary>The loose cash piece by piece, as far as everything after the count is known piece by piece: deposits are.</summary>
    private static ImmutableArray<Pieces> PiecesAtEnd(Count? count, List<SafeLine> later, CustodyActs acts)
    {
        if (count is null || later.Any(l => l.Kind is not (SafeLineKind.Deposit or SafeLineKind.Unsealed)))
        {
            return [];
        }

        var pieces = count.Pieces.GroupBy(p => p.Denomination).ToDictionary(g => g.Key, g => g.Sum(p => p.Number));
        foreach (var line in later)
        {
            foreach (var piece in acts.Deposits.First(d => d.Name == line.Source).Pieces)
            {
                pieces[piece.Denomination] =
                    pieces.GetValueOrDefault(piece.Denomination) + (line.Kind == SafeLineKind.Deposit ? -piece.Number : piece.Number);
            }
        }

        return pieces.Values.Any(n => n < 0)
            ? []
            : [.. pieces.Where(p => p.Value > 0).OrderByDescending(p => p.Key).Select(p => new Pieces(p.Key, p.Value))];
    }

    private static Cell CellOf(CellKey key, Money expected, Money? proof, Money tolerance) =>
        new(key, expected, 0, proof, null,
            proof is not { } known ? CellState.Waiting : (known - expected).Abs() <= tolerance ? CellState.Proved : CellState.Off);
}
