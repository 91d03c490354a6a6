using System.Collections.Concurrent;

namespace Fondo.Web.Settling;

/// <summary>What is loud on every page: a terminal that should have settled, and a batch that could not be taken in.</summary>
/// <param name="Day">The day whose settling page shows it.</param>
/// <param name="Place">The register, or the batch: one line each.</param>
public sealed record Alarm(DateOnly Day, string Place, string Says);

/// <summary>What the rounds have found, for the pages.</summary>
public sealed class SettlementWatch
{
    private volatile IReadOnlyList<Alarm> _overdue = [];

    /// <summary>The batches that are in a day already, so that nobody asks for them again.</summary>
    internal ConcurrentDictionary<string, bool> Known { get; } = [];

    /// <summary>Why a batch could not be taken in, by its name.</summary>
    public ConcurrentDictionary<string, Alarm> Troubles { get; } = [];

    /// <summary>When it last told of its batches; null since the start.</summary>
    internal DateTimeOffset? LastTold { get; set; }

    /// <summary>Since when the processor has not answered; null while it does.</summary>
    public DateTimeOffset? SilentSince { get; internal set; }

    public IReadOnlyList<Alarm> Overdue { get => _overdue; internal set => _overdue = value; }

    /// <summary>One line a register and day.</summary>
    public IEnumerable<Alarm> All => Overdue.Concat(Troubles.Values).GroupBy(a => (a.Day, a.Place))
        .Select(g => g.First() with { Says = string.Join(" ", g.Select(a => a.Says)) });
}
