using System.Net;
using System.Net.Http.Headers;
using System.Net.Http.Json;
using System.Text;
using System.Text.Json.Nodes;

namespace Fondo.Standins.Registers;

/// <summary>The line from a register to Fondo: what cannot be sent now is kept, over the register's own restarts too, and sent later, in
/// order.</summary>
/// <param name="keptIn">The file that what waits is kept in.</param>
public sealed class RegisterLink(HttpClient client, string register, string key, string keptIn) : IDisposable
{
    private const int PartLength = 100;

    private readonly SemaphoreSlim _one = new(1);
    private readonly List<string> _waiting = File.Exists(keptIn) ? [.. File.ReadAllLines(keptIn)] : [];

    /// <summary>As if the cable were pulled.</summary>
    public bool IsDown { get; set; }

    public int Waiting
    {
        get
        {
            lock (_waiting)
            {
                return _waiting.Count;
            }
        }
    }

    /// <summary>What Fondo said last.</summary>
    public string Says { get; private set; } = "";

    public void Dispose() => _one.Dispose();

    public async Task Send(params IEnumerable<string> lines)
    {
        lock (_waiting)
        {
            _waiting.AddRange(lines);
            File.WriteAllLines(keptIn, _waiting);
        }

        await Flush();
    }

    /// <summary>Sends what waits; what was not answered stays.</summary>
    public async Task Flush()
    {
        await _one.WaitAsync();
        try
        {
            while (!IsDown && Waiting > 0)
            {
                List<string> part;
                lock (_waiting)
                {
                    part = [.. _waiting.Take(PartLength)];
                }

                if (!await Post(part))
                {
                    return;
                }

                lock (_waiting)
                {
                    _waiting.RemoveRange(0, part.Count);
                    File.WriteAllLines(keptIn, _waiting);
                }
            }
        }
        finally
        {
            _one.Release();
        }
    }

    private async Task<bool> Post(List<string> part)
    {
        try
        {
            using var request = new HttpRequestMessage(HttpMethod.Post, $"api/registers/{register}/journal")
            {
                Content = new StringContent(string.Join('\n', part), Encoding.UTF8, "application/jsonl")
            };
            request.Headers.Authorization = new AuthenticationHeaderValue("Bearer", key);
            using var answer = await client.SendAsync(request);
            var said = await answer.Content.ReadFromJsonAsync<JsonObject>();
            if (answer.StatusCode != HttpStatusCode.OK)
            {
                Says = (string?)said?["detail"] ?? $"Fondo answered {(int)answer.StatusCode}.";
                return false;
            }

            var aside = said!["aside"]!.AsArray();
            Says = aside.Count == 0
                ? $"{part.Count} sent."
                : $"{part.Count} sent; {aside.Count} wait for a person: {(string?)aside[0]!["why"]}.";
            return true;
        }
        catch (Exception e) when (e is HttpRequestException or TaskCanceledException or System.Text.Json.JsonException)
        {
            Says = "Fondo does not answer; the journal is kept and sent later.";
            return false;
        }
    }
}
