using System.Text;
using Fondo.Core.Journal;
using Fondo.Core.SetUp;
using Fondo.Files.Reading;
using Fondo.Standins.Days;

namespace Fondo.Files.Tests;

/// <summary>The quick readers say what the strict ones say, of lines as they are and of lines that were damaged, turned about or written
/// otherwise.</summary>
public sealed class PlainAndStrict
{
    private static readonly MadeDay _made = DayMaker.MakeFaulty(811, 9, 400, 12, overlap: true, cardRate: 30);

    private static readonly Setup _setup = SetupText.Read(_made.Files[DayFiles.Setup]).Setup!;

    /// <summary>What a builder says of files: the day's parts, or what is wrong.</summary>
    private static (IReadOnlyList<string> Faults, DayBuilder Builder) Taken(string name, byte[] text, bool isStrict)
    {
        var builder = isStrict ? new DayBuilder { OnNew = _ => { } } : new DayBuilder();
        builder.Take(DayFiles.Setup, new MemoryStream(Encoding.UTF8.GetBytes(_made.Files[DayFiles.Setup])));
        builder.Take(name, new MemoryStream(text));
        return ([.. builder.Findings.Select(f => f.ToString())], builder);
    }

    [Fact]
    public void A_line_of_a_journal_is_read_alike()
    {
        var random = new Random(20261126);
        var lines = _made.Files[DayFiles.Journal].Split('\n', StringSplitOptions.RemoveEmptyEntries);
        var (plain, strict) = (0, new EventLines(_setup));
        for (var i = 0; i < 6_000; i++)
        {
            var line = Changed(lines[random.Next(lines.Length)], random);
            var (expected, findings) = strict.Read(line);
            var (faults, builder) = Taken(DayFiles.Journal, Encoding.UTF8.GetBytes(line + "\n"), isStrict: false);
            var read = builder.FromFiles.Select(e => e.Event).SingleOrDefault();
            Assert.True(Equals(expected, read),
                $"{line}\nstrict: {expected} {string.Join("; ", findings)}\nquick: {read} {string.Join("; ", faults)}");
            Assert.True(line.Trim().Length == 0 || findings.Select(f => f.Message).SequenceEqual(builder.Findings.Select(f => f.Message)),
                $"{line}\nstrict: {string.Join("; ", findings)}\nquick: {string.Join("; ", faults)}");
            plain += read is Ticket ? 1 : 0;
        }

        Assert.InRange(plain, 1_000, 5_500);
    }

    /// <summary>One reader goes over all of them, who knows the lines of tickets that went by; what is stored is read so, and what files
    /// bring.</summary>
    [Fact]
    public void What_a_reader_saw_before_changes_nothing()
    {
        var random = new Random(20261127);
        var lines = _made.Files[DayFiles.Journal].Split('\n', StringSplitOptions.RemoveEmptyEntries);
        var (strict, expected) = (new EventLines(_setup), new Dictionary<EventId, (JournalEvent Event, string Line)>());
        for (var i = 0; i < 6_000; i++)
        {
            var line = Changed(lines[random.Next(lines.Length)], random);
            if (strict.Read(line).Event is { } e)
            {
                expected.TryAdd(e.Id, (e, line));
            }
        }

        Assert.InRange(expected.Count, 300, 5_500);
        var stored = new DayBuilder();
        stored.Take(new RawRecord(RecordKind.Setup, "", _made.Files[DayFiles.Setup]));
        expected.Values.ToList().ForEach(e => stored.Take(new RawRecord(RecordKind.Event, e.Event.Id.Value, e.Line)));
        Assert.Empty(stored.Unread);
        Assert.Equal(expected.Values.Select(e => e.Event), stored.Build().Day!.Journal);
        var (_, builder) =
            Taken(DayFiles.Journal, Encoding.UTF8.GetBytes(string.Join('\n', expected.Values.Select(e => e.Line))), isStrict: false);
        Assert.Equal(expected.Values.Select(e => e.Event), builder.FromFiles.Select(e => e.Event));
    }

    private static string Changed(string line, Random random)
    {
        string[] parts = ["\"\"", "null", "true", "12", "\\u0041", "é", " ", "\t", ",", "}", "]", "{", "\"fee\":\"0.00\",",
            "\"note\":\"4000 0000 0000 0002\",", "\"x\":1,", "-", "99999999999", "\"id\":\"a\",", "\"cost\":null,",
            "\"result\":\"declined\",", "\"tip\":\"1.00\",", "\u0001",
            "\"result\":\"approved\",", "\"result\":null,", "\"original\":null,", "\"original\":\"L1-000001\","];
        string[] escapes = ["\\u0026", "\\u00e9", "\\\\", "\\\"", "\\n", "\\u0000", "\\u007d", "\\ud83c\\udf5e", "\\ud83c", "\\x", "\\u12",
            "\\", "\\u0034000 0000 0000 0002", "4000\\u00200000 0000 0002", "é\\/"];
        for (var times = random.Next(3); times > 0; times--)
        {
            var at = random.Next(line.Length);
            switch (random.Next(7))
            {
                case 0:
                    line = line.Remove(at, Math.Min(1 + random.Next(3), line.Length - at));
                    break;
                case 1:
                    line = line.Insert(at, parts[random.Next(parts.Length)]);
                    break;
                case 2 when line.IndexOf(',', at) is > 0 and var comma:
                    line = line.Insert(comma + 1, parts[random.Next(parts.Length)]);
                    break;
                case 3:
                    line = line[..at] + (char)random.Next(32, 127) + line[(at + 1)..];
                    break;
                case 4 when line.IndexOf('"', at) is > 0 and var quote && line.IndexOf('"', quote + 1) is > 0 and var end:
                    line = line[..quote] + parts[random.Next(parts.Length)] + line[(end + 1)..];
                    break;
                case 5 when line.IndexOf("\"name\":\"", at, StringComparison.Ordinal) is > 0 and var name:
                    line = line.Insert(name + 8, escapes[random.Next(escapes.Length)]);
                    break;
                default:
                    line = line.Replace(",", random.Next(2) == 0 ? " , " : ",\t", StringComparison.Ordinal);
                    break;
            }

            if (line.Length == 0)
            {
                return "{}";
            }
        }

        return line.ReplaceLineEndings(" ");
    }

    [Fact]
    public void Settled_rows_are_read_alike()
    {
        var random = new Random(41);
        var lines = _made.Files[DayFiles.Rows].Split('\n', StringSplitOptions.RemoveEmptyEntries);
        string[] parts =
            ["\"", "\"\"", ",", "é", " ", "-", "\r\n", "\n", "\r", "\n\n", "4000000000000002", "0.00", ",,", "\"a,b\"", "\uFEFF"];
        var whole = 0;
        for (var i = 0; i < 400; i++)
        {
            var from = random.Next(1, lines.Length - 30);
            var text = string.Join(random.Next(3) == 0 ? "\r\n" : "\n", lines.Take(1).Concat(lines.Skip(from).Take(30)))
                + (random.Next(2) == 0 ? "\n" : "");
            for (var times = random.Next(3); times > 0; times--)
            {
                var at = random.Next(text.Length);
                text = random.Next(2) == 0
                    ? text.Insert(at, parts[random.Next(parts.Length)])
                    : text[..at] + (char)random.Next(32, 127) + text[(at + 1)..];
            }

            var bytes = Encoding.UTF8.GetBytes(text);
            if (random.Next(9) == 0)
            {
                bytes[random.Next(bytes.Length)] = 0xFF;
            }

            var (strict, quick) = (Taken(DayFiles.Rows, bytes, isStrict: true), Taken(DayFiles.Rows, bytes, isStrict: false));
            Assert.Equal(strict.Faults, quick.Faults);
            Assert.Equal(strict.Builder.Build().Day?.Rows?.ToArray(), quick.Builder.Build().Day?.Rows?.ToArray());
            whole += strict.Faults.Count == 0 ? 1 : 0;
        }

        Assert.InRange(whole, 50, 350);
    }
}
