using Fondo.Core.Days;
using Fondo.Core.Journal;
using Fondo.Core.Proof;
using Fondo.Core.SetUp;

namespace Fondo.Core.Sheets;

/// <summary>What should be in a drawer when it is opened, and who left it.</summary>
/// <param name="LeftBy">Who left the float in this register, or counted it last; null where nobody did.</param>
/// <param name="IsKept">Whether that person wrote down what stayed; else the amount is the standard float.</param>
/// <param name="Drawer">The drawer session of this day whose count says so; null where an earlier day's does.</param>
public sealed record FloatExpected(Money Amount, PersonId? LeftBy, DateTimeOffset? LeftAt, bool IsKept, DrawerId? Drawer);

/// <summary>A drawer that was opened with another float than was left in it, or than is standard where nobody wrote down what was
/// left.</summary>
public sealed record FloatDifference(DrawerSession Session, Money Declared, FloatExpected Expected)
{
    /// <summary>Negative: less than should be there.</summary>
    public Money Off => Declared - Expected.Amount;
}

/// <summary>A count of a drawer, and when its session began.</summary>
public readonly record struct SessionCount(DateTimeOffset Began, Count Count);

/// <summary>The floats as they were left before a day, and on it.</summary>
/// <param name="earlier">For each register, what says of the days before how it was left: <see cref="Latest"/>.</param>
public sealed class FloatsBefore(Overview overview, IReadOnlyDictionary<RegisterId, Count> earlier)
{
    /// <summary>What a register should begin with at that moment.</summary>
    public FloatExpected Expected(Register register, DateTimeOffset at)
    {
        var sessions = overview.Sessions.Where(s => s.Register == register.Id).ToList();
        var began = sessions.ToDictionary(s => s.Drawer, s => s.From);
        var today = overview.Result.Day.Counts.Where(c => c.Drawer is { } drawer && began.ContainsKey(drawer) && c.At < at)
            .Select(c => new SessionCount(began[c.Drawer!.Value], c));
        // Drawers are named alike every day: only one of today is a session of this day.
        var (own, before) = (Latest(today), earlier.GetValueOrDefault(register.Id));
        // What was left is there once: whoever opens next begins with the standard float, out of the safe.
        return (own ?? before) is { } last && !sessions.Any(s => s.From > last.At && s.From < at)
            ? new(last.Kind == CountKind.Kept ? last.Cash : register.Float, last.By, last.At, last.Kind == CountKind.Kept, own?.Drawer)
            : new(register.Float, null, null, false, null);
    }

    /// <summary>What stays in a counted drawer: as somebody wrote it down, else the standard float.</summary>
    public Money LeftIn(Register register, DrawerId drawer) => Latest(overview.Result.Day.Counts.Where(c => c.Drawer == drawer)
        .Select(c => new SessionCount(default, c))) is { Kind: CountKind.Kept } kept ? kept.Cash : register.Float;

    /// <summary>Every drawer of the day that was opened with another float than it should have had, by time.</summary>
    public IEnumerable<FloatDifference> Differences() =>
        from open in overview.Result.Day.Journal.OfType<SessionOpen>()
        where open.Drawer is not null
        orderby open.At
        let register = overview.Result.Day.Setup.Find(open.Register)
        let session = overview.Sessions.FirstOrDefault(s => s.Register == open.Register && s.Drawer == open.Drawer)
        where register is not null && session is not null
        let difference = new FloatDifference(session, open.Float, Expected(register, open.At))
        where !difference.Off.IsZero
        select difference;

    /// <summary>Of the session that began last, whenever it was counted: what was written down as left in its drawer, else its count; null
    /// where none was counted.</summary>
    public static Count? Latest(IEnumerable<SessionCount> counts) =>
        counts.Where(c => c.Count is { Kind: CountKind.Kept or CountKind.Closing, Drawer: not null })
            .GroupBy(c => c.Count.Drawer).MaxBy(d => d.Max(c => (c.Began, c.Count.At)))?.Select(c => c.Count)
                .MaxBy(c => (c.Kind == CountKind.Kept, c.Attempt, c.At));
}
