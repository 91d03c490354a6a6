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
        var gathering = new Gathering(day);
        gathering.AddDrawers();
        gathering.AddTenders(standing);
        gathering.AddProof(settlement);
        gathering.AddCounts();
        return gathering.Cells();
    }

    private sealed class Gathering(Day day)
    {
        private readonly Dictionary<Where, Sums> _sums = [];
        private readonly FrozenDictionary<TenderId, ProofKind> _proofs = day.Setup.Tenders.ToFrozenDictionary(t => t.Id, t => t.Proof);
        private readonly PrintedTotals _printed = new(day);
        private readonly FrozenDictionary<DrawerId, Count> _closing = ClosingCounts(day);

        /// <summary>The register at which each drawer lay.</summary>
        private readonly Dictionary<DrawerId, RegisterId> _registers = [];

        private ref Sums At(Where key) => ref CollectionsMarshal.GetValueRefOrAddDefault(_sums, key, out _);

        /// <summary>Floats, and what moved the cash besides tickets.</summary>
        public void AddDrawers()
        {
            foreach (var e in day.Journal)
            {
                if (e.Drawer is { } drawer && (_registers.TryAdd(drawer, e.Register) || e is not Ticket))
                {
                    At(new(e.Register, drawer, TenderId.Cash)).Expected += e switch
                    {
                        SessionOpen open => open.Float,
                        CashMovement movement => movement.Effect,
                        _ => Money.Zero,
                    };
                }
            }
        }

        public void AddTenders(Standing standing)
        {
            foreach (var (ticket, tender) in Standing.Tenders(day, standing).Select(t => (t.Ticket, t.Tender)))
            {
                ref var sum = ref At(new(ticket.Register, _proofs[tender.Type] == ProofKind.Count ? ticket.Drawer : null, tender.Type));
                sum.Expected += tender.Expected;
                sum.ExpectedCount++;
                sum.TotalledCount += _printed.Proves(tender) ? 1 : 0;
                if (!tender.Cashback.IsZero)
                {
                    At(new(ticket.Register, ticket.Drawer, TenderId.Cash)).Expected -= tender.Cashback;
                }
            }
        }

        /// <summary>Settled rows, printed totals, lines of ledgers.</summary>
        public void AddProof(RowPlaces settlement)
        {
            foreach (var row in day.Rows ?? [])
            {
                AddProof(Where.Of(settlement.CellOf(row)), row.Signed, 1);
            }

            foreach (var line in _printed.Lines)
            {
                AddProof(Where.Of(settlement.CellOf(line)), line.Signed, line.Number);
            }

            foreach (var row in day.Ledger ?? [])
            {
                AddProof(new(row.Register, null, row.Tender), row.Signed, 1);
            }
        }

        public void AddCounts()
        {
            foreach (var (drawer, count) in _closing)
            {
                if (!_registers.TryGetValue(drawer, out var register))
                {
                    continue;
                }

                AddProof(new(register, drawer, TenderId.Cash), count.Cash, 0);
                foreach (var check in count.Checks)
                {
                    AddProof(new(register, drawer, TenderId.Check), check.Amount, 1);
                }

                foreach (var stub in count.Stubs.Where(s => !s.Amount.IsZero))
                {
                    AddProof(new(register, drawer, stub.Tender), stub.Amount, 0);
                }
            }
        }

        public ImmutableArray<Cell> Cells() =>
            [.. _sums.Select(s => Finish(new(s.Key.Register, s.Key.Drawer, s.Key.Tender), s.Value))
                .Order(Comparer<Cell>.Create((a, b) => a.Key.CompareTo(b.Key)))];

        private void AddProof(Where key, Money amount, int number)
        {
            ref var sum = ref At(key);
            sum.Proof += amount;
            sum.ProofCount += number;
        }

        private Cell Finish(CellKey.Takings key, Sums s)
        {
            var kind = _proofs[key.Tender];
            var present = kind switch
            {
                ProofKind.Count => key.Drawer is { } drawer && _closing.ContainsKey(drawer),
                // While no batch is in, a cell is proved only where printed totals stand for all of it.
                ProofKind.Batch => day.Rows is not null || (!_printed.Lines.IsEmpty && s.TotalledCount == s.ExpectedCount),
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
