using System.Collections.Frozen;

namespace Fondo.Core;

/// <summary>How files, the database and pages write the words of a closed vocabulary: the names of an enum in small letters, their parts
/// joined by hyphens
/// (<c>AfterCutoff</c> is written <c>after-cutoff</c>). One place, so that a word is never spelled twice.</summary>
public static class WrittenNames
{
    /// <summary>The name as it is written.</summary>
    /// <exception cref="KeyNotFoundException">The value is none of its vocabulary.</exception>
    public static string Written<T>(this T value)
        where T : struct, Enum => Vocabulary<T>.Names[value];

    /// <summary>The value of that name; null where the vocabulary has none.</summary>
    public static T? Read<T>(string? name)
        where T : struct, Enum => name is not null && Vocabulary<T>.Values.TryGetValue(name, out var value) ? value : null;

    /// <summary>All names, in the order of the vocabulary.</summary>
    public static ImmutableArray<string> All<T>()
        where T : struct, Enum => Vocabulary<T>.All;

    private static class Vocabulary<T>
        where T : struct, Enum
    {
        public static readonly FrozenDictionary<T, string> Names = Enum.GetValues<T>()
            .ToFrozenDictionary(v => v, v => Hyphened(v.ToString()));

        public static readonly FrozenDictionary<string, T> Values = Names.ToFrozenDictionary(n => n.Value, n => n.Key);

        public static readonly ImmutableArray<string> All = [.. Enum.GetValues<T>().Select(v => Names[v])];
    }

    private static string Hyphened(string name) =>
        string.Concat(name.Select((c, i) => char.IsAsciiLetterUpper(c) ? (i == 0 ? "" : "-") + char.ToLowerInvariant(c) : c.ToString()));
}
