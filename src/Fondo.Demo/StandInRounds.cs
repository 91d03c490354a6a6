using Fondo.Store.SetUp;
using Fondo.Web.Hosting;

namespace Fondo.Demo;

/// <summary>The stand-in terminals that settle by themselves do so at their time.</summary>
internal sealed class StandInRounds(RunOptions options, IServiceScopeFactory scopes, StandInHost standIns, TimeProvider clock,
    ILogger<StandInRounds> log) : BackgroundService
{
    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        while (standIns.IsThere && !stoppingToken.IsCancellationRequested)
        {
            await Task.Delay(options.Rounds, stoppingToken).ConfigureAwait(ConfigureAwaitOptions.SuppressThrowing);
            try
            {
                await using var scope = scopes.CreateAsyncScope();
                if (await scope.ServiceProvider.GetRequiredService<SetupBook>().Now() is { Setup: var setup })
                {
                    standIns.Processor.SettleAlone(StandInHost.Automatic(setup,
                        DateOnly.FromDateTime(TimeZoneInfo.ConvertTime(clock.GetUtcNow(), setup.TimeZone).DateTime)));
                    standIns.Processor.SaveIfChanged();
                }
            }
            catch (ObjectDisposedException)
            {
                return; // everything ends
            }
            catch (Exception e) when (!stoppingToken.IsCancellationRequested)
            {
                log.LogError(e, "A round of the stand-in terminals failed");
            }
        }
    }
}
