namespace Fondo.Store;

/// <summary>What stands against something that a person asked for.</summary>
/// <param name="Field">The field of the form that it concerns; null: the whole.</param>
public sealed record Objection(string? Field, string Sentence);

/// <summary>What became of something that a person asked for: done, or not, and what stands against it.</summary>
public record Outcome(IReadOnlyList<Objection> Objections)
{
    public static readonly Outcome Done = new([]);

    public bool IsDone => Objections.Count == 0;

    /// <summary>The first thing that stands against it; null when it is done.</summary>
    public string? Objection => IsDone ? null : Objections[0].Sentence;

    /// <param name="field">The field of the form that it concerns; null: the whole.</param>
    public static Outcome Refused(string sentence, string? field = null) => new([new Objection(field, sentence)]);

    public static Outcome Refused(IReadOnlyList<Objection> objections) => new(objections);

    /// <param name="field">The field of the form that it concerns; null: the whole.</param>
    public static Outcome<T> Refused<T>(string sentence, string? field = null) => new(default, [new Objection(field, sentence)]);

    public static Outcome<T> Refused<T>(IReadOnlyList<Objection> objections) => new(default, objections);

    /// <summary>Done, and nothing was to be made.</summary>
    public static Outcome<T> Nothing<T>() => new(default, []);
}

/// <summary>The same, with what was made.</summary>
public sealed record Outcome<T> : Outcome
{
    internal Outcome(T? value, IReadOnlyList<Objection> objections)
        : base(objections) => Value = value;

    /// <summary>There when it is done.</summary>
    public T? Value { get; }

    public static implicit operator Outcome<T>(T made) => new(made, []);

    public void Deconstruct(out T? value, out string? objection) => (value, objection) = (Value, Objection);
}
