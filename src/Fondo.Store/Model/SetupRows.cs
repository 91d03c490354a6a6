using Fondo.Store.Trails;

namespace Fondo.Store.Model;

/// <summary>The set-up from one trading day on. Never changed; a later one from the same day replaces it.</summary>
public sealed class SetupRow : IAudited
{
    public int Id { get; init; }

    public DateOnly From { get; init; }

    /// <summary>In the shape of day.json.</summary>
    public required string Json { get; init; }

    public required string By { get; init; }

    public DateTimeOffset At { get; init; }

    /// <summary>What it loosens, one a line; null where it loosens nothing. Such a one holds only once a manager who did not make it has
    /// approved it.</summary>
    public string? Loosens { get; init; }

    /// <summary>The set-up that held from that day when this one was made; approving it later than another change would undo that
    /// change.</summary>
    public int? Follows { get; init; }

    public SetupApprovalRow? Approval { get; init; }

    public string ContentHash() => Hashing.Of(From, Json, By, At.UtcTicks, Loosens, Follows);

    public Act Added() => new(TrailAct.Setup, By, $"from {From:yyyy-MM-dd}",
        Loosens is null ? "the set-up" : $"a set-up that loosens: {Loosens.ReplaceLineEndings("; ")}", $"Setups:{Id}", ContentHash());
}

/// <summary>A manager's word for a set-up that loosens a control. Never changed, never deleted.</summary>
public sealed class SetupApprovalRow : IAudited
{
    public int SetupId { get; init; }

    public required string By { get; init; }

    public DateTimeOffset At { get; init; }

    public string ContentHash() => Hashing.Of(SetupId, By, At.UtcTicks);

    public Act Added() => new(TrailAct.ApproveSetup, By, $"set-up {SetupId}", "approved", $"SetupApprovals:{SetupId}", ContentHash());
}
