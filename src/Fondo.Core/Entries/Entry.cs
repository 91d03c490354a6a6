using Fondo.Core.Cells;
using Fondo.Core.Days;
using Fondo.Core.Journal;

namespace Fondo.Core.Entries;

public enum EntryKind
{
    /// <summary>From one cell to another; adds up to nothing over the store.</summary>
    Reclassify,

    /// <summary>A movement that was never entered.</summary>
    Record,

    /// <summary>Booked over or short.</summary>
    Accept,

    /// <summary>Takes an earlier entry back.</summary>
    Reverse,
}

/// <summary>A resolution: never edited, never deleted; a wrong one is reversed by another (rules §11).</summary>
/// <param name="Reverses">The entry taken back.</param>
/// <param name="ApprovedBy">The second person; null while there is none or none is needed.</param>
public sealed record Entry(
    Guid Id,
    EntryKind Kind,
    ImmutableArray<Posting> Postings,
    string Reason,
    PersonId By,
    DateTimeOffset At,
    ImmutableArray<string> Evidence,
    Guid? Reverses,
    bool NeedsApproval,
    PersonId? ApprovedBy)
{
    /// <summary>Whether the entry explains anything yet.</summary>
    public bool Holds => !NeedsApproval || ApprovedBy is not null;

    /// <summary>Whether it was taken back before anybody approved it.</summary>
    public bool IsWithdrawn(IEnumerable<Entry> all) => !Holds && all.Any(e => e.Reverses == Id);

    public Money On(CellKey cell) => Postings.Where(p => p.Cell == cell).Sum(p => p.Amount);

    public bool Touches(CellKey cell) => Postings.Any(p => p.Cell == cell);
}
