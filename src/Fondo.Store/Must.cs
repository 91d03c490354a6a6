using Fondo.Core.SetUp;

namespace Fondo.Store;

/// <summary>The one step at which an act is refused to whom the table of acts does not let do it.</summary>
internal static class Must
{
    /// <summary>What a person is told who may not do it; null where they may.</summary>
    public static Outcome? Refusal(this Person by, ActKind act) =>
        by.May(act) ? null : Outcome.Refused($"Only {Who(Acts.Of(act).Right!.Value)} can {What(act)}.");

    private static string Who(Right right) => right switch
    {
        Right.Manage => "a manager",
        Right.Supervise => "a supervisor or a manager",
        Right.Count => "a cashier, a supervisor or a manager",
        _ => "a supervisor, a manager or an auditor",
    };

    private static string What(ActKind act) => act switch
    {
        ActKind.OpenRegister => "open a register",
        ActKind.LeaveFloat => "set the floats of all registers",
        ActKind.Count => "hand in a count",
        ActKind.CorrectCount => "correct a count that was handed in",
        ActKind.MoveSafeMoney => "move money at the safe",
        ActKind.OrderChange => "order change",
        ActKind.MoveChange => "pay for change or take it in",
        ActKind.SealDeposit => "prepare a deposit",
        ActKind.HandOverDeposit => "hand over a deposit",
        ActKind.OpenDeposit => "reopen a deposit",
        ActKind.AgreeToFiles => "decide about waiting files",
        ActKind.DecideLine => "decide about a waiting line",
        ActKind.SetRecordAside => "set a record aside",
        ActKind.TakeBackFile => "take back a file",
        ActKind.MatchBankLine => "match bank lines",
        ActKind.WithdrawStatement => "withdraw a statement",
        ActKind.PairRows => "match by hand",
        ActKind.TypePrintedTotals => "type printed totals",
        ActKind.MakeEntry => "make entries",
        ActKind.ReverseEntry => "reverse entries",
        ActKind.AttachSlip => "attach a file",
        ActKind.AnswerCheck => "answer ticket findings",
        ActKind.Excuse => "excuse this",
        ActKind.SignOff => "sign off a register",
        ActKind.Close => "close the day",
        ActKind.Reopen => "reopen a closed day",
        ActKind.SaveSetUp => "change the set-up",
        ActKind.ChangePerson => "change who can sign in",
        _ => "do this",
    };
}
