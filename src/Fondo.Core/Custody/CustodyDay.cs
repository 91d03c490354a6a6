using Fondo.Core.Cells;
using Fondo.Core.Days;
using Fondo.Core.Entries;
using Fondo.Core.Journal;
using Fondo.Core.Proof;
using Fondo.Core.Sheets;

namespace Fondo.Core.Custody;

public enum SafeLineKind
{
    Opening,
    Bag,
    Drawer,
    Float,
    Loan,
    Movement,
    Deposit,
    Unsealed,
    Entry,
}

/// <summary>One thing that moved the loose cash in the safe.</summary>
/// <param name="Amount">Into the safe is positive.</param>
/// <param name="Source">The bag, drawer, event, deposit or entry.</param>
/// <param name="At">Null where it holds from the start of the day.</param>
public sealed record SafeLine(SafeLineKind Kind, Money Amount, string Source, DateTimeOffset? At, PersonId? By);

/// <summary>A float that waits in its drawer.</summary>
public sealed record FloatLeft(RegisterId Register, Money Amount);

/// <summary>The money of a store through one trading day outside of its drawers: safe, bags, floats, checks (rules §9).</summary>
/// <param name="Lines">What moved the loose cash, in time.</param>
/// <param name="Expected">What should lie loose in the safe at its count, else at the end; null while nothing is known of the days
/// before.</param>
/// <param name="Count">The count of the safe that stands.</param>
/// <param name="Cells">The safe, where something should be in it; every bag; every float that a session began with and somebody had
/// left.</param>
/// <param name="End">What the next day begins with.</param>
/// <param name="Floats">What lies in the drawers for the next session; a register whose drawer is out, or that nobody ever counted, has
/// none.</param>
/// <param name="FoundInSafe">On the first count of the safe: what it held before any float went out of it.</param>
public sealed record CustodyDay(
    CustodyStart Start, ImmutableArray<SafeLine> Lines, Money? Expected, Count? Count, ImmutableArray<Cell> Cells, CustodyStart End,
    ImmutableArray<FloatLeft> Floats, Money FoundInSafe)
{
    /// <summary>What a deposit leaves in the safe (rules §9): as the set-up says, else what it held before the day; and always what
    /// tomorrow's floats need besides what lies in the drawers.</summary>
    public Money Stays(SetUp.Setup setup)
    {
        var left = Floats.ToDictionary(f => f.Register, f => f.Amount);
        // On the first day the floats that lie in the drawers now went out of the opening amount.
        var began = Start.Loose ?? Lines.Where(l => l.Kind == SafeLineKind.Opening).Sum(l => l.Amount) - left.Values.Sum(m => m);
        var needed = setup.Registers.Where(r => r.Kind != SetUp.RegisterKind.Online).Select(r => r.Float - left.GetValueOrDefault(r.Id))
            .Where(m => m.Sign > 0).Sum(m => m);
        return new(Math.Max((setup.Policy.SafeFund ?? began).Minor, needed.Minor));
    }

    /// <summary>Whether it moved the safe after it was counted.</summary>
    public bool IsAfterCount(SafeLine line) => Count is not null && line.At > Count.At;

    public static CustodyDay Of(Overview overview, FloatsBefore floats, IReadOnlyCollection<Entry> entries, CustodyStart start,
        CustodyActs acts)
    {
        var (day, setup) = (overview.Result.Day, overview.Result.Day.Setup);
        var counts = CellSums.ClosingCounts(day);
        var standing = entries.Where(e => e.Holds).ToList();
        var (lines, cells, bags) = (new List<SafeLine>(), new List<Cell>(), new List<HeldBag>());

        var unnamed = new List<(Entry Entry, Money Amount)>();
        // What an entry says of a drawer's cash lies elsewhere than it was counted: in a bag, or in the safe.
        foreach (var (entry, posting) in standing.SelectMany(e =>
            e.Postings.Where(p => p.Cell.OfTender == TenderId.Cash && p.Cell.Drawer is not null).Select(p => (Meant(e), p))))
        {
            if (entry.Detail is EntryDetail.Moved { What: MovementKind.Drop, Bag: null })
            {
                unnamed.Add((entry, posting.Amount));
            }
            else if (entry.Kind == EntryKind.Recount || entry.Detail is EntryDetail.Moved { What: MovementKind.Loan })
            {
                lines.Add(new(SafeLineKind.Entry, -posting.Amount, entry.Id.ToString(), null, entry.By));
            }
        }

        var moved = standing.SelectMany(e => e.Postings.Where(p => p.Cell.OfTender == TenderId.Cash && p.Cell.Drawer is not null)
            .Select(p => (Entry: Meant(e), p.Amount)))
            .Where(m => m.Entry.Detail is EntryDetail.Moved { What: MovementKind.Drop, Bag: not null })
            .ToLookup(m => ((EntryDetail.Moved)m.Entry.Detail!).Bag!, m => m.Amount);
        var before = start.Bags.ToDictionary(b => b.Name);
        var today = Bag.In(day).ToDictionary(b => b.Name);
        foreach (var name in before.Keys.Union(today.Keys).Union(moved.Select(m => m.Key)).Order(StringComparer.Ordinal))
        {
            var bag = today.GetValueOrDefault(name) ?? new(name, [], []);
            var held = before.GetValueOrDefault(name);
            var expected = (bag.Recorded ?? Money.Zero) + (held?.Amount ?? Money.Zero) - moved[name].Sum(m => m);
            // A drop that an entry records without its bag is that of the bag which it makes right.
            if (bag.Counted is { } holds && unnamed.FindIndex(u => u.Amount == expected - holds) is >= 0 and var at && expected != holds)
            {
                expected -= unnamed[at].Amount;
                unnamed.RemoveAt(at);
            }

            var key = new CellKey.Bag(name);
            cells.Add(CellOf(key, expected, bag.Counted, Money.Zero) with { ExpectedCount = bag.Drops.Length + (held is null ? 0 : 1) });
            if (bag.Counted is { } counted)
            {
                // What was in it lies with the rest from then on; a wrong count of it is put right by what an entry says.
                lines.Add(new(SafeLineKind.Bag, counted - Recounts(key), name, bag.Counts[0].At, bag.Counts[^1].By));
            }
            else
            {
                bags.Add(new(name, held?.Day ?? setup.TradingDay, expected));
            }
        }

        lines.AddRange(unnamed.Select(u => new SafeLine(SafeLineKind.Entry, -u.Amount, u.Entry.Id.ToString(), null, u.Entry.By)));
        foreach (var movement in day.Journal.OfType<CashMovement>()
            .Where(m => m.Kind == EventKind.Loan || m is { Kind: EventKind.Drop, Bag: null }))
        {
            lines.Add(new(movement.Kind == EventKind.Loan ? SafeLineKind.Loan : SafeLineKind.Bag, -movement.Effect, movement.Id.Value,
                movement.At, movement.Head.Cashier));
        }

        var left = new Dictionary<DrawerId, Money>();
        var taken = new HashSet<(RegisterId, DateTimeOffset?)>();
        var sessions = overview.Sessions.Where(s => setup.Find(s.Register) is not null).OrderBy(s => s.From)
            .ThenBy(s => s.Drawer.Value, StringComparer.Ordinal).ToList();
        var opens = day.Journal.OfType<SessionOpen>().Where(o => o.Drawer is not null).ToLookup(o => (o.Register, o.Drawer!.Value));
        var issued = Issued(acts, sessions);
        foreach (var session in sessions)
        {
            if (opens[(session.Register, session.Drawer)].MinBy(o => (o.At, o.Id)) is not { } open)
            {
                continue;
            }

            var expected = floats.Expected(setup.Find(session.Register)!, open.At);
            var brought = issued[session.Drawer].Sum(m => m.Amount);
            var isLeft = expected.LeftBy is not null && taken.Add((session.Register, expected.LeftAt));
            if (isLeft || !brought.IsZero)
            {
                cells.Add(CellOf(new CellKey.Float(session.Register, session.Drawer), (isLeft ? expected.Amount : Money.Zero) + brought,
                    open.Float, Money.Zero) with
                { ExpectedCount = 1 });
                if (isLeft && expected.Drawer is { } from && sessions.Any(s => s.Drawer == from))
                {
                    left[from] = expected.Amount;
                }
            }
            else
            {
                // Nobody left a float for it: it went out of the safe (rules §9).
                lines.Add(new(SafeLineKind.Float, -open.Float, session.Drawer.Value, open.At, open.Head.Cashier));
            }
        }

        foreach (var last in sessions.Where(s => counts.ContainsKey(s.Drawer)).GroupBy(s => s.Register)
            .Select(g => g.MaxBy(s => (s.From, s.Drawer.Value))!))
        {
            left.TryAdd(last.Drawer, floats.LeftIn(setup.Find(last.Register)!, last.Drawer));
        }

        foreach (var session in sessions.Where(s => counts.ContainsKey(s.Drawer)))
        {
            var first = day.Counts.Where(c => c.Kind == CountKind.Closing && c.Drawer == session.Drawer)
                .MinBy(c => (c.At.UtcTicks, c.Attempt))!;
            lines.Add(new(SafeLineKind.Drawer, counts[session.Drawer].Cash, session.Drawer.Value, first.At, counts[session.Drawer].By));
            if (left.TryGetValue(session.Drawer, out var stays))
            {
                lines.Add(new(SafeLineKind.Float, -stays, session.Drawer.Value, first.At, counts[session.Drawer].By));
            }
        }

        lines.AddRange(acts.Movements.Where(m => m.Kind != SafeMovementKind.OrderClosed)
            .Select(m => new SafeLine(m.Kind == SafeMovementKind.Opening ? SafeLineKind.Opening : SafeLineKind.Movement, m.Effect,
                m.Id.ToString(), m.Kind == SafeMovementKind.Opening ? null : m.At, m.By)));
        lines.AddRange(acts.Deposits.Where(d => d.Day == setup.TradingDay)
            .Select(d => new SafeLine(SafeLineKind.Deposit, -d.Cash, d.Name, d.At, d.By)));
        lines.AddRange(acts.Deposits.Where(d => d.Unsealed?.Day == setup.TradingDay)
            .Select(d => new SafeLine(SafeLineKind.Unsealed, d.Cash, d.Name, d.Unsealed!.At, d.Unsealed.By)));

        var known = start.Loose ?? (acts.Movements.Any(m => m.Kind == SafeMovementKind.Opening) ? start.Moved : null);
        var count = day.Counts.Where(c => c.Kind == CountKind.Safe).MaxBy(c => (c.Attempt, c.At.UtcTicks, c.Id));
        bool IsLater(SafeLine line) => count is not null && line.At > count.At;
        var until = lines.Where(l => !IsLater(l)).Sum(l => l.Amount);
        var expectedThen = known + until;
        if (expectedThen is { } should)
        {
            cells.Add(CellOf(new CellKey.Safe(), should, count?.Cash, setup.ToleranceOf(TenderId.Cash)));
        }

        var later = lines.Where(IsLater).ToList();
        var after = later.Sum(l => l.Amount);
        var end = count is not null ? count.Cash - Recounts(new CellKey.Safe()) + after : expectedThen;
        return new(
            start, [.. lines.OrderBy(l => l.At ?? DateTimeOffset.MinValue).ThenBy(l => l.Kind)
                .ThenBy(l => l.Source, StringComparer.Ordinal)], expectedThen, count,
            [.. cells.OrderBy(c => c.Key)],
            new(end, [.. bags.OrderBy(b => b.Day).ThenBy(b => b.Name, StringComparer.Ordinal)],
                Checks(day, counts.Values, Otherwise, start, acts))
            {
                Pieces = day.Counts.Any(c => c.Kind == CountKind.Kept && c.At > count?.At) ? [] : PiecesAtEnd(count, later, acts),
                Moved = end is null ? start.Moved + until : Money.Zero
            },
            [
                .. setup.Registers.Where(r => r.Kind != SetUp.RegisterKind.Online)
                    .Select(r => (Register: r, Own: sessions.Where(s => s.Register == r.Id).ToList()))
                    .Select(r => r.Own.Count == 0 ? floats.Expected(r.Register, DateTimeOffset.MaxValue) is { LeftBy: not null } still
                        ? new FloatLeft(r.Register.Id, still.Amount)
                        : null
                        : r.Own.Any(s => !counts.ContainsKey(s.Drawer)) ? null
                        : new FloatLeft(r.Register.Id, left[r.Own.MaxBy(s => (s.From, s.Drawer.Value))!.Drawer])).OfType<FloatLeft>(),
            ],
            known is null && count is not null ? count.Cash - Recounts(new CellKey.Safe()) - start.Moved - until : Money.Zero);

        // Taking an entry back goes the way of the entry that it takes back.
        Entry Meant(Entry entry) => entry.Kind == EntryKind.Reverse ? entries.FirstOrDefault(e => e.Id == entry.Reverses) ?? entry : entry;
        Money Otherwise(DrawerId drawer) => -standing.Where(e => Meant(e).Kind == EntryKind.Recount).SelectMany(e => e.Postings)
            .Where(p => p.Cell.Drawer == drawer && p.Cell.OfTender == TenderId.Check).Sum(p => p.Amount);
        Money Recounts(CellKey key) => standing.Where(e => Meant(e).Kind == EntryKind.Recount).Sum(e => e.On(key));
    }

    /// <summary>Floats that went out of the safe, by the drawer session that began with them: the one of their register that began nearest
    /// in time.</summary>
    private static ILookup<DrawerId, SafeMovement> Issued(CustodyActs acts, IReadOnlyCollection<DrawerSession> sessions) =>
        acts.Movements.Where(m => m is { Kind: SafeMovementKind.FloatIssued, Register: not null })
            .Select(m => (Movement: m, Session: sessions.Where(s => s.Register == m.Register).MinBy(s => (s.From - m.At).Duration())))
            .Where(m => m.Session is not null).ToLookup(m => m.Session!.Drawer, m => m.Movement);

    /// <summary>The checks in the safe at the end: those that were there, those that were counted today, less those in deposits that
    /// stand.</summary>
    private static ImmutableArray<HeldCheck> Checks(Day day, IEnumerable<Count> closing, Func<DrawerId, Money> otherwise,
        CustodyStart start, CustodyActs acts)
    {
        var counted = closing.Where(c => c.Drawer is not null)
            .SelectMany(c => c.Checks.GroupBy(k => (k.Number, k.Amount))
                .SelectMany(g => g.Select((k, i) => new HeldCheck(day.Setup.TradingDay, c.Drawer!.Value, k.Number, k.Amount, i + 1))));
        counted = counted.Concat(closing.Select(c => c.Drawer!.Value).Distinct()
            .Select(d => new HeldCheck(day.Setup.TradingDay, d, "counted otherwise", otherwise(d), 1)).Where(c => !c.Amount.IsZero));
        var gone = acts.Deposits.Where(d => d.IsSealedBy(day.Setup.TradingDay)).SelectMany(d => d.Checks).Select(c => c.Key)
            .ToHashSet(StringComparer.Ordinal);
        var back = acts.Deposits.Where(d => d.Unsealed?.Day == day.Setup.TradingDay && d.Day != day.Setup.TradingDay)
            .SelectMany(d => d.Checks);
        return [.. start.Checks.Concat(counted).Concat(back).DistinctBy(c => c.Key).Where(c => !gone.Contains(c.Key)).OrderBy(c => c.Day)
            .ThenBy(c => c.Key, StringComparer.Ordinal)];
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
