using Fondo.Core.SetUp;

namespace Fondo.Core.Sheets;

/// <summary>Terminals that settle by themselves are watched, not trusted.</summary>
public static class MissedSettlement
{
    /// <summary>So long after its time a batch is missed.</summary>
    public static readonly TimeSpan Grace = TimeSpan.FromMinutes(15);

    /// <summary>The terminals that were to settle by themselves before now and have no batch in this trading day.</summary>
    public static ImmutableArray<TerminalPlace> In(Overview overview, DateTimeOffset now)
    {
        var setup = overview.Result.Day.Setup;
        return
        [
            .. setup.Terminals.Where(t => t.SettlesAt is { } at && now > Due(setup, at) + Grace && !overview.SettledTerminals.Contains(t.Terminal)).DistinctBy(t => t.Terminal),
        ];
    }

    /// <summary>A time before the hour at which the trading day ends is on the next date.</summary>
    private static DateTimeOffset Due(Setup setup, TimeOnly at)
    {
        var local = setup.TradingDay.Date.AddDays(at < setup.DayEndsAt ? 1 : 0).ToDateTime(at);
        return new(local, setup.TimeZone.GetUtcOffset(local));
    }
}
