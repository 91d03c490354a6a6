using Fondo.Core.Journal;
using Fondo.Core.Proof;

namespace Fondo.Core.Entries;

/// <summary>What an entry of its kind says besides what it moves. A reclassification, an acceptance and a reversal say nothing
/// more.</summary>
public abstract record EntryDetail
{
    private EntryDetail()
    {
    }

    /// <summary>The kind of entry that it belongs to.</summary>
    public abstract EntryKind Kind { get; }

    /// <summary>Of a record: what moved.</summary>
    /// <param name="Bag">Of a drop.</param>
    public sealed record Moved(MovementKind What, string? Bag = null) : EntryDetail
    {
        public override EntryKind Kind => EntryKind.Record;
    }

    /// <summary>Of a recount: how what really lies there differs from what was counted.</summary>
    /// <param name="Count">The count that was wrong.</param>
    /// <param name="Found">Pieces more, or fewer, than were counted, by denomination; empty where nobody wrote it down piece by
    /// piece.</param>
    public sealed record Recounted(string Count, ImmutableArray<Pieces> Found) : EntryDetail
    {
        public override EntryKind Kind => EntryKind.Recount;

        public bool Equals(Recounted? other) => other is not null && Count == other.Count && Found.SequenceEqual(other.Found);

        public override int GetHashCode() => StringComparer.Ordinal.GetHashCode(Count);
    }

    /// <summary>Of a carry: who is responsible, until when, and what is expected to prove it.</summary>
    public sealed record Awaited(PersonId Owner, DateTimeOffset Deadline, AwaitedProof Proof) : EntryDetail
    {
        public override EntryKind Kind => EntryKind.Carry;
    }

    /// <summary>Of a claim: who owes whom, who sees to it, until when.</summary>
    /// <param name="IsOwedToStore">Else the store owes it.</param>
    public sealed record Owed(ClaimParty Party, bool IsOwedToStore, PersonId Owner, DateTimeOffset Deadline) : EntryDetail
    {
        public override EntryKind Kind => EntryKind.Claim;
    }
}
