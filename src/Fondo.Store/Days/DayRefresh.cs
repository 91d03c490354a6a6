using System.Collections.Concurrent;
using System.Diagnostics;
using Microsoft.Extensions.DependencyInjection;
using Microsoft.Extensions.Logging;

namespace Fondo.Store.Days;

/// <summary>Works out in the background a day that journals come into faster than it can be worked out: meanwhile the screens show it as it
/// was a moment ago.</summary>
public sealed class DayRefresh(IServiceScopeFactory scopes, ILogger<DayRefresh> log)
{
    private readonly ConcurrentDictionary<DateOnly, bool> _underWay = [];

    /// <summary>Begins, unless it is under way for that day.</summary>
    public void Begin(DateOnly day)
    {
        if (_underWay.TryAdd(day, true))
        {
            _ = Task.Run(() => Refresh(day));
        }
    }

    private async Task Refresh(DateOnly day)
    {
        try
        {
            var began = Stopwatch.GetTimestamp();
            await using (var scope = scopes.CreateAsyncScope())
            {
                await scope.ServiceProvider.GetRequiredService<DayStore>().View(day);
            }

            // As long a rest as the work took: half of a processor stays for what comes in, and for the screens.
            await Task.Delay(Stopwatch.GetElapsedTime(began));
        }
        catch (Exception e) when (e is InvalidOperationException or Microsoft.Data.Sqlite.SqliteException or ObjectDisposedException)
        {
            // The next page that needs the day works it out itself, and says what is wrong.
            log.LogWarning("{Day} could not be worked out in the background: {Why}", day, e.Message);
        }
        finally
        {
            _underWay.TryRemove(day, out _);
        }
    }
}
