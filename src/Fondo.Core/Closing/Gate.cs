namespace Fondo.Core.Closing;

/// <summary>One thing left to do before a gate is green.</summary>
/// <param name="Key">Names the thing: a drawer, an event, a batch, a cell, an entry.</param>
/// <param name="Sentence">What is so, for a person.</param>
/// <param name="CanBeExcused">Whether a reason is enough to let the day close over it.</param>
/// <param name="Register">Whose it is; null for what is the store's.</param>
public sealed record GateItem(string Key, string Sentence, bool CanBeExcused, Journal.RegisterId? Register = null)
{
    /// <summary>What is so, as facts: an excuse holds while they are the same, however they are worded. Empty where the key says it
    /// all.</summary>
    public string Facts { get; init; } = "";
}

/// <summary>What must be green before the day closes (rules §12).</summary>
/// <param name="Left">Empty when the gate is green.</param>
/// <param name="Done">What is so when it is green, for a person.</param>
public sealed record Gate(GateId Id, string Name, ImmutableArray<GateItem> Left, string Done)
{
    public bool IsGreen => Left.IsEmpty;
}

/// <summary>A reason to close the day over an item that is left, as it was seen then: over anything else it says nothing.</summary>
/// <param name="Seen">The facts that were excused; on older excuses the sentence.</param>
public sealed record Excuse(GateId Gate, string Item, string Seen, string Reason, Journal.PersonId By, DateTimeOffset At);
