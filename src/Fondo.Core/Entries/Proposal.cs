using Fondo.Core.Cells;

namespace Fondo.Core.Entries;

/// <summary>An entry as it is proposed, before anybody made it.</summary>
/// <param name="Evidence">Keys of tickets, rows, counts, bags, drawers.</param>
public sealed record Proposal(EntryKind Kind, ImmutableArray<Posting> Postings, EntryDetail? Detail, string Reason,
    ImmutableArray<string> Evidence)
{
    /// <summary>The same as it can be made at a moment: a deadline that has passed is proposed anew, so much later.</summary>
    public Proposal At(DateTimeOffset now, TimeSpan later) => Detail switch
    {
        EntryDetail.Awaited awaited when awaited.Deadline <= now => this with { Detail = awaited with { Deadline = now + later } },
        EntryDetail.Owed owed when owed.Deadline <= now => this with { Detail = owed with { Deadline = now + later } },
        _ => this,
    };
}
