using Fondo.Files.Reading;
using Fondo.Store.Trails;
using Microsoft.EntityFrameworkCore.ChangeTracking;

namespace Fondo.Store.Model;

/// <summary>What a register identifies itself with over HTTP. The key itself is not kept.</summary>
public sealed class RegisterKeyRow : IAudited, IChanging
{
    public Guid Id { get; init; }

    public required string Register { get; init; }

    public required string Hash { get; init; }

    public required string MadeBy { get; init; }

    /// <summary>The second person; null on keys of an older store.</summary>
    public string? Witness { get; init; }

    public DateTimeOffset MadeAt { get; init; }

    public string? RevokedBy { get; set; }

    public DateTimeOffset? RevokedAt { get; set; }

    public string ContentHash() =>
        Hashing.Of([Id, Register, Hash, MadeBy, MadeAt.UtcTicks, .. Witness is null ? [] : new object?[] { Witness }]);

    public Act Added() => new(TrailAct.Key, MadeBy, Register,
        Witness is { } second ? $"a key was made, with {second}" : "a key was made", $"RegisterKeys:{Id}", ContentHash());

    public RowState? State() =>
        RevokedBy is null && RevokedAt is null ? null : RowState.Hashed($"RegisterKeys:{Id}", RevokedBy, RevokedAt?.UtcTicks);

    public Act? Changed(EntityEntry change) => State()?.By(TrailAct.RevokeKey, RevokedBy, Register, "a key was revoked");
}

/// <summary>A record that waits for a person: a line of a journal that contradicts what is there, or the set-up; or a stored record that no
/// longer reads.</summary>
public sealed class AsideRow : IAudited, IChanging
{
    public long Id { get; init; }

    public RecordKind Kind { get; init; } = RecordKind.Event;

    /// <summary>The event that has to come first; when it does, this one is tried again by itself.</summary>
    public string? WaitsFor { get; init; }

    /// <summary>Its line in the file or part that it came in, from 1; 0 where it has none.</summary>
    public int Line { get; init; }

    public required string Register { get; init; }

    public required string Key { get; init; }

    public required string Json { get; init; }

    public required string Why { get; set; }

    /// <summary>Whether the same key is there already with other contents.</summary>
    public bool IsConflict { get; init; }

    public required string From { get; init; }

    public DateTimeOffset At { get; init; }

    public string? Decision { get; set; }

    public string? Reason { get; set; }

    public string? DecidedBy { get; set; }

    public DateTimeOffset? DecidedAt { get; set; }

    public string ContentHash() => Hashing.Of(Kind.Written(), WaitsFor, Line, Register, Key, Json, Why, IsConflict, From, At.UtcTicks);

    public Act Added() => new(TrailAct.Aside, From, Register, $"{Key} waits for a person", $"Aside:{Id}", ContentHash());

    public RowState? State() => Decision is { } decision ? StateOf(Id, decision, Reason, DecidedBy, DecidedAt) : null;

    /// <summary>Decisions are written past the tracked rows, with a line of their own.</summary>
    public Act? Changed(EntityEntry change) => null;

    internal static RowState StateOf(long id, string decision, string? reason, string? by, DateTimeOffset? at) =>
        RowState.Hashed($"Aside:{id}", decision, reason, by, at?.UtcTicks);
}

/// <summary>Why some numbers of a register will never come.</summary>
public sealed class GapRow : IAudited
{
    public int Id { get; init; }

    public required string Register { get; init; }

    public long First { get; init; }

    public long Last { get; init; }

    public required string Reason { get; init; }

    public required string By { get; init; }

    public DateTimeOffset At { get; init; }

    public string ContentHash() => Hashing.Of(Register, First, Last, Reason, By, At.UtcTicks);

    public Act Added() => new(TrailAct.Gap, By, Register, $"{First} to {Last} will not come", $"Gaps:{Id}", ContentHash());
}
