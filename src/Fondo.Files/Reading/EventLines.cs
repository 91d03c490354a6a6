using System.Globalization;
using System.Text.Json;
using Fondo.Core.Amounts;
using Fondo.Core.Cash;
using Fondo.Core.Cells;
using Fondo.Core.Checks;
using Fondo.Core.Closing;
using Fondo.Core.Days;
using Fondo.Core.Entries;
using Fondo.Core.Journal;
using Fondo.Core.Leads;
using Fondo.Core.Matching;
using Fondo.Core.Proof;
using Fondo.Core.Reconciling;
using Fondo.Core.SetUp;
using Fondo.Core.Sheets;
using Fondo.Files.Text;

namespace Fondo.Files.Reading;

/// <summary>What can be told of a journal line at a glance: which event it is, and when it was.</summary>
/// <param name="Fault">Why it cannot be read at all; null when it can.</param>
public sealed record EventGlance(string? Id, string? Register, DateTimeOffset? At, string? Fault)
{
    public static EventGlance Of(ReadOnlySpan<byte> line)
    {
        string? id = null, register = null, at = null;
        try
        {
            var reader = new Utf8JsonReader(line);
            while (reader.Read())
            {
                if (reader.TokenType != JsonTokenType.PropertyName || reader.CurrentDepth != 1)
                {
                    continue;
                }

                var name = reader.GetString();
                if (name is not ("id" or "register" or "at"))
                {
                    reader.Skip();
                }
                else if (reader.Read() && reader.TokenType == JsonTokenType.String)
                {
                    (id, register, at) = (name == "id" ? reader.GetString() : id, name == "register" ? reader.GetString() : register, name == "at" ? reader.GetString() : at);
                }
            }
        }
        catch (JsonException)
        {
            return new(null, null, null, "this line is not JSON");
        }
        catch (InvalidOperationException)
        {
            return new(null, null, null, "this line is not UTF-8 text");
        }

        return id is null ? new(null, register, null, "expected an event with an id")
            : DateTimeOffset.TryParse(at, CultureInfo.InvariantCulture, DateTimeStyles.None, out var time) && at.Length > 18 ? new(id, register, time, null)
            : new(id, register, null, "at: expected a time like 2026-11-21T09:14:05-05:00");
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

    /// <summary>The event; or the findings, and whether the line may be kept all the same: what holds a full card number may not.</summary>
    public (JournalEvent? Event, IReadOnlyList<Finding> Findings, bool MayBeKept) Read(byte[] bytes, int line)
    {
        _findings.Clear();
        if (!JsonFile.TryParse(bytes, line, _text, _place))
        {
            return (null, [.. _findings.All], false);
        }

        var read = _reader.Read(_text.Root);
        return _findings.Any ? (null, [.. _findings.All], true) : (read, [], true);
    }
}

/// <summary>Cuts a body of JSON lines; blank ones are passed over.</summary>
public static class JsonLines
{
    public static IEnumerable<(int Line, byte[] Bytes)> Of(Stream stream)
    {
        var findings = new Findings();
        foreach (var block in LineBlocks.Of("journal", stream, findings))
        {
            using (block)
            {
                foreach (var (line, bytes) in block.Lines())
                {
                    yield return (line, bytes.AsSpan().Trim(" \t\r"u8).ToArray());
                }
            }
        }
    }
}
