using System.Collections.Concurrent;

namespace Fondo.Web.Mappings;

/// <summary>A file that somebody shows, so that its mapping can be made.</summary>
public sealed record Example(string Person, string Name, byte[] Bytes, DateTimeOffset At);

/// <summary>The files that are shown at this moment: in memory alone, each for who showed it, the latest few.</summary>
public sealed class Examples(TimeProvider clock)
{
    public const int Largest = 32 << 20;

    private const int Most = 20;

    private static readonly TimeSpan _kept = TimeSpan.FromHours(2);

    private readonly ConcurrentDictionary<Guid, Example> _all = [];

    public Guid Keep(string person, string name, byte[] bytes)
    {
        foreach (var old in _all.Where(e => clock.GetUtcNow() - e.Value.At > _kept).Select(e => e.Key)
            .Concat(_all.OrderByDescending(e => e.Value.At).Skip(Most - 1).Select(e => e.Key)).ToList())
        {
            _all.TryRemove(old, out _);
        }

        var key = Guid.NewGuid();
        _all[key] = new(person, name, bytes, clock.GetUtcNow());
        return key;
    }

    /// <summary>Null once it is gone, or where somebody else showed it.</summary>
    public Example? Find(Guid? key, string person) =>
        key is { } known && _all.TryGetValue(known, out var example) && example.Person == person ? example : null;
}
