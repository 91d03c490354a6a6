using Fondo.Store.Trails;

namespace Fondo.Store.Model;

/// <summary>What a scale or a counting machine said. Never changed, never deleted.</summary>
public sealed class MachineReadingRow : IAudited
{
    public long Id { get; init; }

    public DateOnly Day { get; init; }

    /// <summary>What was counted: a drawer, a bag, the safe.</summary>
    public required string Target { get; init; }

    public required string Device { get; init; }

    /// <summary>The machine's own number of it.</summary>
    public required string Number { get; init; }

    public required string Json { get; init; }

    public required string From { get; init; }

    public DateTimeOffset At { get; init; }

    public string ContentHash() => Hashing.Of(Day, Target, Device, Number, Json, From, At.UtcTicks);

    public Act Added() => new(TrailAct.Reading, From, $"{Day:yyyy-MM-dd} {Target}",
        $"reading {Number} of {Device}", $"MachineReadings:{Id}", ContentHash());
}

/// <summary>A terminal was told to settle. Never changed, never deleted; the key goes with it, so that it is done once.</summary>
public sealed class SettlementRow : IAudited
{
    public Guid Id { get; init; }

    public DateOnly Day { get; init; }

    public required string Terminal { get; init; }

    public required string By { get; init; }

    public DateTimeOffset At { get; init; }

    public string ContentHash() => Hashing.Of(Id, Day, Terminal, By, At.UtcTicks);

    public Act Added() => new(TrailAct.Settle, By, $"{Day:yyyy-MM-dd} {Terminal}", "settling ordered", $"Settlements:{Id}", ContentHash());
}

/// <summary>How far a settlement has come. Never changed, never deleted: the last step says how it stands.</summary>
public sealed class SettlementStepRow : IAudited
{
    public Guid SettlementId { get; init; }

    /// <summary>From 1.</summary>
    public int Number { get; init; }

    public SettlementState State { get; init; }

    /// <summary>In words, for a person.</summary>
    public required string Says { get; init; }

    /// <summary>The batch that it closed, where the host said so.</summary>
    public string? Batch { get; init; }

    /// <summary>When the host is asked next; null where nothing is to be asked.</summary>
    public DateTimeOffset? NextAt { get; init; }

    public DateTimeOffset At { get; init; }

    public string ContentHash() => Hashing.Of(SettlementId, Number, State.Written(), Says, Batch, NextAt?.UtcTicks, At.UtcTicks);

    public Act Added() => new(TrailAct.Settle, null, $"settlement {SettlementId}",
        $"{State.Written()}: {Says}", $"SettlementSteps:{SettlementId}/{Number}", ContentHash());
}

/// <summary>How a settlement stands.</summary>
public enum SettlementState
{
    /// <summary>Ordered by a person, and not sent yet.</summary>
    Ordered,

    /// <summary>Being sent.</summary>
    Sent,

    /// <summary>No answer came: the host is asked what happened before anything is tried again.</summary>
    Unknown,

    /// <summary>The host knows nothing of it, or refused: nothing was settled.</summary>
    NotSettled,

    /// <summary>The host has settled; its batch is still to be fetched.</summary>
    Settled,

    /// <summary>The batch is in the day.</summary>
    TakenIn,
}

/// <summary>How files of another shape are read. Never changed, never deleted: a later one of the same name takes its place, an empty one
/// ends it.</summary>
public sealed class MappingRow : IAudited
{
    public int Id { get; init; }

    public required string Name { get; init; }

    public required string Json { get; init; }

    public required string By { get; init; }

    public DateTimeOffset At { get; init; }

    public string ContentHash() => Hashing.Of(Name, Json, By, At.UtcTicks);

    public Act Added() => new(TrailAct.Mapping, By, Name, Json.Length == 0 ? "ended" : "saved", $"Mappings:{Id}", ContentHash());
}
