using System.Reflection;

namespace Fondo.Core.Tests;

/// <summary>The words of closed vocabularies as files, columns and hashes hold them: a store that was begun with one version reads with
/// the next.</summary>
public sealed class WrittenWords
{
    private static readonly string _pinned = Path.Combine(AppContext.BaseDirectory, "cases", "words.txt");

    /// <summary>A new word is added to the list; one that is there is never changed.</summary>
    [Fact]
    public void A_word_that_was_ever_written_stays()
    {
        var actual = Vocabularies().Select(v => $"{v.Name}: {string.Join(' ', Words(v))}").Order(StringComparer.Ordinal).ToList();
        File.WriteAllLines(Path.ChangeExtension(_pinned, ".actual.txt"), actual);
        Assert.Equal(File.ReadAllLines(_pinned), actual);
    }

    [Fact]
    public void Every_word_reads_back_and_none_stands_for_two() => Assert.All(Vocabularies(), vocabulary =>
    {
        var words = Words(vocabulary).ToList();
        Assert.Equal(words.Count, words.Distinct(StringComparer.Ordinal).Count());
        var read = typeof(WrittenNames).GetMethod(nameof(WrittenNames.Read))!.MakeGenericMethod(vocabulary);
        Assert.Equal(Enum.GetValues(vocabulary).Cast<object>(), words.Select(w => read.Invoke(null, [w])));
    });

    private static IEnumerable<string> Words(Type vocabulary) =>
        Enum.GetValues(vocabulary).Cast<object>().Select(v =>
            (string)typeof(WrittenNames).GetMethod(nameof(WrittenNames.Written))!.MakeGenericMethod(vocabulary).Invoke(null, [v])!);

    private static IEnumerable<Type> Vocabularies() =>
        new[] { typeof(WrittenNames).Assembly, typeof(Store.Model.StoreContext).Assembly }.SelectMany(a => a.GetTypes())
            .Where(t => t.IsEnum && (t.IsPublic || t.IsNestedPublic) && t.GetCustomAttribute<FlagsAttribute>() is null)
            .OrderBy(t => t.Name, StringComparer.Ordinal);
}
