using System.Collections.Frozen;
using System.Runtime.InteropServices;
using Fondo.Core.Days;
using Fondo.Core.Journal;
using Fondo.Core.Proof;
using Fondo.Core.SetUp;

namespace Fondo.Core.Cells;

/// <summary>What should be there and what is, for every tender of every register (rules §1).</summary>
public static class CellSums
{
    /// <summary>A cell while its sums are gathered: tenders come by the million, and their cells are few.</summary>
    private readonly record struct Where(RegisterId? Register, DrawerId? Drawer, TenderId Tender)
    {
        public static Where Of(CellKey.Takings cell) => new(cell.Register, cell.Drawer, cell.Tender);

        public override int GetHashCode() => QuickHash.Of(Register?.Value, Drawer?.Value, Tender.Value);
    }

    private struct Sums
    {
        public Money Expected, Proof;
        public int ExpectedCount, ProofCount, TotalledCount;
    }

    /// <summary>All cells that have an item on either side, and the cash of every drawer session; ordered by register, drawer,
    /// tender.</summary>
    public static ImmutableArray<Cell> Of(Day day, Standing standing, RowPlaces settlement)
    {
        var proofs = day.Setup.Tenders.ToFrozenDictionary(t => t.Id, t => t.Proof);
        var (sums, printed) = (new Dictionary<Where, Sums>(), new PrintedTotals(day));
        ref Sums At(Where key) => ref CollectionsMarshal.GetValueRefOrAddDefault(sums, key, out _);

        var registers = new Dictionary<DrawerId, RegisterId>();
        foreach (var e in day.Journal)
        {
            if (e.Drawer is { } drawer && (registers.TryAdd(drawer, e.Register) || e is not Ticket))
            {
                At(new(e.Register, drawer, TenderId.Cash)).Expected += e switch
                {
                    SessionOpen open => open.Float,
                    CashMovement movement => movement.Effect,
                    _ => Money.Zero,
                };
            }
        }

        foreach (var (ticket, tender) in Standing.Tenders(day, standing).Select(t => (t.Ticket, t.Tender)))
        {
            ref var sum = ref At(new(ticket.Register, proofs[tender.Type] == ProofKind.Count ? ticket.Drawer : null, tender.Type));
            sum.Expected += tender.Expected;
            sum.ExpectedCount++;
            sum.TotalledCount += printed.Proves(tender) ? 1 : 0;
            if (!tender.Cashback.IsZero)
            {
                At(new(ticket.Register, ticket.Drawer, TenderId.Cash)).Expected -= tender.Cashback;
            }
        }

        foreach (var row in day.Rows ?? [])
        {
            ref var sum = ref At(Where.Of(settlement.CellOf(row)));
            sum.Proof += row.Signed;
            sum.ProofCount++;
        }

        foreach (var line in printed.Lines)
        {
            ref var sum = ref At(Where.Of(settlement.CellOf(line)));
            sum.Proof += line.Signed;
            sum.ProofCount += line.Number;
        }

        foreach (var row in day.Ledger ?? [])
        {
            ref var sum = ref At(new(row.Register, null, row.Tender));
            sum.Proof += row.Signed;
            sum.ProofCount++;
        }

        var closing = ClosingCounts(day);
        foreach (var (drawer, count) in closing)
        {
            if (!registers.TryGetValue(drawer, out var register))
            {
                continue;
            }

            At(new(register, drawer, TenderId.Cash)).Proof += count.Cash;
            foreach (var check in count.Checks)
            {
                ref var sum = ref At(new(register, drawer, TenderId.Check));
                sum.Proof += check.Amount;
                sum.ProofCount++;
            }

            foreach (var stub in count.Stubs.Where(s => !s.Amount.IsZero))
            {
                At(new(register, drawer, stub.Tender)).Proof += stub.Amount;
            }
        }

        return [.. sums.Select(s => Finish(new(s.Key.Register, s.Key.Drawer, s.Key.Tender), s.Value))
            .Order(Comparer<Cell>.Create((a, b) => a.Key.CompareTo(b.Key)))];

        Cell Finish(CellKey.Takings key, Sums s)
        {
            var kind = proofs[key.Tender];
            var present = kind switch
            {
                ProofKind.Count => key.Drawer is { } drawer && closing.ContainsKey(drawer),
                // While no batch is in, a cell is proved only where printed totals stand for all of it.
                ProofKind.Batch => day.Rows is not null || (!printed.Lines.IsEmpty && s.TotalledCount == s.ExpectedCount),
                _ => day.Ledger is not null,
            };
            if (!present)
            {
                return new(key, s.Expected, s.ExpectedCount, null, null,
                    kind == ProofKind.Ledger ? CellState.JournalOnly : CellState.Waiting);
            }

            int? proofCount = kind == ProofKind.Count && key.Tender != TenderId.Check ? null : s.ProofCount;
            var within = day.Setup.ToleranceOf(key);
            var proved = (s.Proof - s.Expected).Abs() <= within && (proofCount is null || proofCount == s.ExpectedCount);
            return new(key, s.Expected, s.ExpectedCount, s.Proof, proofCount, proved ? CellState.Proved : CellState.Off);
        }
    }

    /// <summary>The closing count that stands for each drawer: the highest attempt.</summary>
    public static FrozenDictionary<DrawerId, Count> ClosingCounts(Day day)
    {
        return day.Counts.Where(c => c is { Kind: CountKind.Closing, Drawer: not null })
            .GroupBy(c => c.Drawer!.Value)
            .ToFrozenDictionary(g => g.Key, g => g.MaxBy(c => (c.Attempt, c.At.UtcTicks, c.Id))!);
    }
}
