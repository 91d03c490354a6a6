using System.Collections.Concurrent;

namespace Fondo.Web.Settling;

/// <summary>What is loud on every page: a terminal that should have settled, and a batch that could not be taken in.</summary>
/// <param name="Day">Where one looks into it.</param>
public sealed record Alarm(DateOnly Day, string Says);

/// <summary>What the rounds have found, for the pages.</summary>
public sealed class SettlementWatch
{
    private volatile IReadOnlyList<Alarm> _overdue = [];

    /// <summary>The batches that are in a day already, so that nobody asks for them again.</summary>
    internal ConcurrentDictionary<string, bool> Known { get; } = [];

    /// <summary>Why a batch could not be taken in, by its name.</summary>
    public ConcurrentDictionary<string, Alarm> Troubles { get; } = [];

    /// <summary>Since when the processor has not answered; null while it does.</summary>
    public DateTimeOffset? SilentSince { get; internal set; }

    public IReadOnlyList<Alarm> Overdue { get => _overdue; internal set => _overdue = value; }

    public IEnumerable<Alarm> All => Overdue.Concat(Troubles.Values);
}
