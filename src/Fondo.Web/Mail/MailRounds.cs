using Fondo.Store;
using Fondo.Web.Hosting;

namespace Fondo.Web.Mail;

/// <summary>Tries mails that wait again, in the background.</summary>
internal sealed class MailRounds(RunOptions options, IServiceScopeFactory scopes, ILogger<MailRounds> log) : BackgroundService
{
    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        while (!stoppingToken.IsCancellationRequested)
        {
            await Task.Delay(options.Rounds, stoppingToken).ConfigureAwait(ConfigureAwaitOptions.SuppressThrowing);
            try
            {
                await using var scope = scopes.CreateAsyncScope();
                await scope.ServiceProvider.GetRequiredService<MailOffice>().SendWaiting();
            }
            catch (Exception e) when (e is ObjectDisposedException || stoppingToken.IsCancellationRequested)
            {
                return; // everything ends
            }
            catch (Exception e) when (DiskFull.Is(e))
            {
                log.LogError("The disk is full: mail waits until there is room");
            }
            catch (Exception e)
            {
                log.LogError(e, "A round of the mail failed");
            }
        }
    }
}
