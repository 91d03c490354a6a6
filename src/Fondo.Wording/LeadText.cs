using System.Globalization;
using Fondo.Core.Banking;
using Fondo.Core.Custody;
using Fondo.Core.Journal;
using Fondo.Core.Leads;
using Fondo.Core.Matching;
using Fondo.Core.SetUp;
using static Fondo.Wording.Words;

namespace Fondo.Wording;

/// <summary>What a lead says, in a sentence.</summary>
public static class LeadText
{
    public static string Says(this Lead lead, Setup setup) => Of(lead.Fact, setup);

    /// <summary>The same while a terminal still holds what is not settled: there it can be put right.</summary>
    public static string SaysBeforeSettling(this Lead lead, Setup s) =>
        lead.Fact is LeadFact.Unanswered { Item: { Item.Row: { } held } open }
            ? open.Cause switch
            {
                Cause.VoidNotSent => $"{Row(held, s)} was voided at the register, but {Held}",
                Cause.ReversalNotSent => $"{Row(held, s)} was reversed at the register, but {Held}",
                Cause.DeclinedButSettled => $"{Row(held, s)} was declined at the register, but {Held}",
                Cause.ChargedTwice => Of(lead.Fact, s),
                _ => $"{Row(held, s)} is on the terminal, not in the journal. Void it there if it should not be charged.",
            }
            : Of(lead.Fact, s);

    private const string Held = "the terminal still holds it. Void it there before you settle.";

    public static string Of(LeadFact fact, Setup s) => fact switch
    {
        LeadFact.DropDiffers f => $"Bag {f.Bag} was recorded with {Amount(f.Recorded, s)} and holds {Amount(f.Held, s)}.",
        LeadFact.DropNotRecorded f => $"Bag {f.Bag} with {Amount(f.Held, s)} was opened at the safe, but no drop was recorded for it.",
        LeadFact.OpeningCountDiffers f => $"The opening count found {Amount(f.Counted, s)}; {Amount(f.Declared, s)} were declared.",
        LeadFact.StandardFloatDiffers f => $"The standard float is {Amount(f.Standard, s)}; {Amount(f.Declared, s)} were declared.",
        LeadFact.WrongDrawer f => $"{s.NameOf(f.Short.Register)} is short and "
            + $"{(f.Short.Register == f.Over.Register ? $"its other drawer {f.Over.Drawer}" : s.NameOf(f.Over.Register))} over by the same "
            + $"{Amount(f.Amount, s)}: money may have gone into the wrong drawer.",
        LeadFact.ItemsAddUp f => $"{f.Items} open items of the register add up to exactly {Amount(f.Difference, s)}.",
        _ => OfCount(fact, s) ?? OfTicket(fact, s) ?? OfSettling(fact, s) ?? OfPlace(fact, s) ?? OfBank(fact, s)
            ?? throw new ArgumentOutOfRangeException(nameof(fact)),
    };

    private static string? OfCount(LeadFact fact, Setup s) => fact switch
    {
        LeadFact.RowMoved f => $"{f.Pieces} pieces of {Amount(f.Right, s)} may have been entered on the line of {Amount(f.Entered, s)}.",
        LeadFact.BundleMiscounted f => $"A {(f.IsNote ? "strap" : "roll")} of {Amount(f.Denomination, s)} may have been "
            + $"{(f.IsTwice ? "counted twice" : "missed")}.",
        LeadFact.ValueAsPieces f => $"{f.Number} may be the value of the row of {Amount(f.Denomination, s)}, not its pieces.",
        _ => null,
    };

    private static string? OfTicket(LeadFact fact, Setup s) => fact switch
    {
        LeadFact.ChangeForWrongNote f => $"A {Amount(f.Handed, s)} may have been taken for a {Amount(f.Recorded, s)}: "
            + $"{(f.Fitting == 1 ? $"the {Tender(f.First, s)} fits" : $"{f.Fitting} tickets fit")}.",
        LeadFact.PaidByCard f => $"The {Tender(f.Tender, s)} was paid by card: the terminal settled {Row(f.Row, s)}.",
        LeadFact.CardPaidInCash f => $"The {Item(f.Tender, s)} may have been paid in cash: it is in no batch.",
        LeadFact.PaidByCheck f => $"{(f.Fitting == 1 ? $"The {Tender(f.First, s)}" : $"One of {f.Fitting} cash sales of that amount")} "
            + $"was paid by check: a check{(f.Number.Length > 0 ? $", no. {f.Number}," : "")} of {Amount(f.Amount, s)} is in the drawer.",
        LeadFact.CheckMissing f => $"The check of the {Tender(f.Check, s)} is not in the drawer. It may have been paid in cash.",
        LeadFact.FoundOnTicket f =>
            $"The ticket of {Amount(f.Ticket.Total, s)} at {s.NameOf(f.Ticket.Register)} at {Time(f.Ticket.At, s)}: "
                + Of(f.What, Amount(f.Amount, s)),
        LeadFact.TicketTurned f => $"{(f.Fitting == 1 ? $"The {Tender(f.First, s)}" : $"One of {f.Fitting} tickets")} was recorded as a "
            + $"{(f.IsRecordedAsRefund ? "refund" : "sale")} but may be the opposite. The difference is twice its "
            + $"{Amount(f.First.Tender.Net, s)}.",
        LeadFact.NeverPaid { Fitting: 1 } f => $"The {Tender(f.First, s)} is exactly this amount. It may never have been paid.",
        LeadFact.NeverPaid f => $"{f.Fitting} cash tickets are exactly {Amount(f.Amount, s)}. One of them may never have been paid.",
        _ => null,
    };

    private static string Of(FindingBehind what, string amount) => what switch
    {
        FindingBehind.ChangeNotAllowed => $"{amount} change was given on a tender that allows none.",
        FindingBehind.OvertenderGivenBack => $"{amount} more was tendered than its total; it may have been given back in cash.",
        FindingBehind.BenefitCashBack => $"{amount} cash back on benefits is recorded. It may not have been given.",
        FindingBehind.ReversedCardPaidInCash => $"a card for {amount} was reversed but the ticket kept. It may have been paid in cash.",
        FindingBehind.UnpaidAfterCardFailed =>
            $"{amount} of it was never recorded as paid after a card failed. It may have been paid in cash.",
        FindingBehind.TendersDifferFromTotal => $"its tenders differ from its total by {amount}.",
        _ => $"{amount} is recorded as a cash refund, but was paid another way. It may have gone back there.",
    };

    private static string? OfSettling(LeadFact fact, Setup s) => fact switch
    {
        LeadFact.BatchArrived f => $"{f.Cards} cards of {Amount(f.Amount, s)} that were carried from {f.CarriedFrom} came in batch "
            + $"{f.First.Batch} of {f.First.Terminal}.",
        LeadFact.PairArrived f =>
            $"The {Item(f.Tender, s)} and the settled {Item(f.Row, s)} belong together. One of them is from {f.CarriedFrom}.",
        LeadFact.SettledTheOtherWay f => $"The {Item(f.Tender, s)} was settled as a "
            + $"{(f.Row.Direction == Core.Proof.Direction.Refund ? "refund" : "sale")}: {Item(f.Row, s)}.",
        LeadFact.FeeNotSettled f => $"The {Item(f.Tender, s)}: a wrong fee of {Amount(f.Fee, s)} was charged and not settled.",
        LeadFact.AmountKeyed f => $"The {Item(f.Tender, s)} was settled with {Amount(f.Row.Amount, s)}"
            + $"{(f.Slip is { } slip ? $": {Of(slip)}" : "")}.",
        LeadFact.WrongTerminal f =>
            $"The {Item(f.Tender, s)} was run on {f.Row.Terminal}, the terminal of {s.NameOf(f.Row.Cell.Register)}.",
        LeadFact.SettledAsAnother f => $"The {Item(f.Tender, s)} was settled as {Tender(f.Row.Cell.Tender, s)}.",
        LeadFact.BatchAbsent f =>
            $"Terminal {f.Terminal} has no batch today: {Tenders(f.Tenders)} for {Amount(f.Amount, s)} not settled.",
        LeadFact.AfterCutoff f => $"Of terminal {f.Terminal}, {Tenders(f.Tenders)} for {Amount(f.Amount, s)} came after its last batch "
            + "closed. The next batch should have them.",
        LeadFact.Unanswered f => Of(f.Item, s),
        _ => null,
    };

    private static string Of(OpenItem open, Setup s)
    {
        var what = Capital(open.Item.Tender is not null ? $"the {Item(open.Item, s)}" : Item(open.Item, s));
        return open.Cause switch
        {
            Cause.MissingFromBatch => $"{what} was approved but is in no batch.",
            Cause.ChargedTwice => $"{what} is a second charge of the same card and amount.",
            Cause.VoidNotSent => $"{what} was voided at the register but settled anyway.",
            Cause.ReversalNotSent => $"{what} was reversed at the register but settled anyway.",
            Cause.DeclinedButSettled => $"{what} was declined at the register but settled anyway.",
            _ => $"{what} was settled, but no ticket has it.",
        };
    }

    private static string Tenders(int tenders) => tenders == 1 ? "one tender" : $"{tenders} tenders";

    private static string Of(Slip slip) => slip switch
    {
        Slip.Sign => "the sign turned",
        Slip.Double => "twice the amount",
        Slip.Decimal => "the decimal point slipped",
        Slip.Transposition => "two neighbouring digits exchanged",
        Slip.DoubledDigit => "a digit typed twice",
        Slip.DroppedDigit => "a digit left out",
        Slip.OneDigit => "one digit differs",
        _ => "a tip added",
    };

    private static string? OfPlace(LeadFact fact, Setup s) => fact switch
    {
        PlaceFact.BagOfDrawer f => $"No drop of bag {f.Bag} was recorded, and {f.Drawer.NameIn(s)} is {Side(f.Left, s)}.",
        PlaceFact.BagDiffersAndDrawer f => $"Bag {f.Bag} was recorded with {Amount(f.Recorded, s)} and holds {Amount(f.Held, s)}; "
            + $"{f.Drawer.NameIn(s)} is {Side(f.Left, s)}.",
        PlaceFact.FloatAndDrawer f => $"The drawer was opened as if {Amount(f.Apart, s)} {(f.Apart.Sign < 0 ? "less" : "more")} lay in it "
            + $"than was left, and its cash is {Side(f.Left, s)}.",
        PlaceFact.FloatsExchanged f => $"{f.Other.TitleIn(s)} is {Side(f.Left, s)}: the two may have been exchanged.",
        PlaceFact.DrawerMiscounted f =>
            $"{f.Drawer.TitleIn(s)} is {Side(f.Left, s)}: it may have been counted wrong, and its money is in the safe.",
        PlaceFact.SafeLineTwice f =>
            $"{Of(f.Line, f.Register, s)} of {Amount(f.Line.Amount, s)} may have been taken out of the safe twice.",
        PlaceFact.SafeLineStillThere { Line.Amount.Sign: < 0 } f =>
            $"{Of(f.Line, f.Register, s)} of {Amount(f.Line.Amount, s)} may still be in the safe and counted there.",
        PlaceFact.SafeLineStillThere f =>
            $"{Of(f.Line, f.Register, s)} of {Amount(f.Line.Amount, s)} may not have been in the safe yet when it was counted.",
        PlaceFact.BagCountedWithSafe f =>
            $"Bag {f.Bag} with {Amount(f.Amount, s)} is not opened yet and may have been counted with the loose money.",
        _ => null,
    };

    private static string Of(SafeLine line, RegisterId? register, Setup s) => line.Kind switch
    {
        SafeLineKind.Float => $"The float of {s.NameOf(register)}",
        SafeLineKind.Drawer => $"What was counted at {s.NameOf(register)}",
        SafeLineKind.Bag => $"Bag {line.Source}",
        SafeLineKind.Loan => "A loan",
        SafeLineKind.Deposit => $"Deposit {line.Source}",
        SafeLineKind.Unsealed => $"Deposit {line.Source}, opened again,",
        SafeLineKind.Movement => "Change",
        _ => "What an entry says",
    };

    private static string? OfBank(LeadFact fact, Setup s) => fact switch
    {
        BankFact.ClaimPaid f => $"It pays the claim of {Date(f.Claim.Day)}: {f.Claim.Reason}",
        BankFact.SumArrived f => $"This was carried on {Date(f.Sum.Day)}: {f.Sum.Reason}",
        BankFact.TakenBackByProcessor f =>
            $"{f.Processor.Name} took {Amount(f.Amount, s)} back: a charge that a customer disputes, or an adjustment.",
        BankFact.ChargeReversed { Charge: var c } f => $"It reverses the {s.NameOf(c.Tender).ToLowerInvariant()} sale of "
            + $"{Amount(f.Amount, s)} at {s.NameOf(c.Register)} on {DateAndTime(c.At, s)}"
            + $"{(c.LastFour is { } last ? $", card ending {last}" : "")}, ticket {c.Ticket}. The customer disputes it.",
        BankFact.DepositPieces f => $"{PackedBy(f.Deposit, s)}: {Whole(f.Number)} × {Amount(f.Piece.Denomination, s)} "
            + $"{(f.IsTooFew ? "too few" : "too many")}{(!f.IsBundle ? "" : f.Kind!.IsNote ? " in a strap" : " in a roll")}, of "
            + $"{Whole(f.Piece.Number)}.",
        BankFact.CheckNotCredited f =>
            $"{PackedBy(f.Deposit, s)}: check {f.Check.Number} of {Amount(f.Check.Amount, s)} was not credited, or came back.",
        BankFact.PaidWithoutFee f => $"{s.Processors.FirstOrDefault(p => p.Id == f.Processor)?.Name ?? f.Processor} paid the full "
            + $"{Amount(f.Gross, s)} and kept no fee.",
        BankFact.OtherFee f => $"Fees of {Amount(f.Kept, s)} were kept, {Amount(f.Expected, s)} were expected on {Whole(f.Items)} items: "
            + $"{Share(f.Kept, f.Gross)} instead of {Share(f.Expected, f.Gross)}.",
        BankFact.OtherNumber f => $"The bank line covers {Whole(f.Said)} items, but {Whole(f.Settled)} were settled.",
        _ => null,
    };

    private static string PackedBy(Deposit deposit, Setup s) =>
        $"Bag {deposit.Bag} was packed by {s.NameOf(deposit.By)} and {s.NameOf(deposit.Witness)}";

    private static string Whole(long number) => number.ToString(CultureInfo.InvariantCulture);

    private static string Share(Money part, Money whole) =>
        $"{((decimal)part.Minor / whole.Minor * 100).ToString("0.00", CultureInfo.InvariantCulture)} %";
}
