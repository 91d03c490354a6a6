using System.Collections.Frozen;

namespace Fondo.Core.SetUp;

/// <summary>What a person, a register or a file can do that changes what should be there, what is there, or a control.</summary>
public enum ActKind
{
    // What is there.
    OpenRegister,
    LeaveFloat,
    Count,
    CorrectCount,
    MoveSafeMoney,
    OrderChange,
    MoveChange,
    SealDeposit,
    HandOverDeposit,
    OpenDeposit,
    BringReadings,

    // What should be there.
    BringFiles,
    AgreeToFiles,
    SendJournal,
    DecideLine,
    ExplainGap,
    SetRecordAside,
    TakeBackFile,
    BringStatement,
    MatchBankLine,
    WithdrawStatement,
    PairRows,
    Settle,
    TypePrintedTotals,

    // What explains the difference.
    MakeEntry,
    ReverseEntry,
    ApproveEntry,
    AttachSlip,
    EndClaim,
    CarryItem,
    AnswerCheck,
    Excuse,
    SignOff,
    Close,
    Reopen,

    // Controls.
    BeginDay,
    SaveSetUp,
    LoosenSetUp,
    MakeKey,
    RevokeKey,
    PairMachine,
    EndMachine,
    SaveMapping,
    ChangePerson,
    ConfirmPerson,
    ChangeMailServer,
    MailDocument,

    // One's own matters, and what changes nothing of the store's.
    OwnMatters,
    Draft,
    SignIn,
    NameFirstPeople,
    PlayStandIn,
}

/// <summary>Whether an act needs somebody besides the one who does it.</summary>
public enum Second
{
    Nobody,

    /// <summary>A witness, where the set-up says that this is counted by two.</summary>
    WhereWitnessed,

    /// <summary>Anyone else who counts.</summary>
    Witness,

    /// <summary>Anyone else who counts, above <see cref="Policy.ApprovalAbove"/>.</summary>
    WitnessAboveLimit,

    /// <summary>Another supervisor or manager above <see cref="Policy.ApprovalAbove"/>, all slices taken together.</summary>
    AboveLimit,

    /// <summary>Another supervisor or manager, always.</summary>
    Always,

    /// <summary>Another manager.</summary>
    Manager,

    /// <summary>A manager, who may be the one who does it.</summary>
    AManager,

    /// <summary>The act is itself the word of the second person.</summary>
    IsTheSecond,
}

/// <summary>Who may do an act, and with whom.</summary>
/// <param name="Right">The right of the one who does it; null where everybody may who is signed in, or nobody has to be.</param>
/// <param name="NamesOthers">Whether it may carry the names of others, who then have to agree.</param>
public sealed record ActRule(ActKind Act, Right? Right, Second Second, bool NamesOthers = false);

/// <summary>Every act in one table: who may do it, whether a second person is needed, from which amount, and whose names it may carry
/// (rules §9, §11).</summary>
public static class Acts
{
    /// <summary>The table. A door whose act is not in it does not open.</summary>
    public static readonly ImmutableArray<ActRule> All =
    [
        new(ActKind.OpenRegister, Right.Count, Second.WhereWitnessed),
        new(ActKind.LeaveFloat, Right.Supervise, Second.Nobody),
        new(ActKind.Count, Right.Count, Second.WhereWitnessed),
        new(ActKind.CorrectCount, Right.Supervise, Second.Nobody),
        new(ActKind.MoveSafeMoney, Right.Supervise, Second.WitnessAboveLimit),
        new(ActKind.OrderChange, Right.Supervise, Second.Nobody),
        new(ActKind.MoveChange, Right.Supervise, Second.WitnessAboveLimit),
        new(ActKind.SealDeposit, Right.Supervise, Second.Witness),
        new(ActKind.HandOverDeposit, Right.Supervise, Second.Nobody),
        new(ActKind.OpenDeposit, Right.Supervise, Second.WitnessAboveLimit),
        new(ActKind.BringReadings, null, Second.Nobody),
        new(ActKind.BringFiles, Right.Supervise, Second.AboveLimit, NamesOthers: true),
        new(ActKind.AgreeToFiles, Right.Supervise, Second.IsTheSecond),
        new(ActKind.SendJournal, null, Second.Nobody, NamesOthers: true),
        new(ActKind.DecideLine, Right.Supervise, Second.IsTheSecond),
        new(ActKind.ExplainGap, Right.Supervise, Second.Nobody),
        new(ActKind.SetRecordAside, Right.Supervise, Second.Nobody),
        new(ActKind.TakeBackFile, Right.Supervise, Second.Always),
        new(ActKind.BringStatement, Right.Supervise, Second.AboveLimit),
        new(ActKind.MatchBankLine, Right.Supervise, Second.Nobody),
        new(ActKind.WithdrawStatement, Right.Supervise, Second.Always),
        new(ActKind.PairRows, Right.Supervise, Second.Nobody),
        new(ActKind.Settle, Right.Supervise, Second.Nobody),
        new(ActKind.TypePrintedTotals, Right.Supervise, Second.Nobody),
        new(ActKind.MakeEntry, Right.Supervise, Second.AboveLimit),
        new(ActKind.ReverseEntry, Right.Supervise, Second.AboveLimit),
        new(ActKind.ApproveEntry, Right.Supervise, Second.IsTheSecond),
        new(ActKind.AttachSlip, Right.Supervise, Second.Nobody),
        new(ActKind.EndClaim, Right.Supervise, Second.AboveLimit),
        new(ActKind.CarryItem, Right.Supervise, Second.Nobody, NamesOthers: true),
        new(ActKind.AnswerCheck, Right.Supervise, Second.Nobody),
        new(ActKind.Excuse, Right.Supervise, Second.Nobody),
        new(ActKind.SignOff, Right.Supervise, Second.Nobody),
        new(ActKind.Close, Right.Supervise, Second.Nobody),
        new(ActKind.Reopen, Right.Supervise, Second.AManager),
        new(ActKind.BeginDay, Right.Supervise, Second.Nobody),
        new(ActKind.SaveSetUp, Right.Supervise, Second.Nobody),
        new(ActKind.LoosenSetUp, Right.Supervise, Second.Manager),
        new(ActKind.MakeKey, Right.Supervise, Second.Always),
        new(ActKind.RevokeKey, Right.Supervise, Second.Nobody),
        new(ActKind.PairMachine, Right.Supervise, Second.Nobody),
        new(ActKind.EndMachine, Right.Supervise, Second.Nobody),
        new(ActKind.SaveMapping, Right.Supervise, Second.Nobody),
        new(ActKind.ChangePerson, Right.Supervise, Second.Manager),
        new(ActKind.ConfirmPerson, Right.Supervise, Second.IsTheSecond),
        new(ActKind.ChangeMailServer, Right.Manage, Second.Nobody),
        new(ActKind.MailDocument, Right.Supervise, Second.Nobody),
        new(ActKind.OwnMatters, null, Second.Nobody),
        new(ActKind.Draft, Right.Count, Second.Nobody),
        new(ActKind.SignIn, null, Second.Nobody),
        new(ActKind.NameFirstPeople, null, Second.Nobody),
        new(ActKind.PlayStandIn, null, Second.Nobody),
    ];

    private static readonly FrozenDictionary<ActKind, ActRule> _rules = All.ToFrozenDictionary(r => r.Act);

    /// <exception cref="KeyNotFoundException">The act has no line in the table.</exception>
    public static ActRule Of(ActKind act) => _rules[act];

    /// <summary>Whether a person may do it, by themselves or with the second person that it needs.</summary>
    public static bool May(this Person person, ActKind act) => Of(act).Right is not { } right || person.May(right);

    /// <summary>Whether a person may be the second one for an act of somebody else.</summary>
    public static bool MayBeSecond(this Person second, ActKind act, Person by) => second.Id != by.Id && second.MayWitness(act);

    /// <summary>Whether a person's role is one that the act asks of its second person.</summary>
    public static bool MayWitness(this Person second, ActKind act) => Of(act).Second switch
    {
        Second.Nobody => false,
        Second.WhereWitnessed or Second.Witness or Second.WitnessAboveLimit => second.May(Right.Count),
        Second.Manager or Second.AManager => second.May(Right.Manage),
        _ => second.May(Right.Supervise),
    };
}
