using Fondo.Core.Journal;

namespace Fondo.Core.SetUp;

/// <summary>Where a terminal stood, and when: a moved terminal has several.</summary>
/// <param name="From">Null: from the beginning of the day.</param>
/// <param name="Until">Null: to its end. Exclusive.</param>
/// <param name="SettlesAt">The local time at which it settles by itself; null: by hand.</param>
public sealed record TerminalPlace(TerminalId Terminal, RegisterId Register, DateTimeOffset? From, DateTimeOffset? Until,
    TimeOnly? SettlesAt = null)
{
    /// <summary>Whether its processor can be asked and told over the wire.</summary>
    public bool IsConnected { get; init; }

    public bool Holds(DateTimeOffset at) => (From is not { } from || at >= from) && (Until is not { } until || at < until);

    /// <summary>Whether the two places hold at one moment.</summary>
    public bool Overlaps(TerminalPlace other) => (Until is not { } until || other.From is not { } from || from < until)
        && (other.Until is not { } otherUntil || From is not { } ownFrom || ownFrom < otherUntil);
}
