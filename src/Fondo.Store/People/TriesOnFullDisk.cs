namespace Fondo.Store.People;

/// <summary>Tries at a PIN while the disk has no room to count them: one for each person every 30 seconds, whether right or
/// wrong.</summary>
public sealed class TriesOnFullDisk(TimeProvider clock)
{
    private static readonly TimeSpan _between = TimeSpan.FromSeconds(30);

    private readonly Lock _lock = new();
    private readonly Dictionary<string, DateTimeOffset> _next = [];

    /// <summary>Whether this person's PIN may be looked at now.</summary>
    public bool May(string person)
    {
        var now = clock.GetUtcNow();
        lock (_lock)
        {
            var may = !_next.TryGetValue(person, out var next) || next <= now;
            _next[person] = may ? now + _between : next;
            return may;
        }
    }
}
