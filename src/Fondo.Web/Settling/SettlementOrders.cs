using System.Collections.Concurrent;
using Fondo.Store;

namespace Fondo.Web.Settling;

/// <summary>Carries out orders in the background, a few terminals side by side: whoever gave them waits for nobody.</summary>
public sealed class SettlementOrders(IServiceScopeFactory scopes, ILogger<SettlementOrders> log) : IDisposable
{
    private const int SideBySide = 4;

    private readonly ConcurrentDictionary<Guid, bool> _underWay = [];
    private readonly SemaphoreSlim _turns = new(SideBySide);

    /// <summary>Whether somebody is carrying it out now; what nobody does was left by a program that stopped.</summary>
    public bool IsUnderWay(Guid key) => _underWay.ContainsKey(key);

    /// <summary>Says that it is about to be given, before it is written down.</summary>
    /// <returns>Whether it was not under way before: who is told so drops it again where nothing is to be sent.</returns>
    public bool Expect(Guid key) => _underWay.TryAdd(key, true);

    public void Drop(Guid key) => _underWay.TryRemove(key, out _);

    /// <summary>Sends what was ordered, after a look at what the terminal holds now.</summary>
    /// <returns>Ends when it is carried out, whatever came of it.</returns>
    public Task Send(Guid key, SeenOnTerminal seen) => Carry(key, s => s.Send(key, seen));

    /// <summary>Asks the processor what became of it.</summary>
    public Task AskNow(Guid key) => Carry(key, s => s.AskNow(key));

    private Task Carry(Guid key, Func<Settler, Task> what) => Task.Run(async () =>
    {
        Expect(key);
        await _turns.WaitAsync();
        try
        {
            await using var scope = scopes.CreateAsyncScope();
            await what(scope.ServiceProvider.GetRequiredService<Settler>());
        }
        catch (ObjectDisposedException)
        {
            // Everything ends; the next start finds what is written down.
        }
        catch (Exception e) when (DiskFull.Is(e))
        {
            log.LogError("The disk is full: a settlement waits until there is room");
        }
        catch (Exception e)
        {
            log.LogError(e, "An order to settle failed");
        }
        finally
        {
            Drop(key);
            Release();
        }
    });

    private void Release()
    {
        try
        {
            _turns.Release();
        }
        catch (ObjectDisposedException)
        {
            // Everything ends.
        }
    }

    public void Dispose() => _turns.Dispose();
}
