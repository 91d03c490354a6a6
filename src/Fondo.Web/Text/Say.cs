using System.Globalization;
using Fondo.Core.Amounts;
using Fondo.Core.Closing;
using Fondo.Core.Custody;
using Fondo.Core.Entries;
using Fondo.Core.Journal;
using Fondo.Core.Matching;
using Fondo.Core.SetUp;
using Fondo.Core.Sheets;
using Fondo.Store.Days;
using Fondo.Store.Model;

namespace Fondo.Web.Text;

/// <summary>How amounts and times are said to people.</summary>
internal static class Say
{
    /// <summary>1,284.15 and −300.00: a real minus, thousands set apart.</summary>
    public static string Amount(Money amount, Currency currency) => currency.Say(amount);

    public static string Amount(Money? amount, Currency currency) => amount is { } known ? Amount(known, currency) : "—";

    /// <summary>With its sign on both sides of nothing: +31.47, −31.47.</summary>
    public static string Signed(Money amount, Currency currency) => (amount.Sign > 0 ? "+" : "") + Amount(amount, currency);

    /// <summary>“short 20.00”, “over 3.10”.</summary>
    public static string Variance(Money amount, Currency currency) => $"{Side(amount)} {Amount(amount.Abs(), currency)}";

    public static string Side(Money amount) => amount.Sign < 0 ? "short" : "over";

    public static string Time(DateTimeOffset at, Setup setup) =>
        TimeZoneInfo.ConvertTime(at, setup.TimeZone).ToString("HH:mm", CultureInfo.InvariantCulture);

    public static string LongDate(DateOnly date) => date.ToString("dddd, d MMMM yyyy", CultureInfo.InvariantCulture);

    /// <summary>By first name; by the whole name where somebody else of the store has the same first one.</summary>
    public static string Person(PersonId? id, Setup setup)
    {
        var name = setup.NameOf(id);
        return setup.People.Any(p => p.Id != id && FirstName(p.Name) == FirstName(name)) ? name : FirstName(name);

        static string FirstName(string name) => name.Split(' ')[0];
    }

    public static string Count(int number, string one, string? many = null) =>
        number == 1 ? $"1 {one}" : $"{(number == 0 ? "no" : number.ToString("N0", CultureInfo.InvariantCulture))} {many ?? one + "s"}";

    /// <summary>“a”, “a and b”, “a, b and c”.</summary>
    public static string List(IReadOnlyList<string> things) =>
        things.Count < 2 ? string.Concat(things) : $"{string.Join(", ", things.Take(things.Count - 1))} and {things[^1]}";

    /// <summary>Small numbers as words.</summary>
    public static string Number(int number) => number switch
    {
        1 => "one",
        2 => "two",
        3 => "three",
        4 => "four",
        5 => "five",
        6 => "six",
        _ => number.ToString(CultureInfo.InvariantCulture)
    };

    public static string Capital(string text) => text.Length == 0 ? text : char.ToUpperInvariant(text[0]) + text[1..];

    /// <summary>A tender or a settled row as a person calls it.</summary>
    public static Func<Item, string> Of(Setup setup) => item => item.Row is { } row
        ? $"{Amount(item.Amount, setup.Currency)} settled on {row.Key.Terminal}, {Time(item.At, setup)}"
        : $"{Amount(item.Amount, setup.Currency)} {setup.NameOf(item.Cell.Tender).ToLowerInvariant()}, "
            + $"{setup.NameOf(item.Cell.Register)}, {Time(item.At, setup)}";

    public static string Kind(EntryKind kind) => kind switch
    {
        EntryKind.Reclassify => "Reclassified",
        EntryKind.Record => "Recorded",
        EntryKind.Recount => "Counted otherwise",
        EntryKind.Carry => "Carried",
        EntryKind.Claim => "Claimed",
        EntryKind.Accept => "Accepted",
        _ => "Reversed",
    };

    /// <summary>The causes of open items, in words.</summary>
    public static string Of(Cause cause) => cause switch
    {
        Cause.AfterCutoff => "rung after the terminal’s last batch was closed",
        Cause.BatchAbsent => "its terminal has no batch today",
        Cause.MissingFromBatch => "in the journal, not settled",
        Cause.NotInJournal => "settled, not in the journal",
        Cause.ChargedTwice => "the same card and amount settled twice",
        Cause.VoidNotSent => "voided at the register but settled anyway",
        Cause.ReversalNotSent => "reversed at the register but settled anyway",
        _ => "declined at the register but settled anyway",
    };

    /// <summary>The same of what a terminal holds and has not settled: there it can be put right.</summary>
    public static string BeforeSettling(Cause cause) => cause switch
    {
        Cause.NotInJournal => "On the terminal, not in the journal: void it there if it should not be charged",
        Cause.VoidNotSent => "Voided at the register, still on the terminal: void it there",
        Cause.ReversalNotSent => "Reversed at the register, still on the terminal: void it there",
        Cause.DeclinedButSettled => "Declined at the register, but on the terminal: void it there",
        Cause.ChargedTwice => "On the terminal twice: the same card and amount",
        _ => "In the journal, not on the terminal",
    };

    /// <summary>How long something can still be put right.</summary>
    public static string TimeLeft(TimeSpan left) =>
        left <= TimeSpan.Zero ? "too late to correct: decide who takes the loss"
        : left.TotalHours >= 1 ? $"{Math.Floor(left.TotalHours):0} h left to correct it"
        : $"{Math.Ceiling(left.TotalMinutes):0} min left to correct it";

    /// <summary>What a pair agrees on.</summary>
    public static string Of(TrailAct act) => act switch
    {
        TrailAct.Begin => "the trail began",
        TrailAct.Records => "imported records",
        TrailAct.Aside => "set aside",
        TrailAct.Decide => "decided",
        TrailAct.Gap => "explained missing numbers",
        TrailAct.Entry => "made an entry",
        TrailAct.Approve => "approved an entry",
        TrailAct.Excuse => "excused",
        TrailAct.Close => "closed a day",
        TrailAct.Late => "counted a late ticket",
        TrailAct.Setup => "saved a set-up",
        TrailAct.ApproveSetup => "approved a set-up",
        TrailAct.Key => "made a key",
        TrailAct.RevokeKey => "revoked a key",
        TrailAct.Person => "changed a person",
        TrailAct.Pin => "changed a PIN",
        TrailAct.Machine => "changed a machine",
        TrailAct.SignIn => "signed in",
        TrailAct.SignOut => "signed out",
        TrailAct.Refused => "was refused",
        TrailAct.Saw => "saw expected amounts",
        TrailAct.Reading => "counted by machine",
        TrailAct.Settle => "settled",
        TrailAct.Mapping => "changed a mapping",
        TrailAct.Pairing => "matched by hand",
        TrailAct.Answer => "answered a check",
        TrailAct.SignOff => "signed off a register",
        TrailAct.Reopen => "reopened a day",
        TrailAct.CarryChange => "changed a carried item",
        TrailAct.Attach => "attached a file",
        TrailAct.Send => "mail sent",
        TrailAct.MailServer => "changed the mail server",
        TrailAct.Files => "uploaded files",
        TrailAct.Export => "downloaded a file",
        TrailAct.Restore => "restored a backup",
        TrailAct.Safe => "moved money at the safe",
        TrailAct.Deposit => "made a deposit",
        TrailAct.Bank => "imported a statement",
        _ => "backed up",
    };

    /// <summary>Records of a kind, as their written name says it.</summary>
    public static string Records(string kind) => kind switch
    {
        "event" => "Journal lines",
        "row" => "Settled rows",
        "total" => "Batch totals",
        "count" => "Counts",
        "carried" => "Carried items",
        "ledger" => "Lines of the store’s books",
        "printed" => "Printed totals",
        _ => Capital(kind),
    };

    /// <summary>On which way records came in.</summary>
    /// <param name="by">A person’s name, or the register or machine.</param>
    public static string Way(SourceWay way, string by, string? file) => way switch
    {
        SourceWay.Key => $"sent by {by} with its key",
        SourceWay.Page => $"typed by {by}",
        SourceWay.File => $"in {file}, imported by {by}",
        SourceWay.Folder => $"in {file}, from the watched folder",
        _ => "sent by the processor",
    };

    /// <summary>Movements of the safe.</summary>
    public static string Of(SafeLine line, DayView view)
    {
        var register = view.Overview.Sessions.FirstOrDefault(s => s.Drawer.Value == line.Source)?.Register;
        return line.Kind switch
        {
            SafeLineKind.Opening => "opening amount",
            SafeLineKind.Bag => $"bag {line.Source}, opened at the safe",
            SafeLineKind.Drawer => $"drawer {line.Source} of {view.Setup.NameOf(register)}, counted",
            SafeLineKind.Float => $"the float of {view.Setup.NameOf(register)}",
            SafeLineKind.Loan => "a loan to a drawer",
            SafeLineKind.Deposit => $"deposit {line.Source}",
            SafeLineKind.Unsealed => $"deposit {line.Source}, opened again",
            SafeLineKind.Movement => view.Money.Acts.Movements.FirstOrDefault(m => m.Id.ToString() == line.Source) is { } m
                ? $"{Movement(m.Kind)}: “{m.Reason}”"
                : "change",
            _ => view.Entries.FirstOrDefault(e => e.Id.ToString() == line.Source) is { } entry
                ? $"an entry: “{entry.Reason}”"
                : "an entry",
        };
    }

    public static string Of(MatchRule rule) => rule switch
    {
        MatchRule.Reference => "same reference",
        MatchRule.Approval => "same approval and card",
        MatchRule.Proximity => "same terminal, amount and time",
        MatchRule.OtherTerminal => "same card on another terminal",
        MatchRule.AmountDiffers => "same card, amounts differ",
        MatchRule.Direction => "same amount, sign turned",
        MatchRule.ByHand => "matched by hand",
        _ => "one card, equal in sum",
    };

    /// <summary>How far to trust a lead, in words and as the chance that it is wrong.</summary>
    public static string Likely(double chance)
    {
        var words = chance switch { < 0.05 => "almost certain", < 0.2 => "likely", < 0.6 => "possible", _ => "less likely" };
        return string.Create(CultureInfo.InvariantCulture, $"{words}: wrong {Math.Max(chance, 0.001) * 100:0.#} times in 100");
    }

    /// <summary>A kind of event, in words.</summary>
    public static string Event(EventKind kind) => kind switch
    {
        EventKind.PaidIn => "paid in",
        EventKind.PaidOut => "paid out",
        _ => kind.Written(),
    };

    /// <summary>What can be done about a finding, in words.</summary>
    public static string Of(Remedy remedy) => remedy switch
    {
        Remedy.RefundTax => "refund the tax",
        Remedy.RefundFee => "refund the fee",
        Remedy.ChargeAgain => "charge again",
        Remedy.GiveBack => "give it back",
        Remedy.TalkToCashier => "talk to the cashier",
        Remedy.AskCustomer => "ask the customer",
        _ => "leave it as it is",
    };

    /// <summary>A float that is not as it was left, with both people and times.</summary>
    public static string Float(FloatDifference difference, Setup setup)
    {
        var (session, expected) = (difference.Session, difference.Expected);
        var left = expected switch
        {
            { LeftBy: null } => $"the standard float is {Amount(expected.Amount, setup.Currency)}",
            { IsKept: false } =>
                $"the standard float is {Amount(expected.Amount, setup.Currency)}; {setup.NameOf(expected.LeftBy)} counted it last, "
                    + $"{Moment(expected.LeftAt!.Value, setup)}",
            _ =>
                $"{Amount(expected.Amount, setup.Currency)} were left by {setup.NameOf(expected.LeftBy)}, "
                    + $"{Moment(expected.LeftAt!.Value, setup)}",
        };
        return $"{setup.NameOf(session.Register)} opened {Variance(difference.Off, setup.Currency)}: "
            + $"{Amount(difference.Declared, setup.Currency)} by {setup.NameOf(session.Cashier)}, {Moment(session.From, setup)}; {left}.";
    }

    public static string Of(MissedSettlement missed, Setup setup) => (missed.ByItself, missed.LastClosed) switch
    {
        (true, null) => $"{missed.Terminal} should have settled by itself at {Time(missed.Due, setup)}. No batch has come.",
        (true, { } last) => $"{missed.Terminal} should have settled by itself at {Time(missed.Due, setup)}. No batch has come since "
            + $"{Time(last, setup)}.",
        (false, null) => $"{missed.Terminal} should have been settled by {Time(missed.Due, setup)}. It is not settled yet.",
        (false, { } last) => $"{missed.Terminal} should have been settled by {Time(missed.Due, setup)}. It was settled at "
            + $"{Time(last, setup)} and has taken cards since.",
    };

    /// <summary>What a register did otherwise than the set-up, or its clock, says.</summary>
    public static string Disagreement(Disagreement d, Setup setup) => d.Kind switch
    {
        DisagreementKind.TerminalElsewhere =>
            setup.Terminals.FirstOrDefault(t => t.Terminal == d.Tender!.Card!.Terminal && t.Holds(d.Event.At)) is { } place
            ? $"the card was run on {place.Terminal}, the terminal of {setup.NameOf(place.Register)}"
            : $"the card was run on {d.Tender!.Card!.Terminal}, which had no register at that time",
        DisagreementKind.TenderNotTaken =>
            $"{setup.NameOf(d.Tender!.Type)}, which {setup.NameOf(d.Event.Register)} is not set up to take",
        DisagreementKind.TenderTwice => $"{setup.NameOf(d.Tender!.Type)} twice on one ticket, where only one is allowed",
        DisagreementKind.OpenedByAnother =>
            $"opened by {setup.NameOf(d.Event.Head.Cashier)}, who may not open {setup.NameOf(d.Event.Register)}",
        _ => $"the register’s clock went back: {Time(d.Event.At, setup)} after {Time(d.Before!.At, setup)} of {d.Before.Id}",
    };

    public static string Moment(DateTimeOffset at, Setup setup) =>
        TimeZoneInfo.ConvertTime(at, setup.TimeZone) is var local && DateOnly.FromDateTime(local.DateTime) == setup.TradingDay.Date
            ? $"at {Time(at, setup)}"
            : $"{local.ToString("ddd d MMM", CultureInfo.InvariantCulture)} at {Time(at, setup)}";

    public static string Role(Role role) => role.ToString().ToLowerInvariant();

    /// <summary>What moved at the safe.</summary>
    public static string Movement(SafeMovementKind kind) => kind switch
    {
        SafeMovementKind.ChangeBought => "change from the bank",
        SafeMovementKind.ChangeGiven => "payment for change",
        SafeMovementKind.FloatIssued => "float into a drawer",
        SafeMovementKind.PettyCash => "petty cash",
        SafeMovementKind.Opening => "opening amount",
        _ => "closed change order",
    };
}
