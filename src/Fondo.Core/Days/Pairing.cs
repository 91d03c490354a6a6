using Fondo.Core.Journal;

namespace Fondo.Core.Days;

/// <summary>What a person said of tenders and settled rows.</summary>
public enum PairingKind
{
    /// <summary>They belong together.</summary>
    Pair,

    /// <summary>They belong to nothing, until a person says so.</summary>
    Part,

    /// <summary>What was said of them is taken back: the rules decide again.</summary>
    Release,
}

/// <summary>A person's word on what belongs together; of several that name an item the last one counts, and nothing automatic overrides
/// it.</summary>
/// <param name="Journal">Keys of tenders.</param>
/// <param name="Rows">Keys of settled rows.</param>
/// <param name="Seen">What each item came to when it was said, in the order of the tenders and then the rows.</param>
public sealed record Pairing(Guid Id, PairingKind Kind, ImmutableArray<string> Journal, ImmutableArray<string> Rows,
    ImmutableArray<Money> Seen, string Reason, PersonId By, DateTimeOffset At)
{
    public IEnumerable<string> Keys => Journal.Concat(Rows).Distinct(StringComparer.Ordinal);
}
