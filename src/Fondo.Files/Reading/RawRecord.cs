namespace Fondo.Files.Reading;

/// <summary>The kinds of record that come in, each with its natural key.</summary>
public enum RecordKind
{
    Setup,
    Event,
    Row,
    Total,
    Ledger,
    Count,
    Carried,
    Printed,
}

/// <summary>One record as it came in, as JSON text: unknown columns and members included.</summary>
/// <param name="Key">Natural key within its kind.</param>
/// <param name="Event">What an event says; null for the other kinds, and where nobody asked.</param>
/// <param name="File">The file that it came in, where it came in one.</param>
/// <param name="Line">Its line there, from 1; 0 where it has none.</param>
public sealed record RawRecord(RecordKind Kind, string Key, string Json, JournalEvent? Event = null, string? File = null, int Line = 0)
{
    /// <summary>A member of a stored row that says on which other day its transaction counts.</summary>
    public const string CountsOn = "countsOn";

    /// <summary>The same, counting on another day.</summary>
    public RawRecord On(DateOnly other)
    {
        var json = System.Text.Json.Nodes.JsonNode.Parse(Json)!.AsObject();
        json[CountsOn] = new TradingDay(other).ToString();
        return this with { Json = json.ToJsonString() };
    }
}

/// <summary>A stored record that no longer reads.</summary>
public sealed record UnreadRecord(RecordKind Kind, string Key, string Why);

/// <summary>What reading came to: the day, or why there is none.</summary>
/// <param name="Remarks">Worth knowing, and no reason to refuse: people whom day.json does not name.</param>
public sealed record DayReading(Day? Day, IReadOnlyList<Text.Finding> Findings, IReadOnlyList<Text.Finding> Remarks);
