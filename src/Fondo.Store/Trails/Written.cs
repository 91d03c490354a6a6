using Fondo.Core.SetUp;
using Fondo.Store.Model;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.ChangeTracking;

namespace Fondo.Store.Trails;

/// <summary>What of the tables goes into the trail, and the hash of each of their rows. A hash never changes its make-up: what a table gets
/// later is added only where it is there.</summary>
internal static class Written
{
    /// <summary>The acts that these changes are; each is made once its row has its key.</summary>
    public static IReadOnlyList<Func<Act>> In(ChangeTracker changes) =>
        [.. changes.Entries().Select(ActOf).OfType<Func<Act>>()];

    public static string HashOf(SetupRow r) => Hashing.Of(r.From, r.Json, r.By, r.At.UtcTicks, r.Loosens, r.Follows);

    public static string HashOf(SetupApprovalRow r) => Hashing.Of(r.SetupId, r.By, r.At.UtcTicks);

    public static string HashOf(GapRow r) => Hashing.Of(r.Register, r.First, r.Last, r.Reason, r.By, r.At.UtcTicks);

    public static string HashOf(EntryRow r) => Hashing.Of(
        [r.Id, r.Day, r.Kind.Written(), r.Reason, r.By, r.At.UtcTicks, r.Evidence, r.Reverses, r.NeedsApproval,
            .. r.Postings.OrderBy(p => p.Place).SelectMany(p => new object?[] { p.Place, p.Register, p.Drawer, p.Tender, p.Amount.Minor }),
            .. r.Detail is null && r.Together is null ? [] : new object?[] { r.Detail, r.Together }]);

    public static string HashOf(ApprovalRow r) => Hashing.Of(r.EntryId, r.By, r.At.UtcTicks);

    public static string HashOf(ExcuseRow r) => Hashing.Of(r.Day, r.Gate.Written(), r.Item, r.Seen, r.Reason, r.By, r.At.UtcTicks);

    public static string HashOf(CloseRow r) => Hashing.Of([
        r.Number,
        r.Day,
        r.Content,
        r.PreviousHash,
        r.Hash,
        r.At.UtcTicks,
        .. r.By is null ? [] : new object?[] { r.By },
        .. r.Corrects is null && r.Follows is null ? [] : new object?[] { r.Corrects, r.Follows }
    ]);

    public static string HashOf(PairingRow r) =>
        Hashing.Of(r.Id, r.Day, r.Kind.Written(), r.Journal, r.Rows, r.Seen, r.Reason, r.By, r.At.UtcTicks);

    public static string HashOf(AnswerRow r) =>
        Hashing.Of(r.Day, r.Ticket, r.Code.Written(), r.Amount, r.Remedy.Written(), r.Reason, r.By, r.At.UtcTicks);

    public static string HashOf(SignOffRow r) => Hashing.Of(r.Day, r.Register, r.Figures, r.By, r.At.UtcTicks);

    public static string HashOf(ReopeningRow r) => Hashing.Of(r.Number, r.Day, r.Reason, r.By, r.At.UtcTicks);

    public static string HashOf(CarryChangeRow r) => Hashing.Of(r.Day, r.Close, r.Says, r.At.UtcTicks);

    public static string HashOf(AttachmentRow r) => Hashing.Of(r.Id, r.Day, r.EntryId, r.Name, r.Type, r.Size, r.Hash, r.By, r.At.UtcTicks);

    public static string HashOf(SafeMovementRow r) => Hashing.Of(
        [r.Id, r.Day, r.Kind.Written(), r.Amount, r.Reason, r.By, r.At.UtcTicks,
            .. r.Witness is null && r.Register is null && r.Order is null && r.Pieces.Length == 0
                ? []
                : new object?[] { r.Witness, r.Register, r.Order, r.Pieces }]);

    public static string HashOf(ChangeOrderRow r) => Hashing.Of(r.Number, r.Id, r.Day, r.Pieces, r.By, r.At.UtcTicks);

    public static string HashOf(DepositRow r) =>
        Hashing.Of(r.Number, r.Id, r.Day, r.Bag, r.Pieces, r.Checks, r.By, r.Witness, r.At.UtcTicks);

    public static string HashOf(HandOverRow r) => Hashing.Of(r.Number, r.To, r.Seal, r.By, r.At.UtcTicks);

    public static string HashOf(UnsealingRow r) =>
        Hashing.Of([r.Number, r.Day, r.Reason, r.By, r.At.UtcTicks, .. r.Witness is null ? [] : new object?[] { r.Witness }]);

    public static string HashOf(BankStatementRow r) =>
        Hashing.Of(r.Id, r.Account, r.Currency, r.From, r.To, r.Opening, r.Closing, r.File, r.By, r.At.UtcTicks);

    public static string HashOf(BankLineRow r) => Hashing.Of([
        r.Key,
        r.Statement,
        r.Place,
        r.Day,
        r.Booked,
        r.Amount,
        r.Text,
        r.Items,
        .. r.Waits ? new object?[] { "waits" } : [],
        .. r.IsReversal || r.Details is not null ? new object?[] { r.IsReversal, r.Details } : []
    ]);

    public static string HashOf(MailServerRow r) => Hashing.Of([
        r.Host,
        r.Port,
        r.Security.Written(),
        r.User,
        r.Secret,
        r.Sender,
        r.CloseTo,
        r.By,
        r.At.UtcTicks,
        .. r.ReceiptTo.Length > 0 ? new object?[] { r.ReceiptTo } : []
    ]);

    public static string HashOf(BankDecisionRow r) =>
        Hashing.Of(r.Id, r.Day, r.Line, r.Kind.Written(), r.Target, r.Reason, r.By, r.At.UtcTicks);

    public static string HashOf(StatementWithdrawalRow r) => Hashing.Of(r.Statement, r.Reason, r.By, r.Witness, r.At.UtcTicks);

    public static string HashOf(BankLineDayRow r) => Hashing.Of(r.Key, r.Day);

    public static string HashOf(CorrectionRow r) => Hashing.Of(r.Close, r.Day);

    public static string HashOf(HeldFilesRow r) =>
        Hashing.Of(r.Id, r.Day, r.IsStatement, r.Files, r.Changes, r.NeedsSecond, r.Named, r.By, r.At.UtcTicks);

    public static string HashOf(HeldAgreementRow r) => Hashing.Of(r.Held, r.By, r.At.UtcTicks);

    public static string HashOf(HeldEndRow r) => Hashing.Of(r.Held, r.IsTaken, r.By, r.At.UtcTicks);

    public static string HashOf(FileChangeRow r) =>
        Hashing.Of(r.Day, r.Register, r.Drawer, r.Tender, r.Amount, r.File, r.By, r.Witness, r.At.UtcTicks);

    public static string HashOf(LateTicketRow r) => Hashing.Of(r.Ticket, r.RungOn, r.CountsOn);

    public static string HashOf(SeenRow r) => Hashing.Of(r.Day, r.Drawer, r.By, r.Where, r.At.UtcTicks);

    public static string HashOf(AsideRow r) =>
        Hashing.Of(r.Kind.Written(), r.WaitsFor, r.Line, r.Register, r.Key, r.Json, r.Why, r.IsConflict, r.From, r.At.UtcTicks);

    public static string HashOf(RegisterKeyRow r) =>
        Hashing.Of([r.Id, r.Register, r.Hash, r.MadeBy, r.MadeAt.UtcTicks, .. r.Witness is null ? [] : new object?[] { r.Witness }]);

    public static string HashOf(MachineRow r) => Hashing.Of(r.Id, r.Name, r.Hash, r.PairedBy, r.PairedAt.UtcTicks);

    public static string HashOf(MachineReadingRow r) => Hashing.Of(r.Day, r.Target, r.Device, r.Number, r.Json, r.From, r.At.UtcTicks);

    public static string HashOf(SettlementRow r) => Hashing.Of(r.Id, r.Day, r.Terminal, r.By, r.At.UtcTicks);

    public static string HashOf(SettlementStepRow r) =>
        Hashing.Of(r.SettlementId, r.Number, r.State.Written(), r.Says, r.Batch, r.NextAt?.UtcTicks, r.At.UtcTicks);

    public static string HashOf(MappingRow r) => Hashing.Of(r.Name, r.Json, r.By, r.At.UtcTicks);

    public static Act ActOf(SetupRow r) => new(TrailAct.Setup, r.By, $"from {r.From:yyyy-MM-dd}",
        r.Loosens is null ? "the set-up" : $"a set-up that loosens: {r.Loosens.ReplaceLineEndings("; ")}", $"Setups:{r.Id}", HashOf(r));

    public static Act ActOf(SetupApprovalRow r) =>
        new(TrailAct.ApproveSetup, r.By, $"set-up {r.SetupId}", "approved", $"SetupApprovals:{r.SetupId}", HashOf(r));

    public static Act ActOf(GapRow r) =>
        new(TrailAct.Gap, r.By, r.Register, $"{r.First} to {r.Last} will not come", $"Gaps:{r.Id}", HashOf(r));

    public static Act ActOf(EntryRow r) =>
        new(TrailAct.Entry, r.By, $"{r.Day:yyyy-MM-dd}", $"{r.Kind.Written()}: {r.Reason}", $"Entries:{r.Id}", HashOf(r));

    public static Act ActOf(ApprovalRow r) =>
        new(TrailAct.Approve, r.By, $"entry {r.EntryId}", "approved", $"Approvals:{r.EntryId}", HashOf(r));

    public static Act ActOf(ExcuseRow r) =>
        new(TrailAct.Excuse, r.By, $"{r.Day:yyyy-MM-dd}", $"{r.Gate.Written()}: {r.Item}", $"Excuses:{KeyOf(r)}", HashOf(r));

    public static Act ActOf(CloseRow r) =>
        new(TrailAct.Close, r.By, $"{r.Day:yyyy-MM-dd}", $"closed as number {r.Number}", $"Closes:{r.Number}", HashOf(r));

    public static Act ActOf(LateTicketRow r) => new(TrailAct.Late, null, r.Ticket,
        $"rung on {r.RungOn:yyyy-MM-dd}, counted on {r.CountsOn:yyyy-MM-dd}", $"LateTickets:{r.Ticket}", HashOf(r));

    public static Act ActOf(SeenRow r) => new(TrailAct.Saw, r.By, $"{r.Day:yyyy-MM-dd} {r.Drawer}", $"saw what should be there: {r.Where}",
        $"Seen:{r.Day:yyyy-MM-dd}/{r.Drawer}/{r.By}", HashOf(r));

    public static Act ActOf(AsideRow r) =>
        new(TrailAct.Aside, r.From, r.Register, $"{r.Key} waits for a person", $"Aside:{r.Id}", HashOf(r));

    public static Act ActOf(RegisterKeyRow r) => new(TrailAct.Key, r.MadeBy, r.Register,
        r.Witness is { } second ? $"a key was made, with {second}" : "a key was made", $"RegisterKeys:{r.Id}", HashOf(r));

    public static Act ActOf(MachineRow r) => new(TrailAct.Machine, r.PairedBy, r.Name, "paired", $"Machines:{r.Id}", HashOf(r));

    public static Act ActOf(MachineReadingRow r) => new(TrailAct.Reading, r.From, $"{r.Day:yyyy-MM-dd} {r.Target}",
        $"reading {r.Number} of {r.Device}", $"MachineReadings:{r.Id}", HashOf(r));

    public static Act ActOf(SettlementRow r) =>
        new(TrailAct.Settle, r.By, $"{r.Day:yyyy-MM-dd} {r.Terminal}", "told to settle", $"Settlements:{r.Id}", HashOf(r));

    public static Act ActOf(SettlementStepRow r) => new(TrailAct.Settle, null, $"settlement {r.SettlementId}",
        $"{r.State.Written()}: {r.Says}", $"SettlementSteps:{r.SettlementId}/{r.Number}", HashOf(r));

    public static Act ActOf(MappingRow r) =>
        new(TrailAct.Mapping, r.By, r.Name, r.Json.Length == 0 ? "ended" : "saved", $"Mappings:{r.Id}", HashOf(r));

    public static Act ActOf(PairingRow r) => new(TrailAct.Pairing, r.By, $"{r.Day:yyyy-MM-dd}",
        $"{r.Kind.Written()}: {string.Join(", ", (r.Journal + "\n" + r.Rows).Split('\n', StringSplitOptions.RemoveEmptyEntries))}",
        $"Pairings:{r.Number}", HashOf(r));

    public static Act ActOf(AnswerRow r) => new(TrailAct.Answer, r.By, $"{r.Day:yyyy-MM-dd} {r.Ticket}",
        $"{r.Code.Written()}: {r.Remedy.Written()}", $"Answers:{r.Number}", HashOf(r));

    public static Act ActOf(SignOffRow r) =>
        new(TrailAct.SignOff, r.By, $"{r.Day:yyyy-MM-dd} {r.Register}", "signed off", $"SignOffs:{r.Number}", HashOf(r));

    public static Act ActOf(ReopeningRow r) => new(TrailAct.Reopen, r.By, $"{r.Day:yyyy-MM-dd}",
        $"opened close {r.Number} again: “{r.Reason}”", $"Reopenings:{r.Number}", HashOf(r));

    public static Act ActOf(CarryChangeRow r) =>
        new(TrailAct.CarryChange, null, $"{r.Day:yyyy-MM-dd}", r.Says, $"CarryChanges:{r.Number}", HashOf(r));

    public static Act ActOf(AttachmentRow r) =>
        new(TrailAct.Attach, r.By, $"{r.Day:yyyy-MM-dd}", $"{r.Name}, {r.Type}", $"Attachments:{r.Id}", HashOf(r));

    public static Act ActOf(SafeMovementRow r) =>
        new(TrailAct.Safe, r.By, $"{r.Day:yyyy-MM-dd}", $"{r.Kind.Written()}: {r.Reason}", $"SafeMovements:{r.Id}", HashOf(r));

    public static Act ActOf(ChangeOrderRow r) =>
        new(TrailAct.Safe, r.By, $"{r.Day:yyyy-MM-dd}", $"ordered change, order {r.Number}", $"ChangeOrders:{r.Number}", HashOf(r));

    public static Act ActOf(DepositRow r) => new(TrailAct.Deposit, r.By, $"{r.Day:yyyy-MM-dd}",
        $"sealed deposit {r.Number} in bag {r.Bag}, with {r.Witness}", $"Deposits:{r.Number}", HashOf(r));

    public static Act ActOf(HandOverRow r) =>
        new(TrailAct.Deposit, r.By, $"deposit {r.Number}", $"handed over to {r.To}", $"HandOvers:{r.Number}", HashOf(r));

    public static Act ActOf(UnsealingRow r) =>
        new(TrailAct.Deposit, r.By, $"deposit {r.Number}", $"opened again: {r.Reason}", $"Unsealings:{r.Number}", HashOf(r));

    public static Act ActOf(BankStatementRow r) => new(TrailAct.Bank, r.By, r.Account,
        $"statement {r.Id}, {r.From:yyyy-MM-dd} to {r.To:yyyy-MM-dd}", $"BankStatements:{r.Id}", HashOf(r));

    public static Act ActOf(BankLineRow r) =>
        new(TrailAct.Bank, null, $"{r.Day:yyyy-MM-dd}", $"line {r.Key}: {r.Text}", $"BankLines:{r.Key}", HashOf(r));

    /// <summary>All lines of a statement, in their order.</summary>
    public static Act ActOf(string statement, IEnumerable<BankLineRow> lines)
    {
        var hashes = lines.Select(HashOf).ToArray<object?>();
        return new(TrailAct.Bank, null, statement, hashes.Length == 1 ? "1 line" : $"{hashes.Length} lines", $"{LinesOf}{statement}",
            Hashing.Of(hashes));
    }

    /// <summary>Where the lines of a statement stand as one act. Older stores have an act for each line.</summary>
    public const string LinesOf = "BankLines of:";

    public static Act ActOf(MailServerRow r) =>
        new(TrailAct.MailServer, r.By, r.Host.Length == 0 ? "off" : $"{r.Host}:{r.Port}",
            $"sender {r.Sender}, {(r.CloseTo.Length == 0 ? "closes not mailed" : $"closes mailed to {r.CloseTo}")}"
                + $"{(r.ReceiptTo.Length == 0 ? "" : $", receipts copied to {r.ReceiptTo}")}", $"MailServers:{r.Number}", HashOf(r));

    public static Act ActOf(BankDecisionRow r) =>
        new(TrailAct.Bank, r.By, $"{r.Day:yyyy-MM-dd}",
            r.Line.Length == 0 ? $"{r.Kind.Written()}: {r.Target}: {r.Reason}"
                : $"{r.Kind.Written()} line {r.Line}{(r.Target is null ? "" : $" to {r.Target}")}: {r.Reason}", $"BankDecisions:{r.Number}",
            HashOf(r));

    public static Act ActOf(StatementWithdrawalRow r) =>
        new(TrailAct.Bank, r.By, r.Statement, $"withdrew the statement, with {r.Witness}: {r.Reason}",
            $"StatementWithdrawals:{r.Statement}", HashOf(r));

    public static Act ActOf(BankLineDayRow r) =>
        new(TrailAct.Bank, null, $"{r.Day:yyyy-MM-dd}", $"matches line {r.Key}, which waited", $"BankLineDays:{r.Key}", HashOf(r));

    public static Act ActOf(HeldFilesRow r) => new(TrailAct.Files, r.By, r.Day is { } day ? $"{day:yyyy-MM-dd}" : "files",
        "brought files that wait for another person", $"HeldFiles:{r.Id}", HashOf(r));

    public static Act ActOf(HeldAgreementRow r) =>
        new(TrailAct.Files, r.By, $"files {r.Held}", "agreed", $"HeldAgreements:{r.Number}", HashOf(r));

    public static Act ActOf(HeldEndRow r) =>
        new(TrailAct.Files, r.By, $"files {r.Held}", r.IsTaken ? "taken in" : "not taken in", $"HeldEnds:{r.Held}", HashOf(r));

    public static Act ActOf(FileChangeRow r) =>
        new(TrailAct.Files, r.By, $"{r.Day:yyyy-MM-dd}",
            $"{r.File} changed {r.Register} {r.Drawer} {r.Tender}{(r.Witness is { } second ? $", with {second}" : "")}",
            $"FileChanges:{r.Number}", HashOf(r));

    public static Act ActOf(CorrectionRow r) => new(TrailAct.CarryChange, null, $"{r.Day:yyyy-MM-dd}",
        $"posts the correction of close {r.Close}", $"Corrections:{r.Close}", HashOf(r));

    /// <summary>Before the table and key of a row that may change: the last line of it says how it stands.</summary>
    public const string StateOf = "State of ";

    /// <summary>A person as they sign in and as what.</summary>
    public static (string Of, string Content) StateOfPerson(StorePerson p) => (
        $"{StateOf}AspNetUsers:{p.Id}",
        Hashing.Of([p.PersonId, p.Name, p.Role.Written(), p.IsOff, p.MustChoosePin, p.PasswordHash, p.PlainKeys.Written(), p.GivenBy,
            p.ConfirmedBy]));

    /// <summary>A key that was revoked.</summary>
    public static (string Of, string Content) StateOfKey(RegisterKeyRow r) =>
        ($"{StateOf}RegisterKeys:{r.Id}", Hashing.Of(r.RevokedBy, r.RevokedAt?.UtcTicks));

    /// <summary>A machine that is no longer paired.</summary>
    public static (string Of, string Content) StateOfMachine(MachineRow r) =>
        ($"{StateOf}Machines:{r.Id}", Hashing.Of(r.EndedBy, r.EndedAt?.UtcTicks));

    /// <summary>A line that was decided about.</summary>
    public static (string Of, string Content) StateOfAside(long id, string decision, string? reason, string? by, DateTimeOffset? at) =>
        ($"{StateOf}Aside:{id}", Hashing.Of(decision, reason, by, at?.UtcTicks));

    /// <summary>What is known of a day besides its records.</summary>
    public static (string Of, string Content) StateOfDay(DayRow r) =>
        ($"{StateOf}Days:{r.Date:yyyy-MM-dd}", Hashing.Of(r.Store, r.HasRows, r.HasLedger, r.HasTrade));

    private static Act StateAct(TrailAct what, string? by, string on, string says, (string Of, string Content) state) =>
        new(what, by, on, says, state.Of, state.Content);

    /// <summary>A day, a gate, an item and what was seen make a long key; its hash stands for it.</summary>
    public static string KeyOf(ExcuseRow r) => Hashing.Of(r.Day, r.Gate.Written(), r.Item, r.Seen);

    private static Func<Act>? ActOf(EntityEntry change) => (change.State, change.Entity) switch
    {
        (EntityState.Added, SetupRow r) => () => ActOf(r),
        (EntityState.Added, SetupApprovalRow r) => () => ActOf(r),
        (EntityState.Added, GapRow r) => () => ActOf(r),
        (EntityState.Added, EntryRow r) => () => ActOf(r),
        (EntityState.Added, ApprovalRow r) => () => ActOf(r),
        (EntityState.Added, ExcuseRow r) => () => ActOf(r),
        (EntityState.Added, CloseRow r) => () => ActOf(r),
        (EntityState.Added, LateTicketRow r) => () => ActOf(r),
        (EntityState.Added, SeenRow r) => () => ActOf(r),
        (EntityState.Added, MachineReadingRow r) => () => ActOf(r),
        (EntityState.Added, SettlementRow r) => () => ActOf(r),
        (EntityState.Added, SettlementStepRow r) => () => ActOf(r),
        (EntityState.Added, MappingRow r) => () => ActOf(r),
        (EntityState.Added, PairingRow r) => () => ActOf(r),
        (EntityState.Added, AnswerRow r) => () => ActOf(r),
        (EntityState.Added, SignOffRow r) => () => ActOf(r),
        (EntityState.Added, ReopeningRow r) => () => ActOf(r),
        (EntityState.Added, CarryChangeRow r) => () => ActOf(r),
        (EntityState.Added, AttachmentRow r) => () => ActOf(r),
        (EntityState.Added, SafeMovementRow r) => () => ActOf(r),
        (EntityState.Added, DepositRow r) => () => ActOf(r),
        (EntityState.Added, HandOverRow r) => () => ActOf(r),
        (EntityState.Added, UnsealingRow r) => () => ActOf(r),
        (EntityState.Added, BankStatementRow r) => () => ActOf(r),
        (EntityState.Added, BankLineDayRow r) => () => ActOf(r),
        (EntityState.Added, BankDecisionRow r) => () => ActOf(r),
        (EntityState.Added, MailServerRow r) => () => ActOf(r),
        (EntityState.Added, StatementWithdrawalRow r) => () => ActOf(r),
        (EntityState.Added, CorrectionRow r) => () => ActOf(r),
        (EntityState.Added, HeldFilesRow r) => () => ActOf(r),
        (EntityState.Added, HeldAgreementRow r) => () => ActOf(r),
        (EntityState.Added, HeldEndRow r) => () => ActOf(r),
        (EntityState.Added, FileChangeRow r) => () => ActOf(r),
        (EntityState.Added, ChangeOrderRow r) => () => ActOf(r),
        (EntityState.Added, AsideRow r) => () => ActOf(r),
        (EntityState.Added, RegisterKeyRow r) => () => ActOf(r),
        (EntityState.Added, MachineRow r) => () => ActOf(r),
        (EntityState.Modified, RegisterKeyRow r) =>
            () => StateAct(TrailAct.RevokeKey, r.RevokedBy, r.Register, "a key was revoked", StateOfKey(r)),
        (EntityState.Modified, MachineRow r) => () => StateAct(TrailAct.Machine, r.EndedBy, r.Name, "no longer paired", StateOfMachine(r)),
        (EntityState.Added, DayRow r) => () => StateAct(TrailAct.Records, null, $"{r.Date:yyyy-MM-dd}", "the day began", StateOfDay(r)),
        (EntityState.Modified, DayRow r)
            when new[] { nameof(DayRow.HasRows), nameof(DayRow.HasLedger), nameof(DayRow.HasTrade) }
                .Any(p => change.Property(p).IsModified) =>
            () => StateAct(TrailAct.Records, null, $"{r.Date:yyyy-MM-dd}", "a new kind of file arrived", StateOfDay(r)),
        (EntityState.Added, StorePerson p) => Said(TrailAct.Person, p, $"made: {p.Name}, {p.Role.Written()}"),
        (EntityState.Modified, StorePerson p) => Changed(p, change),
        _ => null,
    };

    private static Func<Act>? Changed(StorePerson person, EntityEntry change)
    {
        string?[] said =
        [
            Change<string>(change, nameof(StorePerson.Name), "name", n => n),
            Change<Role>(change, nameof(StorePerson.Role), "role", r => r.Written()),
            Change<bool>(change, nameof(StorePerson.IsOff), "signs in", off => off ? "no" : "yes"),
            Change<string?>(change, nameof(StorePerson.GivenBy), "sign-in given by", g => g ?? "nobody"),
            Change<string?>(change, nameof(StorePerson.ConfirmedBy), "confirmed by", c => c ?? "nobody"),
            Change<PlainKeys>(change, nameof(StorePerson.PlainKeys), "keys", k => k.Written()),
        ];
        var isPin = change.Property(nameof(StorePerson.PasswordHash)).IsModified;
        var says = string.Join("; ", said.OfType<string>()
            .Append(isPin ? person.MustChoosePin ? "was given a PIN to begin with" : "chose a PIN" : null).OfType<string>());
        return says.Length == 0 ? null : Said(isPin ? TrailAct.Pin : TrailAct.Person, person, says);
    }

    private static Func<Act> Said(TrailAct what, StorePerson person, string says) =>
        () => StateAct(what, null, person.PersonId, says, StateOfPerson(person));

    private static string? Change<T>(EntityEntry change, string property, string name, Func<T, string> say) =>
        change.Property(property) is { IsModified: true } p && !Equals(p.OriginalValue, p.CurrentValue)
            ? $"{name}: from {say((T)p.OriginalValue!)} to {say((T)p.CurrentValue!)}"
            : null;
}
