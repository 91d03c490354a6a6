using Fondo.Core.Cells;
using Fondo.Core.Days;
using Fondo.Core.Entries;
using Fondo.Core.Journal;
using Fondo.Core.Matching;
using Fondo.Core.Proof;
using Fondo.Core.Reconciling;

namespace Fondo.Core.Leads;

/// <summary>An explanation offered for a cell that is off (rules §6).</summary>
/// <param name="Rank">1 for what belongs to the most probable explanation of its cell: several leads, where only together they explain
/// it.</param>
/// <param name="Explains">What it would explain of the cell's variance.</param>
/// <param name="Keys">The evidence.</param>
/// <param name="Fact">What may have happened.</param>
/// <param name="Entry">The postings of an entry that would explain it; over all cells that it touches.</param>
/// <param name="Remedy">What kind of entry that is.</param>
/// <param name="Chance">How probable it is that the lead is wrong, 0 to 1.</param>
public sealed record Lead(CellKey Cell, int Rank, LeadKind Kind, Money Explains, ImmutableArray<string> Keys, LeadFact Fact,
    ImmutableArray<Posting> Entry, LeadRemedy Remedy, double Chance)
{
    /// <summary>Of a slip of the count: what really lies there more, or less, than was counted, by denomination.</summary>
    public ImmutableArray<Pieces> Found => Remedy is LeadRemedy.Recount recount ? recount.Found : [];

    /// <summary>The entry that it asks for: it explains, over all cells that the lead touches, exactly what the lead says.</summary>
    /// <param name="owner">Who would see to what is carried or claimed.</param>
    /// <param name="reason">As it is worded for people.</param>
    public Proposal Proposal(Reconciliation result, PersonId owner, string reason)
    {
        var (kind, detail) = Entry.Length > 1 && Entry.Sum(p => p.Amount).IsZero
            ? (EntryKind.Reclassify, null)
            : Remedy.Entry(this, owner, Deadline(result));
        return new(kind, [.. Entry.OrderBy(p => p.Cell == Cell ? 0 : 1)], detail, reason, Keys);
    }

    /// <summary>The first moment at which one of its items can no longer be put right.</summary>
    private DateTimeOffset Deadline(Reconciliation result)
    {
        var keys = Keys.ToHashSet(StringComparer.Ordinal);
        var items = result.OpenItems.Where(o => keys.Contains(o.Item.Key)).Select(o => o.Item)
            .Concat(result.Matches.SelectMany(m => m.Journal.Concat(m.Rows)).Where(i => keys.Contains(i.Key)));
        return items.Select(i => (DateTimeOffset?)TimeLeft.Until(i, result.Day)).Min() ?? EndOfNextDay(result.Day);
    }

    private static DateTimeOffset EndOfNextDay(Day day)
    {
        var ends = day.Setup.TradingDay.Date.AddDays(2).ToDateTime(day.Setup.DayEndsAt);
        return new(ends, day.Setup.TimeZone.GetUtcOffset(ends));
    }
}
