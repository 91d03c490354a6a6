using Fondo.Store;
using Fondo.Web.Hosting;

namespace Fondo.Web.Settling;

/// <summary>Goes the rounds of the settlements in the background; what goes wrong in one round is told, and the next one comes.</summary>
internal sealed class SettlementRounds(RunOptions options, IServiceScopeFactory scopes, ILogger<SettlementRounds> log) : BackgroundService
{
    /// <summary>Every so many rounds one looks for terminals that are late.</summary>
    private const int RoundsToLook = 10;

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        for (var round = 0; !stoppingToken.IsCancellationRequested; round++)
        {
            await Task.Delay(options.Rounds, stoppingToken).ConfigureAwait(ConfigureAwaitOptions.SuppressThrowing);
            try
            {
                await using var scope = scopes.CreateAsyncScope();
                var settler = scope.ServiceProvider.GetRequiredService<Settler>();
                await settler.Round(stoppingToken);
                if (round % RoundsToLook == 0)
                {
                    await settler.LookForLate();
                }
            }
            catch (OperationCanceledException) when (stoppingToken.IsCancellationRequested)
            {
                return;
            }
            catch (ObjectDisposedException)
            {
                return; // everything ends
            }
            catch (Exception e) when (DiskFull.Is(e))
            {
                log.LogError("The disk is full: settlements wait until there is room");
            }
            catch (Exception e)
            {
                log.LogError(e, "A round of the settlements failed");
            }
        }
    }
}
