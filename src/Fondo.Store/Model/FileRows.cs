using Fondo.Store.Trails;

namespace Fondo.Store.Model;

/// <summary>Files that a person brought and that wait for others; their content lies beside the database. Never changed, never
/// deleted.</summary>
public sealed class HeldFilesRow : IAudited
{
    public Guid Id { get; init; }

    /// <summary>The day that files without day.json belong to; null where none was chosen.</summary>
    public DateOnly? Day { get; init; }

    /// <summary>Whether it was brought as a statement of the bank.</summary>
    public bool IsStatement { get; init; }

    /// <summary>Names, sizes and hashes, as JSON.</summary>
    public required string Files { get; init; }

    /// <summary>What they change in cells that were judged already, as JSON.</summary>
    public required string Changes { get; init; }

    /// <summary>Whether some of it needs a second person.</summary>
    public bool NeedsSecond { get; init; }

    /// <summary>Whom counts in the files name besides the one who brought them, a person a line.</summary>
    public required string Named { get; init; }

    public required string By { get; init; }

    public DateTimeOffset At { get; init; }

    public string ContentHash() => Hashing.Of(Id, Day, IsStatement, Files, Changes, NeedsSecond, Named, By, At.UtcTicks);

    public Act Added() => new(TrailAct.Files, By, Day is { } day ? $"{day:yyyy-MM-dd}" : "files",
        "brought files that wait for another person", $"HeldFiles:{Id}", ContentHash());
}

/// <summary>Somebody's word that held files may be taken. Never changed, never deleted.</summary>
public sealed class HeldAgreementRow : IAudited
{
    public long Number { get; init; }

    public Guid Held { get; init; }

    public required string By { get; init; }

    public DateTimeOffset At { get; init; }

    public string ContentHash() => Hashing.Of(Held, By, At.UtcTicks);

    public Act Added() => new(TrailAct.Files, By, $"files {Held}", "agreed", $"HeldAgreements:{Number}", ContentHash());
}

/// <summary>How held files ended. Never changed, never deleted.</summary>
public sealed class HeldEndRow : IAudited
{
    public Guid Held { get; init; }

    /// <summary>Taken in; else given up, or held again because they change something else by now.</summary>
    public bool IsTaken { get; init; }

    public required string By { get; init; }

    public DateTimeOffset At { get; init; }

    public string ContentHash() => Hashing.Of(Held, IsTaken, By, At.UtcTicks);

    public Act Added() =>
        new(TrailAct.Files, By, $"files {Held}", IsTaken ? "taken in" : "not taken in", $"HeldEnds:{Held}", ContentHash());
}

/// <summary>What a person's files changed in a cell that had been judged. Never changed, never deleted.</summary>
public sealed class FileChangeRow : IAudited
{
    public long Number { get; init; }

    public DateOnly Day { get; init; }

    public string? Register { get; init; }

    public string? Drawer { get; init; }

    public required string Tender { get; init; }

    /// <summary>The largest of what changed, in minor units.</summary>
    public long Amount { get; init; }

    public required string File { get; init; }

    public required string By { get; init; }

    /// <summary>The second person; null below the limit.</summary>
    public string? Witness { get; init; }

    public DateTimeOffset At { get; init; }

    public string ContentHash() => Hashing.Of(Day, Register, Drawer, Tender, Amount, File, By, Witness, At.UtcTicks);

    public Act Added() => new(TrailAct.Files, By, $"{Day:yyyy-MM-dd}",
            $"{File} changed {Register} {Drawer} {Tender}{(Witness is { } second ? $", with {second}" : "")}",
            $"FileChanges:{Number}", ContentHash());
}
