using System.Collections.Immutable;
using System.Text.Json;
using System.Text.Json.Serialization;
using Fondo.Core.Amounts;
using Fondo.Core.Cells;
using Fondo.Core.Days;
using Fondo.Core.Journal;

namespace Fondo.Store.Intake;

/// <summary>What files change in a judged cell, as it is kept.</summary>
public sealed record HeldChange(DateOnly Day, string? Register, string? Drawer, string Tender, long ExpectedBefore, long? ProofBefore,
    long ExpectedAfter, long? ProofAfter)
{
    [JsonIgnore]
    public CellKey Cell => new CellName(Register, Drawer, Tender).Cell!;

    [JsonIgnore]
    public Money Before => new((ProofBefore ?? 0) - ExpectedBefore);

    [JsonIgnore]
    public Money After => new((ProofAfter ?? 0) - ExpectedAfter);

    public static HeldChange Of(DateOnly day, FileChange change) => new(
        day, change.Cell.Written.Register, change.Cell.Written.Drawer, change.Cell.Written.Tender,
        change.Before.Expected.Minor, change.Before.Proof?.Minor, change.After?.Expected.Minor ?? 0, change.After?.Proof?.Minor);
}

/// <summary>Why files that a person brought are not taken yet.</summary>
/// <param name="NeedsSecond">Whether they change more than a person may alone.</param>
/// <param name="Named">Whom counts in them name besides the one who brought them.</param>
public sealed record FilesWait(ImmutableArray<HeldChange> Changes, bool NeedsSecond, ImmutableArray<PersonId> Named)
{
    public string ChangesText => JsonSerializer.Serialize(Changes);
}
