using Fondo.Core.Journal;
using Fondo.Core.Proof;

namespace Fondo.Core.Closing;

/// <summary>One thing left to do before a gate is green.</summary>
/// <param name="Key">Names the thing: a drawer, an event, a batch, a cell, an entry.</param>
/// <param name="Fact">What is so.</param>
/// <param name="CanBeExcused">Whether a reason is enough to let the day close over it.</param>
/// <param name="Register">Whose it is; null for what is the store's.</param>
public sealed record GateItem(string Key, GateFact Fact, bool CanBeExcused, RegisterId? Register = null)
{
    /// <summary>The values of the fact, as an excuse keeps them: it holds while they are the same. Empty where the key says it
    /// all.</summary>
    public string Facts { get; init; } = "";
}

/// <summary>What must be green before the day closes (rules §12).</summary>
/// <param name="Left">Empty when the gate is green.</param>
/// <param name="Done">What is so when it is green.</param>
public sealed record Gate(GateId Id, ImmutableArray<GateItem> Left, GateDone Done)
{
    public bool IsGreen => Left.IsEmpty;
}

/// <summary>What a green gate has seen.</summary>
/// <param name="Number">How many sessions, drawers, holds, terminals, cells, findings or carried items.</param>
/// <param name="HasTotals">Of batches: whether there were totals to check against.</param>
/// <param name="Safe">The count of the safe.</param>
public sealed record GateDone(int Number = 0, bool HasTotals = false, Count? Safe = null);

/// <summary>A reason to close the day over an item that is left, as it was seen then: over anything else it says nothing.</summary>
/// <param name="Seen">The facts that were excused; on older excuses the sentence.</param>
public sealed record Excuse(GateId Gate, string Item, string Seen, string Reason, PersonId By, DateTimeOffset At);
