using Fondo.Core.Journal;
using Fondo.Core.SetUp;

namespace Fondo.Core.Entries;

/// <summary>Why an entry cannot be made, or not be approved by that person (rules §11).</summary>
public abstract record EntryObjection
{
    private EntryObjection()
    {
    }

    public sealed record NoReason : EntryObjection;

    public sealed record NoSuchCell : EntryObjection;

    public sealed record NoProofYet : EntryObjection;

    public sealed record AlreadyExplained : EntryObjection;

    public sealed record ReversalByHand : EntryObjection;

    public sealed record OneCellOnly : EntryObjection;

    public sealed record SidesDiffer(ImmutableArray<Money> Sides) : EntryObjection;

    public sealed record ExplainsNothing : EntryObjection;

    /// <param name="Left">What is left of the cell's variance.</param>
    public sealed record MoreThanLeft(Money Left, Money Amount) : EntryObjection;

    /// <summary>Only a difference in number is left, and an amount was typed.</summary>
    public sealed record OnlyNumberLeft : EntryObjection;

    public sealed record ApprovalWaits : EntryObjection;

    public sealed record NothingLeft : EntryObjection;

    /// <param name="Kind">The kind of entry to which the details belong.</param>
    public sealed record DetailOfAnotherKind(EntryKind Kind) : EntryObjection;

    public sealed record NoDetail(EntryKind Kind) : EntryObjection;

    public sealed record NoSuchPerson(PersonId Person) : EntryObjection;

    public sealed record DeadlineOver : EntryObjection;

    public sealed record DeadlineTooFar : EntryObjection;

    /// <param name="Found">What the recounted pieces are worth more than the count.</param>
    /// <param name="Posted">What the entry explains.</param>
    public sealed record PiecesDiffer(Money Found, Money Posted) : EntryObjection;

    public sealed record NotOneItem : EntryObjection;

    /// <param name="Ended">The entry that wrote the item off, or claimed it.</param>
    public sealed record ItemEnded(Entry Ended) : EntryObjection;

    public sealed record ItemNotOpen : EntryObjection;

    public sealed record ItemWithoutCell : EntryObjection;

    public sealed record NeedsNoApproval : EntryObjection;

    public sealed record ApprovedBefore : EntryObjection;

    public sealed record MayNotApprove(Person Person) : EntryObjection;

    public sealed record OwnEntry : EntryObjection;
}
