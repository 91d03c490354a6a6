using System.Globalization;
using System.Net;
using System.Text;
using Fondo.Store.Trails;
using Xunit.Sdk;

namespace Fondo.Web.Tests;

/// <summary>Whatever a register sends, it is answered, and never with an error of Fondo's own. More of them: FUZZ_PARTS=100000.</summary>
public sealed class FuzzedParts : IDisposable
{
    private static readonly int _parts = int.Parse(Environment.GetEnvironmentVariable("FUZZ_PARTS") ?? "500", CultureInfo.InvariantCulture);

    private static readonly string[] _odd =
    [
        "\0", "\u0001", "\\u0000", "\\ud800", "\uFFFD", "99999999999999999999", "-0.00", "1e9", "null", "true", "[]", "{}", "[[[[[[[[",
        "\"\"", "\"kind\":\"void\"", "2026-11-21T25:00:00-05:00", "0001-01-01T00:00:00Z",
        "9999-12-31T23:59:59+14:00", "\r", "\t", "\u2028", "é", "😀", "'; DROP TABLE Records; --", "../../etc/passwd", "%00", "\uFEFF",
        "4000 0000 0000 0002", "1.005", "-1000000000.00", "999999999.99",
    ];

    private readonly Shop _shop = new();

    public void Dispose() => _shop.Dispose();

    [Fact]
    public async Task Every_part_is_answered_and_what_was_taken_verifies()
    {
        var lines = Shop.Made.Files["journal.jsonl"].Split('\n', StringSplitOptions.RemoveEmptyEntries);
        using var register = await _shop.Register("L1");
        var answers = new Dictionary<HttpStatusCode, int>();
        var random = new Random(20261126);
        for (var n = 0; n < _parts; n++)
        {
            var part = Part(random, lines);
            using var body = new ByteArrayContent(part) { Headers = { ContentType = new("application/jsonl") } };
            using var answer = await register.PostAsync("/api/registers/L1/journal", body);
            if ((int)answer.StatusCode >= 500)
            {
                throw new XunitException(
                    $"part {n} was answered with {answer.StatusCode}: {Encoding.UTF8.GetString(part)[..Math.Min(part.Length, 2000)]}");
            }

            answers[answer.StatusCode] = answers.GetValueOrDefault(answer.StatusCode) + 1;
        }

        Assert.True(answers.GetValueOrDefault(HttpStatusCode.OK) > _parts / 2, string.Join(", ", answers));
        Assert.Null((await _shop.Ask<Verification, Verified>(v => v.Run())).Break);
        await (await _shop.SignedIn()).Page($"{Shop.Day}/board");
    }

    /// <summary>Some lines of the day, changed in a few places; now and then bytes that are nothing at all.</summary>
    private static byte[] Part(Random random, string[] lines)
    {
        if (random.Next(50) == 0)
        {
            var noise = new byte[random.Next(400)];
            random.NextBytes(noise);
            return noise;
        }

        var text = new StringBuilder();
        for (var count = random.Next(1, 4); count > 0; count--)
        {
            var line = lines[random.Next(lines.Length)];
            for (var changes = random.Next(4); changes > 0; changes--)
            {
                var (at, length) = (random.Next(line.Length), random.Next(8));
                line = random.Next(6) switch
                {
                    0 => line[..at], // cut off
                    1 => line.Remove(at, Math.Min(length, line.Length - at)),
                    2 => line.Insert(at, _odd[random.Next(_odd.Length)]),
                    3 => Value(random, line),
                    4 => line.Replace($"L{random.Next(1, 5)}", $"L{random.Next(1, 5)}", StringComparison.Ordinal),
                    _ => line.Replace("\"id\":\"", $"\"id\":\"F{random.Next(1_000_000)}", StringComparison.Ordinal),
                };
                if (line.Length == 0)
                {
                    break;
                }
            }

            text.Append(line).Append(random.Next(20) == 0 ? "\r\n\n" : "\n");
        }

        return Encoding.UTF8.GetBytes(text.ToString());
    }

    /// <summary>Another value for one of its members.</summary>
    private static string Value(Random random, string line)
    {
        var colons = line.Select((c, i) => (c, i)).Where(x => x.c == ':').Select(x => x.i).ToList();
        if (colons.Count == 0)
        {
            return line;
        }

        var from = colons[random.Next(colons.Count)] + 1;
        var to = line.IndexOfAny([',', '}', ']'], from);
        return to < 0
            ? line
            : $"{line[..from]}{(random.Next(2) == 0 ? $"\"{_odd[random.Next(_odd.Length)]}\"" : _odd[random.Next(_odd.Length)])}"
                + $"{line[to..]}";
    }
}
