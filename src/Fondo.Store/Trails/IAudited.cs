using Fondo.Store.Model;
using Microsoft.EntityFrameworkCore.ChangeTracking;

namespace Fondo.Store.Trails;

/// <summary>A row that is only ever added. The trail has a line for it, and <c>verify</c> holds it against that line.</summary>
public interface IAudited
{
    /// <summary>SHA-256 of what it holds. The make-up never changes: what a table gets later is hashed only where a row has it.</summary>
    string ContentHash();

    /// <summary>The line of the trail that says it was added.</summary>
    Act Added();
}

/// <summary>A row that may change. The last line of the trail about it says how it stands.</summary>
public interface IChanging
{
    /// <summary>How it stands; null where that is still how it was added.</summary>
    RowState? State();

    /// <summary>The line of the trail for a change of it; null for a change that the trail does not follow.</summary>
    Act? Changed(EntityEntry change);
}

/// <summary>How a row stands that may change.</summary>
/// <param name="Of">Its table and key, behind <see cref="Prefix"/>.</param>
/// <param name="Content">SHA-256 of what may change.</param>
public sealed record RowState(string Of, string Content)
{
    public const string Prefix = "State of ";

    public string Row => Of[Prefix.Length..];

    public static bool IsState(string of) => of.StartsWith(Prefix, StringComparison.Ordinal);

    /// <param name="row">Its table and key.</param>
    internal static RowState Hashed(string row, params ReadOnlySpan<object?> content) => new(Prefix + row, Hashing.Of(content));

    /// <summary>The line that leaves the row as it stands now.</summary>
    internal Act By(TrailAct what, string? by, string on, string says) => new(what, by, on, says, Of, Content);
}
