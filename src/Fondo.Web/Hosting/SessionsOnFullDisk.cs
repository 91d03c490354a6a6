using System.Collections.Concurrent;
using Fondo.Store.Model;

namespace Fondo.Web.Hosting;

/// <summary>Sessions that began or ended while the disk was full. They are kept in memory until there is room to write them down.</summary>
internal sealed class SessionsOnFullDisk
{
    /// <summary>More people than ever work at once; beyond it nobody signs in before there is room.</summary>
    private const int Most = 100;

    private readonly ConcurrentDictionary<string, SessionRow> _begun = new();
    private readonly ConcurrentDictionary<string, bool> _ended = new();

    public SessionRow? Find(string hash) => _begun.GetValueOrDefault(hash);

    public IEnumerable<SessionRow> OfPerson(string person) => _begun.Values.Where(r => r.Person == person);

    /// <summary>Hashes of sessions that have ended and are still in the database.</summary>
    public ICollection<string> Ended => _ended.Keys;

    public bool HasEnded(string hash) => !_ended.IsEmpty && _ended.ContainsKey(hash);

    /// <summary>Whether there was room in memory for it.</summary>
    /// <param name="longAgo">Sessions that began before it have ended anyway.</param>
    public bool Begin(SessionRow session, DateTimeOffset longAgo)
    {
        foreach (var old in _begun.Values.Where(r => r.BeganAt < longAgo))
        {
            WrittenDown(old.Hash);
        }

        return _begun.Count < Most && _begun.TryAdd(session.Hash, session);
    }

    public bool End(string hash)
    {
        _begun.TryRemove(hash, out _);
        return _ended.TryAdd(hash, true) || _ended.ContainsKey(hash);
    }

    /// <summary>What the database says from now on.</summary>
    public void WrittenDown(string hash)
    {
        _begun.TryRemove(hash, out _);
        _ended.TryRemove(hash, out _);
    }
}
