using Fondo.Core.Cells;
using Fondo.Core.Days;
using Fondo.Core.Journal;

namespace Fondo.Core.Entries;

/// <summary>A resolution: never edited, never deleted; a wrong one is reversed by another (rules §11).</summary>
/// <param name="Postings">Empty where it concerns what is in no cell of the day: a hold, or an item that an earlier day carried.</param>
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
    /// <summary>What its kind says besides; null where its kind says nothing more, and on entries made before it was asked for.</summary>
    public EntryDetail? Detail { get; init; }

    /// <summary>What was taken as one and is undone as one has the same; null where an entry stands by itself.</summary>
    public Guid? Together { get; init; }

    /// <summary>Whether the entry explains anything yet.</summary>
    public bool Holds => !NeedsApproval || ApprovedBy is not null;

    /// <summary>Whether it holds and was not taken back.</summary>
    public bool Stands(IEnumerable<Entry> all) => Holds && Kind != EntryKind.Reverse && !all.Any(e => e.Reverses == Id && e.Holds);

    /// <summary>Whether it was taken back before anybody approved it.</summary>
    public bool IsWithdrawn(IEnumerable<Entry> all) => !Holds && all.Any(e => e.Reverses == Id);

    public Money On(CellKey cell) => Postings.Where(p => p.Cell == cell).Sum(p => p.Amount);

    public bool Touches(CellKey cell) => Postings.Any(p => p.Cell == cell);
}
