using Fondo.Core.Entries;
using Fondo.Core.SetUp;

namespace Fondo.Wording;

/// <summary>Why an entry cannot be made or approved, for the person who tries.</summary>
public static class EntryObjectionText
{
    public static string Says(this EntryObjection objection, Setup setup) => objection switch
    {
        EntryObjection.NoReason => "Give a reason that someone will understand a year from now.",
        EntryObjection.NoSuchCell => "This day has no such cell.",
        EntryObjection.NoProofYet => "This cell has no proof yet, so there is nothing to explain.",
        EntryObjection.AlreadyExplained => "This cell is already explained. Reverse one of its entries before you make another.",
        EntryObjection.ReversalByHand => "Reverse an entry where it is listed, with a reason. You cannot make a reversal by hand.",
        EntryObjection.OneCellOnly => "A reclassification needs two different cells.",
        EntryObjection.SidesDiffer o =>
            $"The two sides must balance: {string.Join(" and ", o.Sides.Select(a => setup.Currency.Say(a)))}.",
        EntryObjection.ExplainsNothing => $"An entry of {setup.Currency.Say(Money.Zero)} explains nothing. Type an amount.",
        EntryObjection.MoreThanLeft o => $"This cell is {Side(o.Left, setup)}, so you cannot accept {Side(o.Amount, setup)}.",
        EntryObjection.OnlyNumberLeft => $"Nothing is left to accept. The amount can only be {setup.Currency.Say(Money.Zero)}.",
        EntryObjection.ApprovalWaits => "An entry for this cell already waits for approval. A second person must sign it first.",
        EntryObjection.NothingLeft => "This cell has nothing left to accept.",
        EntryObjection.NeedsNoApproval => "This entry needs no approval.",
        EntryObjection.ApprovedBefore => "This entry is already approved.",
        EntryObjection.MayNotApprove o => $"{o.Person.Name} cannot approve entries. Ask a supervisor or a manager.",
        EntryObjection.OwnEntry => "You cannot approve your own entry. Ask another supervisor or a manager.",
        _ => OfDetail(objection, setup),
    };

    private static string OfDetail(EntryObjection objection, Setup setup) => objection switch
    {
        EntryObjection.DetailOfAnotherKind o => $"These details belong to another kind of entry ({o.Kind.Written()}).",
        EntryObjection.NoDetail { Kind: EntryKind.Record } => "Say what moved.",
        EntryObjection.NoDetail { Kind: EntryKind.Recount } => "Say which count was wrong.",
        EntryObjection.NoDetail { Kind: EntryKind.Carry } => "Say who is responsible, and until when.",
        EntryObjection.NoDetail => "Say who owes it, who sees to it, and until when.",
        EntryObjection.NoSuchPerson o => $"There is no person {o.Person} in this store.",
        EntryObjection.DeadlineOver => "The deadline is over already. Give a later one.",
        EntryObjection.DeadlineTooFar => "The deadline is more than a year away. Give an earlier one.",
        EntryObjection.PiecesDiffer o => $"The recounted pieces differ by {setup.Currency.Say(o.Found)} from the count. That does not "
            + $"explain {setup.Currency.Say(o.Posted)}.",
        EntryObjection.NotOneItem => "Choose exactly one item for this entry.",
        EntryObjection.ItemEnded o => $"This was already written off or claimed: “{o.Ended.Reason}”.",
        EntryObjection.ItemNotOpen => "This item is no longer open: it has arrived, or it was never carried here.",
        EntryObjection.ItemWithoutCell => "This item has no cell today. You can carry it, claim it, or accept it.",
        _ => throw new ArgumentOutOfRangeException(nameof(objection)),
    };

    private static string Side(Money amount, Setup setup) => $"{Words.Amount(amount, setup)} {Words.ShortOrOver(amount)}";
}
