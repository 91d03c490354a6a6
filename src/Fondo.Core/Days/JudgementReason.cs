using Fondo.Core.Journal;
using Fondo.Core.SetUp;

namespace Fondo.Core.Days;

/// <summary>Why an event is not taken.</summary>
public abstract record JudgementReason
{
    private JudgementReason()
    {
    }

    /// <param name="Fault">As its reader says it.</param>
    public sealed record Unreadable(string Fault) : JudgementReason;

    public sealed record OfAnotherRegister(RegisterId Register, RegisterId Sender) : JudgementReason;

    /// <summary>The same id is there with other contents.</summary>
    public sealed record OtherContents : JudgementReason;

    public sealed record VersionCounted(TradingDay On) : JudgementReason;

    public sealed record VersionOfAnotherDay(TradingDay Comes, TradingDay Kept) : JudgementReason;

    public sealed record VersionVoided(EventKind Kind) : JudgementReason;

    public sealed record InTheFuture(DateTimeOffset At) : JudgementReason;

    public sealed record VoidsUnknown(EventId Original) : JudgementReason;

    public sealed record CannotBeVoided(EventId Original, EventKind Kind) : JudgementReason;

    public sealed record RecallsNoHold(EventId Original, EventKind Kind) : JudgementReason;

    public sealed record OriginalCounted(EventId Original, TradingDay On) : JudgementReason;

    public sealed record OriginalClosed(TradingDay Day, int Close) : JudgementReason;

    public sealed record ClosedBeforeItCame(TradingDay Day, int Close) : JudgementReason;

    /// <param name="IsFloatAlike">Whether only the cashier differs.</param>
    public sealed record OpenedOtherwise(DrawerId Drawer, bool IsFloatAlike) : JudgementReason;

    public sealed record DrawerOfAnother(DrawerId Drawer, RegisterId Owner, RegisterId Register) : JudgementReason;

    public sealed record OpenedBefore(DrawerId Drawer) : JudgementReason;
}
