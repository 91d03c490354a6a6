using CsCheck;
using Fondo.Files.Reading;

namespace Fondo.Files.Tests;

/// <summary>What a day's builder keeps of its records, beside a dictionary and a list that hold the same.</summary>
public sealed class KeptRecords
{
    private sealed record Thing(Key Key, int Contents);

    /// <summary>Many of these share a hash, so that each is looked for behind others.</summary>
    private readonly record struct Key(int Value)
    {
        public override int GetHashCode() => Value % 3;
    }

    private static readonly Gen<(int Key, int Contents, int File, bool Removes)[]> _acts =
        Gen.Select(Gen.Int[0, 60], Gen.Int[0, 1], Gen.Int[0, 2], Gen.Int[0, 9].Select(n => n == 0)).Array[0, 200];

    [Fact]
    public void Are_what_a_dictionary_and_a_list_would_hold() => _acts.Sample(acts =>
    {
        var kept = new KeyedRecords<Key, Thing>(t => t.Key);
        var (there, inOrder) = (new Dictionary<Key, (Thing Thing, Source At)>(), new List<Thing>());
        for (var line = 0; line < acts.Length; line++)
        {
            var (number, contents, file, removes) = acts[line];
            var (thing, at) = (new Thing(new(number), contents), new Source($"file {file}", line));
            if (removes)
            {
                kept.Remove(thing.Key);
                inOrder.RemoveAll(t => t.Key == thing.Key);
                there.Remove(thing.Key);
            }
            else if (there.TryAdd(thing.Key, (thing, at)))
            {
                inOrder.Add(thing);
                Assert.True(kept.TryAdd(thing, at, out var place));
                Assert.Same(thing, kept.At(place));
            }
            else
            {
                Assert.False(kept.TryAdd(thing, at, out var place));
                Assert.Same(there[thing.Key].Thing, kept.At(place));
                Assert.Equal(there[thing.Key].At, kept.SourceOf(place));
            }
        }

        Assert.Equal(inOrder, kept.ToArray());
        Assert.Equal(inOrder, kept.Records);
        Assert.Equal(inOrder.Count, kept.Count);
        Assert.All(Enumerable.Range(0, kept.Places).Where(p => kept.At(p) is not null),
            p => Assert.Equal(there[kept.At(p)!.Key].At, kept.SourceOf(p)));
    });

    [Fact]
    public void Making_room_changes_nothing()
    {
        var kept = new KeyedRecords<string, string>(t => t);
        kept.Expect(1000);
        Assert.True(kept.TryAdd("a", new("f", 1), out _));
        kept.Expect(100_000);
        Assert.False(kept.TryAdd("a", new("f", 2), out var place));
        Assert.Equal(new("f", 1), kept.SourceOf(place));
        Assert.Equal(["a"], kept.ToArray());
    }
}
