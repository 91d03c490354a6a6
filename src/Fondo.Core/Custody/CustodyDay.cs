using Fondo.Core.Cells;
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
        CustodyActs acts) => new CustodyWork(overview, floats, entries, start, acts).Day();
}
