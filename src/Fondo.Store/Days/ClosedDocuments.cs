using System.Text.Json;
using Fondo.Core.Closing;
using Microsoft.Extensions.Caching.Memory;

namespace Fondo.Store.Days;

/// <summary>Close documents as they were read last, under their hash: a close is never another. The least used go first.</summary>
public sealed class ClosedDocuments : IDisposable
{
    /// <summary>A day of forty registers takes about a megabyte.</summary>
    private const int Most = 64;

    private readonly MemoryCache _read = new(new MemoryCacheOptions { SizeLimit = Most });

    /// <summary>The document of a hash; null where its content does not read, or is not there.</summary>
    /// <param name="content">Fetches the content where it was not read lately.</param>
    public Task<CloseDocument?> Of(string hash, Func<Task<string?>> content) => _read.GetOrCreateAsync(hash, async entry =>
    {
        entry.Size = 1;
        try
        {
            return await content() is { } text ? JsonSerializer.Deserialize<CloseDocument>(text) : null;
        }
        catch (JsonException)
        {
            return null;
        }
    });

    public void Dispose() => _read.Dispose();
}
