using Microsoft.EntityFrameworkCore.Storage;

namespace Fondo.Store.Model;

/// <summary>A transaction that no other writer can enter, and one's turn in the line of writers. What is not committed is as if it had not
/// been.</summary>
public sealed class Writing(IDisposable turn, IDbContextTransaction transaction) : IAsyncDisposable
{
    public Task CommitAsync(CancellationToken cancel = default) => transaction.CommitAsync(cancel);

    public async ValueTask DisposeAsync()
    {
        await transaction.DisposeAsync();
        turn.Dispose();
    }
}
