namespace Fondo.Web.Tests;

/// <summary>Each test has a shop of its own: what one does there no other can see, in whatever order they run.</summary>
public abstract class InOwnShop : IAsyncLifetime
{
    protected Shop Shop { get; } = new();

    public virtual ValueTask InitializeAsync() => Shop.InitializeAsync();

    public async ValueTask DisposeAsync()
    {
        await Shop.DisposeAsync();
        GC.SuppressFinalize(this);
    }
}
