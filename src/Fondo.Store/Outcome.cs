namespace Fondo.Store;

/// <summary>What became of something a person asked for: done, or not, with the sentence that says why.</summary>
public sealed record Outcome(string? Objection)
{
    public static readonly Outcome Done = new((string?)null);

    public bool IsDone => Objection is null;

    public static Outcome Refused(string sentence) => new(sentence);
}
