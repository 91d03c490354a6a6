using System.Net.Http.Headers;
using System.Text;
using System.Text.Json.Nodes;
using Fondo.Standins.Days;

namespace Fondo.Standins.Machines;

/// <summary>A simulated scale or counting machine: says what it counted over HTTP, or puts it into a folder as a file.</summary>
public sealed class CountingDevice(string name, Func<HttpClient> reach, string key, TimeProvider clock)
{
    private int _number;

    public string Name => name;

    /// <summary>What Fondo answered last.</summary>
    public string Says { get; private set; } = "";

    /// <summary>The next reading.</summary>
    /// <param name="what">A member that names what is counted: drawer, bag, or safe.</param>
    /// <param name="rows">Denomination, and pieces or grams, as text.</param>
    public (string Number, string Json) Read(string what, JsonNode which,
        IEnumerable<(string Denomination, string? Pieces, string? Grams)> rows)
    {
        var now = clock.GetUtcNow();
        var number = $"{now:yyyyMMdd-HHmmss}-{++_number}";
        var json = new JsonObject
        {
            ["fondo"] = 1,
            ["device"] = name,
            ["reading"] = number,
            ["at"] = Write.Time(now),
            [what] = which,
            ["rows"] = new JsonArray([.. rows.Select(r => Row(r.Denomination, r.Pieces, r.Grams))]),
        };
        return (number, json.ToJsonString());
    }

    public async Task Send(string json)
    {
        try
        {
            using var client = reach();
            using var request = new HttpRequestMessage(HttpMethod.Post, $"api/devices/{name}/readings")
            {
                Content = new StringContent(json, Encoding.UTF8, "application/json")
            };
            request.Headers.Authorization = new AuthenticationHeaderValue("Bearer", key);
            using var answer = await client.SendAsync(request);
            Says = answer.IsSuccessStatusCode
                ? "Sent."
                : (string?)JsonNode.Parse(await answer.Content.ReadAsStringAsync())?["detail"]
                    ?? $"Fondo answered {(int)answer.StatusCode}.";
        }
        catch (Exception e) when (e is HttpRequestException or TaskCanceledException or System.Text.Json.JsonException)
        {
            Says = "Fondo does not answer.";
        }
    }

    /// <summary>Puts it there as a file; it has its name only once it is whole.</summary>
    public void Drop(string folder, string number, string json)
    {
        Directory.CreateDirectory(folder);
        var path = Path.Combine(folder, $"{name}-{number}.json");
        File.WriteAllText(path + ".part", json);
        File.Move(path + ".part", path, overwrite: true);
        Says = "Put into the folder.";
    }

    private static JsonObject Row(string denomination, string? pieces, string? grams)
    {
        var row = new JsonObject { ["denomination"] = denomination };
        if (grams is not null)
        {
            row["grams"] = grams;
        }
        else
        {
            row["pieces"] = int.TryParse(pieces, out var number) ? number : pieces;
        }

        return row;
    }
}
