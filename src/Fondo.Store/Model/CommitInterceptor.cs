using System.Data.Common;
using Microsoft.EntityFrameworkCore.Diagnostics;

namespace Fondo.Store.Model;

/// <summary>Tells a context that its transaction was committed, whoever began it.</summary>
internal sealed class CommitInterceptor : DbTransactionInterceptor
{
    public override void TransactionCommitted(DbTransaction transaction, TransactionEndEventData eventData) =>
        (eventData.Context as StoreContext)?.Committed();

    public override Task TransactionCommittedAsync(DbTransaction transaction, TransactionEndEventData eventData,
        CancellationToken cancellationToken = default)
    {
        (eventData.Context as StoreContext)?.Committed();
        return Task.CompletedTask;
    }
}
