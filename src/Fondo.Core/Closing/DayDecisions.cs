using Fondo.Core.Entries;

namespace Fondo.Core.Closing;

/// <summary>What persons said of a day beside counting and pairing: entries, excuses, answers to ticket checks, registers signed
/// off.</summary>
public sealed record DayDecisions(ImmutableArray<Entry> Entries, ImmutableArray<Excuse> Excuses, ImmutableArray<Answer> Answers,
    ImmutableArray<SignOff> SignOffs)
{
    public static readonly DayDecisions Nothing = new([], [], [], []);
}
