using Microsoft.EntityFrameworkCore.Storage;

namespace Fondo.Store.Model;

/// <summary>A transaction that no other writer can enter, and one's turn in the line of writers. What is not committed is as if it had not been.</summary>
/// <param name="committed">Told once it is.</param>
public sealed class Writing(IDisposable turn, IDbContextTransaction transaction, Action committed) : IAsyncDisposable
{
    public async Task CommitAsync(CancellationToken cancel = default)
    {
        await transaction.CommitAsync(cancel);
        committed();
    }

    public async ValueTask DisposeAsync()
    {
        await transaction.DisposeAsync();
        turn.Dispose();
    }
}
