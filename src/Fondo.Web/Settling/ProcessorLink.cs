using System.Globalization;
using System.Net;
using System.Text.Json;
using Fondo.Web.Hosting;

namespace Fondo.Web.Settling;

/// <summary>What came of asking the processor.</summary>
public enum Answered
{
    Yes,

    /// <summary>It says no, or knows nothing of it.</summary>
    No,

    /// <summary>No answer came: what happened is not known.</summary>
    Silence,
}

/// <param name="Says">Why not, where it said so.</param>
public readonly record struct Answer<T>(Answered How, T? Value, string Says = "");

/// <summary>The line to the processor of the terminals. Whatever goes wrong on it is an answer, never an exception.</summary>
public sealed class ProcessorLink(RunOptions options, ProcessorLine line)
{
    /// <summary>Whether there is a processor to speak to.</summary>
    public bool IsThere => line.IsThere;

    public Task<Answer<WireRunning>> Running(string terminal, CancellationToken cancel) =>
        Ask<WireRunning>(c => c.GetAsync($"terminals/{Uri.EscapeDataString(terminal)}", cancel));

    public Task<Answer<WireBatch>> Settle(string terminal, Guid key, CancellationToken cancel) =>
        Ask<WireBatch>(c => c.PostAsJsonAsync($"terminals/{Uri.EscapeDataString(terminal)}/settlements", new WireSettlement(key), cancel));

    /// <summary>What became of a settlement.</summary>
    public Task<Answer<WireBatch>> Find(Guid key, CancellationToken cancel) =>
        Ask<WireBatch>(c => c.GetAsync($"settlements/{key}", cancel));

    public Task<Answer<WireBatch[]>> Batches(DateTimeOffset after, CancellationToken cancel) =>
        Ask<WireBatch[]>(c =>
            c.GetAsync($"batches?after={Text(after)}", cancel));

    private static string Text(DateTimeOffset at) => Uri.EscapeDataString(at.ToString("O", CultureInfo.InvariantCulture));

    /// <param name="closed">Of several of that number the one that closed then; null: the latest.</param>
    public Task<Answer<WireBatch>> Batch(string terminal, string batch, DateTimeOffset? closed, CancellationToken cancel) =>
        Ask<WireBatch>(c => c.GetAsync($"batches/{Uri.EscapeDataString(terminal)}/{Uri.EscapeDataString(batch)}"
            + (closed is { } at ? $"?closed={Text(at)}" : ""), cancel));

    private async Task<Answer<T>> Ask<T>(Func<HttpClient, Task<HttpResponseMessage>> ask)
    {
        try
        {
            using var client = line.Reach();
            client.Timeout = options.Patience;
            using var answer = await ask(client);
            if (answer.IsSuccessStatusCode)
            {
                return new(Answered.Yes, await answer.Content.ReadFromJsonAsync<T>());
            }

            // A host that cannot answer now has said nothing of what it did.
            return answer.StatusCode is HttpStatusCode.NotFound or HttpStatusCode.Conflict or HttpStatusCode.BadRequest
                or HttpStatusCode.UnprocessableEntity
                ? new(Answered.No, default, await Detail(answer))
                : new(Answered.Silence, default, $"The processor answered {(int)answer.StatusCode}.");
        }
        catch (Exception e) when (e is HttpRequestException or OperationCanceledException or JsonException or IOException
            or NotSupportedException)
        {
            return new(Answered.Silence, default, "The processor does not answer.");
        }
    }

    private static async Task<string> Detail(HttpResponseMessage answer)
    {
        try
        {
            return (await answer.Content.ReadFromJsonAsync<JsonElement>()).TryGetProperty("detail", out var detail)
                ? detail.GetString() ?? ""
                : "";
        }
        catch (Exception e) when (e is JsonException or NotSupportedException or InvalidOperationException)
        {
            return "";
        }
    }
}
