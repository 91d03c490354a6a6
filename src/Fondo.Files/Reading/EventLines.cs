using Fondo.Files.Text;

namespace Fondo.Files.Reading;

/// <summary>A line of a journal, parsed, and what can be told of it without a set-up: which event it is, of which register, and when it
/// was.</summary>
/// <param name="Line">Its number in the file or part, from 1.</param>
/// <param name="Json">The line as written.</param>
/// <param name="Fault">Why it cannot be read at all; null when it can.</param>
public sealed record JournalLine(int Line, string Json, string? Id, string? Register, DateTimeOffset? At, string? Fault)
{
    /// <summary>The lines of a body of JSON lines; blank ones are passed over. A line that is too long is told, and those after it cannot
    /// be found.</summary>
    public static IEnumerable<JournalLine> Of(Stream stream)
    {
        var (findings, text) = (new Findings(), new JsonText());
        foreach (var block in LineBlocks.Of("journal", stream, findings))
        {
            using (block)
            {
                foreach (var (line, bytes) in block.Lines())
                {
                    yield return Glance(line, bytes, text);
                }
            }
        }

        if (findings.Any)
        {
            yield return new(findings.All[0].Line, "", null, null, null, findings.All[0].Message + "; what follows it was not read");
        }
    }

    private static JournalLine Glance(int line, ArraySegment<byte> bytes, JsonText text)
    {
        var place = new JsonPlace("journal", new());
        if (!JsonFile.TryParse(bytes, line, text, place))
        {
            // What cannot even be read, or holds a full card number, is given back and not kept.
            return new(line, "", null, null, null, place.Findings.All[0].Message);
        }

        if (!place.IsObject(text.Root))
        {
            return new(line, "", null, null, null, "expected an event");
        }

        var fields = new JsonFields(text.Root, place, Currency.Of("USD"));
        var (id, register, at) = (fields.Id("id", recurs: false), fields.OptionalText("register"), fields.Time("at"));
        var json = System.Text.Encoding.UTF8.GetString(bytes.AsSpan().Trim(" \t\r"u8));
        return fields.Faulty
            ? new(line, json, null, register, null, place.Findings.All[0].Message)
            : new(line, json, id, register, at, null);
    }
}

/// <summary>Reads single events of one day, as its set-up understands them.</summary>
public sealed class EventLines
{
    private readonly Findings _findings = new();
    private readonly JsonText _text = new();
    private readonly JsonPlace _place;
    private readonly EventReader _reader;

    public EventLines(Setup setup)
    {
        Setup = setup;
        _place = new("journal", _findings);
        _reader = new(_place, new(setup));
    }

    public Setup Setup { get; }

    /// <summary>The event, or what is wrong with it.</summary>
    public (JournalEvent? Event, IReadOnlyList<Finding> Findings) Read(string json, int line = 0)
    {
        _findings.Clear();
        var read = JsonFile.TryParse(JsonFile.Bytes(json), line, _text, _place) ? _reader.Read(_text.Root) : null;
        return _findings.Any ? (null, [.. _findings.All]) : (read, []);
    }
}
