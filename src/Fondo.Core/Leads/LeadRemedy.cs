using Fondo.Core.Entries;
using Fondo.Core.Journal;
using Fondo.Core.Proof;

namespace Fondo.Core.Leads;

/// <summary>What puts a lead right: the entry that it asks for, before it has an owner and a deadline. A lead whose postings add up to
/// nothing is a reclassification, whatever its remedy.</summary>
public abstract record LeadRemedy
{
    private LeadRemedy()
    {
    }

    /// <summary>The kind of the entry, and what it says besides.</summary>
    internal abstract (EntryKind Kind, EntryDetail? Detail) Entry(Lead lead, PersonId owner, DateTimeOffset deadline);

    /// <summary>It comes by itself, and is waited for.</summary>
    public sealed record Await(AwaitedProof Proof) : LeadRemedy
    {
        internal override (EntryKind Kind, EntryDetail? Detail) Entry(Lead lead, PersonId owner, DateTimeOffset deadline) =>
            (EntryKind.Carry, new EntryDetail.Awaited(owner, deadline, Proof));
    }

    /// <summary>A customer owes it, or is owed it.</summary>
    /// <param name="ShortIsOwed">Whether what the cell is short is owed to the store; else what it is over.</param>
    public sealed record Claim(bool ShortIsOwed = true) : LeadRemedy
    {
        internal override (EntryKind Kind, EntryDetail? Detail) Entry(Lead lead, PersonId owner, DateTimeOffset deadline) =>
            (EntryKind.Claim, new EntryDetail.Owed(ClaimParty.Customer, lead.Explains.Sign < 0 == ShortIsOwed, owner, deadline));
    }

    /// <summary>It happened, and was not recorded so.</summary>
    /// <param name="Bag">Of a drop.</param>
    public sealed record Record(MovementKind What, string? Bag = null) : LeadRemedy
    {
        internal override (EntryKind Kind, EntryDetail? Detail) Entry(Lead lead, PersonId owner, DateTimeOffset deadline) =>
            (EntryKind.Record, new EntryDetail.Moved(What, Bag));
    }

    /// <summary>A count was wrong.</summary>
    /// <param name="Found">What really lies there more, or less, than was counted, by denomination; empty where it cannot be said in whole
    /// pieces.</param>
    public sealed record Recount(string Count, ImmutableArray<Pieces> Found) : LeadRemedy
    {
        internal override (EntryKind Kind, EntryDetail? Detail) Entry(Lead lead, PersonId owner, DateTimeOffset deadline) =>
            (EntryKind.Recount, new EntryDetail.Recounted(Count, Found));
    }

    /// <summary>Nothing brings it back.</summary>
    public sealed record Accept : LeadRemedy
    {
        internal override (EntryKind Kind, EntryDetail? Detail) Entry(Lead lead, PersonId owner, DateTimeOffset deadline) =>
            (EntryKind.Accept, null);
    }
}
