using Fondo.Core.Journal;
using Fondo.Core.SetUp;

namespace Fondo.Core.Days;

public enum Verdict
{
    /// <summary>It is kept, and counts.</summary>
    Taken,

    /// <summary>It is there already, alike.</summary>
    Known,

    /// <summary>It is kept, and waits for a person.</summary>
    SetAside,

    /// <summary>It must not be kept.</summary>
    Refused,
}

/// <summary>What becomes of an event that comes in.</summary>
/// <param name="Day">Under which day it is filed, where it is taken; else where it belongs.</param>
/// <param name="Why">Why it is not taken; null where it is.</param>
/// <param name="IsConflict">The same id is there with other contents.</param>
/// <param name="WaitsFor">The event that has to come first.</param>
public readonly record struct Judgement(Verdict Verdict, TradingDay Day, JudgementReason? Why = null, bool IsConflict = false,
    EventId? WaitsFor = null);

/// <summary>An event that is kept, as the judge needs it.</summary>
/// <param name="Day">The day under which it is filed.</param>
/// <param name="MovedTo">The later day, closed by now, on which it was counted; null on nearly all.</param>
public readonly record struct FiledEvent(EventKind Kind, TradingDay Day, TradingDay? MovedTo = null);

/// <summary>A drawer session of a day, as the judge needs it.</summary>
/// <param name="OpenedBy">The event that opened it; null where none did.</param>
/// <param name="Opened">The same whole, where it is asked for.</param>
/// <param name="ClosedAt">When it was closed at its register, for the last time; null while it was not.</param>
public readonly record struct FiledDrawer(RegisterId Register, EventId? OpenedBy, SessionOpen? Opened = null,
    DateTimeOffset? ClosedAt = null);

/// <summary>How a day was closed.</summary>
public readonly record struct FiledClose(int Number, DateTimeOffset At);

/// <summary>What is there already, wherever it is kept.</summary>
public interface IFiled
{
    /// <summary>The event of that id, whole; null where there is none.</summary>
    JournalEvent? Same(EventId id);

    FiledEvent? Find(EventId id);

    FiledDrawer? Drawer(TradingDay day, DrawerId drawer);

    /// <summary>Null while the day is open, or was never begun.</summary>
    FiledClose? Close(TradingDay day);
}

/// <summary>The one judge of what may enter a journal: files, parts over HTTP, the watched folder, a person's decision. A pure function of
/// what is there and what comes.</summary>
public static class Judge
{
    /// <summary>A register's clock may be ahead by this much.</summary>
    public static readonly TimeSpan Ahead = TimeSpan.FromMinutes(60);

    /// <param name="e">Within all limits: it was read.</param>
    /// <param name="day">The day of its time, or of the folder that it came in.</param>
    /// <param name="now">Null where no clock is asked: whole days of the past.</param>
    /// <param name="sender">The register whose key was shown; null for files and persons.</param>
    public static Judgement Of(JournalEvent e, TradingDay day, IFiled filed, DateTimeOffset? now = null, RegisterId? sender = null)
    {
        if (sender is { } key && e.Register != key)
        {
            return new(Verdict.Refused, day, new JudgementReason.OfAnotherRegister(e.Register, key));
        }

        if (filed.Same(e.Id) is { } same)
        {
            return same.Equals(e)
                ? new(Verdict.Known, day)
                : new(Verdict.SetAside, day, new JudgementReason.OtherContents(), IsConflict: true);
        }

        return Contents(e, day, filed, now);
    }

    /// <summary>The same for contents that are to take the place of those that are there.</summary>
    public static Judgement Instead(JournalEvent e, FiledEvent there, bool isVoided, IFiled filed, TradingDay byClock, DateTimeOffset now)
    {
        var judged = Contents(e, e is VoidEvent or Recall ? there.Day : byClock, filed, now);
        return there.MovedTo is { } counted ? judged with
        {
            Verdict = Verdict.SetAside,
            Why = new JudgementReason.VersionCounted(counted)
        }
            : judged.Verdict != Verdict.Taken ? judged
            : judged.Day != there.Day ? judged with
            {
                Verdict = Verdict.SetAside,
                Why = new JudgementReason.VersionOfAnotherDay(judged.Day, there.Day)
            }
            : isVoided && !MayBeVoided(e.Kind) ? judged with
            {
                Verdict = Verdict.SetAside,
                Why = new JudgementReason.VersionVoided(e.Kind)
            }
            : judged;
    }

    private static Judgement Contents(JournalEvent e, TradingDay day, IFiled filed, DateTimeOffset? now)
    {
        if (e.At > now + Ahead)
        {
            return new(Verdict.SetAside, day, new JudgementReason.InTheFuture(e.At));
        }

        if (e is VoidEvent or Recall && EventOriginal.Of(e) is { } named)
        {
            var original = filed.Find(named);
            if (e is VoidEvent && original is null)
            {
                return new(Verdict.SetAside, day, new JudgementReason.VoidsUnknown(named), WaitsFor: named);
            }

            if (original is { } there && !(e is VoidEvent ? MayBeVoided(there.Kind) : there.Kind == EventKind.Hold))
            {
                return new(Verdict.SetAside, day, e is VoidEvent
                    ? new JudgementReason.CannotBeVoided(named, there.Kind)
                    : new JudgementReason.RecallsNoHold(named, there.Kind));
            }

            // A void goes where its ticket is; a hold of a closed day was carried, and is taken up on the day on which that happens.
            var isCarried = original is { Kind: EventKind.Hold } hold && filed.Close(hold.Day) is not null;
            day = isCarried ? day : original?.Day ?? day;
            if (original?.MovedTo is { } counted)
            {
                return new(Verdict.SetAside, day, new JudgementReason.OriginalCounted(named, counted));
            }

            if (original is not null && !isCarried && filed.Close(day) is { } closed)
            {
                return new(Verdict.SetAside, day, new JudgementReason.OriginalClosed(day, closed.Number));
            }
        }

        while (filed.Close(day) is { } close)
        {
            var isLate = e is Ticket && e.Drawer is { } late && filed.Drawer(day, late) is { ClosedAt: { } ended } && e.At > ended;
            if ((e.At <= close.At && !isLate) || (e is not (Ticket or Hold) && e.Drawer is { } own && filed.Drawer(day, own) is not null))
            {
                return new(Verdict.SetAside, day, new JudgementReason.ClosedBeforeItCame(day, close.Number));
            }

            day = new(day.Date.AddDays(1)); // what is rung after the close of its drawer, or of the day, belongs to the next one
        }

        if (e is SessionOpen again && e.Drawer is { } session && filed.Drawer(day, session) is { OpenedBy: { } first, Opened: { } opened }
            && first != e.Id && opened.Register == e.Register)
        {
            // Opened on the page and at the register: one opening, where both say the same.
            return again.Float == opened.Float && again.Head.Cashier == opened.Head.Cashier ? new(Verdict.Known, day)
                : new(Verdict.SetAside, day, new JudgementReason.OpenedOtherwise(session, again.Float == opened.Float), IsConflict: true);
        }

        return InDay(e, day, filed) is { } why ? new(Verdict.SetAside, day, why) : new(Verdict.Taken, day);
    }

    private static JudgementReason? InDay(JournalEvent e, TradingDay day, IFiled filed) =>
        e.Drawer is not { } drawer || filed.Drawer(day, drawer) is not { } there ? null
        : there.Register != e.Register ? new JudgementReason.DrawerOfAnother(drawer, there.Register, e.Register)
        : e is SessionOpen && there.OpenedBy is { } other
            && other != e.Id ? new JudgementReason.OpenedBefore(drawer)
        : null;

    private static bool MayBeVoided(EventKind kind) => kind is EventKind.Sale or EventKind.Refund or EventKind.Hold;
}
