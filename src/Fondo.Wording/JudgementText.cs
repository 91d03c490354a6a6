using System.Globalization;
using Fondo.Core.Days;

namespace Fondo.Wording;

/// <summary>Why an event is not taken, as the rest of a sentence.</summary>
public static class JudgementText
{
    public static string Of(JudgementReason reason) => reason switch
    {
        JudgementReason.Unreadable r => r.Fault,
        JudgementReason.OfAnotherRegister r => $"it belongs to register {r.Register}, but was sent with the key of {r.Sender}",
        JudgementReason.OtherContents => "this ID was already sent with different contents; a person must decide which is right",
        JudgementReason.VersionCounted r => $"the version on file was counted on {r.On}, which is closed",
        JudgementReason.VersionOfAnotherDay r => $"its time belongs to {r.Comes}, but the version on file belongs to {r.Kept}",
        JudgementReason.VersionVoided r => $"the version on file is voided, and a {r.Kind.Written()} cannot be",
        JudgementReason.InTheFuture r => string.Create(CultureInfo.InvariantCulture,
            $"its time is {r.At:yyyy-MM-dd HH:mm zzz}, in the future: the register's clock is wrong"),
        JudgementReason.VoidsUnknown r => $"it voids {r.Original}, which the journal does not have yet",
        JudgementReason.CannotBeVoided r =>
            $"it voids {r.Original}, which is a {r.Kind.Written()}: only a sale, a refund or a hold can be voided",
        JudgementReason.RecallsNoHold r => $"it recalls {r.Original}, which is a {r.Kind.Written()}, not a hold",
        JudgementReason.OriginalCounted r => $"{r.Original} was counted on {r.On}, which is closed: refund it, or reopen the day",
        JudgementReason.OriginalClosed r => $"its day, {r.Day}, is closed as number {r.Close}: refund it, or reopen the day",
        JudgementReason.ClosedBeforeItCame r =>
            $"it belongs to {r.Day}, which was closed as number {r.Close} before it came: reopen the day, or leave it out",
        JudgementReason.OpenedOtherwise r => $"drawer {r.Drawer} was opened already, with "
            + $"{(r.IsFloatAlike ? "another cashier" : "another float")}; decide which opening is right",
        JudgementReason.DrawerOfAnother r => $"drawer session {r.Drawer} belongs to register {r.Owner}, not {r.Register}",
        JudgementReason.OpenedBefore r => $"drawer {r.Drawer} was opened already; a drawer session is opened once",
        _ => throw new ArgumentOutOfRangeException(nameof(reason)),
    };
}
