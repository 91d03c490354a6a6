using Fondo.Core.Entries;
using Fondo.Core.Journal;
using Fondo.Core.Proof;
using Fondo.Core.SetUp;

namespace Fondo.Wording;

/// <summary>What an entry says besides its amounts, in words.</summary>
public static class EntryText
{
    /// <summary>“a drop, bag B-311”, “a later batch should bring it; Odile Marchetti is responsible until 24 Nov, 23:00”.</summary>
    public static string Of(EntryDetail detail, Setup setup, Func<PersonId, string> nameOf)
    {
        string Piece(Pieces p) => $"{(p.Number < 0 ? "−" : "+")}{Math.Abs(p.Number)} × {setup.Currency.Say(p.Denomination)}";

        return detail switch
        {
            EntryDetail.Moved { Bag: { } bag } moved => $"{Of(moved.What)}, bag {bag}",
            EntryDetail.Moved moved => Of(moved.What),
            EntryDetail.Recounted { Found.IsEmpty: true } => "the count was wrong",
            EntryDetail.Recounted recounted => $"recounted: {string.Join(", ", recounted.Found.Select(Piece))}",
            EntryDetail.Awaited awaited =>
                $"{Of(awaited.Proof)} should bring it; {nameOf(awaited.Owner)} is responsible until "
                    + Words.DateAndTime(awaited.Deadline, setup),
            EntryDetail.Owed owed =>
                $"{(owed.IsOwedToStore ? $"{Of(owed.Party)} owes it to the store" : $"the store owes it to {Of(owed.Party)}")}; "
                    + $"{nameOf(owed.Owner)} sees to it until {Words.DateAndTime(owed.Deadline, setup)}",
            _ => throw new ArgumentOutOfRangeException(nameof(detail)),
        };
    }

    public static string Of(MovementKind what) => what switch
    {
        MovementKind.PaidIn => "a paid-in",
        MovementKind.PaidOut => "a paid-out",
        MovementKind.Float => "a different float",
        MovementKind.Change => "wrong change given",
        MovementKind.Void => "a ticket that should have been voided",
        MovementKind.Sale => "a sale that was not rung",
        MovementKind.Refund => "a refund that was not rung",
        MovementKind.Arrival => "a carried item that arrived",
        _ => $"a {what.Written()} that was not rung",
    };

    public static string Of(AwaitedProof proof) => proof switch
    {
        AwaitedProof.LaterBatch => "a later batch",
        AwaitedProof.BankLine => "a line of the bank",
        _ => "a ticket of the next day",
    };

    public static string Of(ClaimParty party) => party switch
    {
        ClaimParty.Processor => "the processor",
        ClaimParty.Customer => "the customer",
        _ => "the bank",
    };
}
