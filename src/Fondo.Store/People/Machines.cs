using System.Collections.Concurrent;
using System.Security.Cryptography;
using System.Text;
using Fondo.Core.SetUp;
using Fondo.Files.Text;
using Fondo.Store.Model;
using Microsoft.EntityFrameworkCore;

namespace Fondo.Store.People;

/// <summary>Codes that the desk shows, each for one machine and ten minutes.</summary>
public sealed class PairingCodes(TimeProvider clock)
{
    private static readonly TimeSpan _lasts = TimeSpan.FromMinutes(10);

    private const int MostTries = 10;

    private readonly ConcurrentDictionary<string, (Person By, DateTimeOffset Until)> _codes = [];
    private int _wrong;

    public string Show(Person by)
    {
        var code = RandomNumberGenerator.GetInt32(100_000_000).ToString("00000000", System.Globalization.CultureInfo.InvariantCulture);
        _codes.Clear();
        _wrong = 0;
        _codes[code] = (by, clock.GetUtcNow() + _lasts);
        return code;
    }

    /// <summary>Who showed that code; null where nobody did, or it was used, or is over. Ten wrong ones end the one that is
    /// shown.</summary>
    internal Person? Use(string? typed)
    {
        var code = new string([.. (typed ?? "").Where(char.IsAsciiDigit)]);
        if (_codes.TryRemove(code, out var shown))
        {
            return shown.Until > clock.GetUtcNow() ? shown.By : null;
        }

        if (Interlocked.Increment(ref _wrong) >= MostTries)
        {
            _codes.Clear();
        }

        return null;
    }
}

/// <summary>The machines that the store has paired; each holds a secret of which only the hash is kept.</summary>
public sealed class Machines(StoreContext db, PairingCodes codes, TimeProvider clock)
{
    public async Task<IReadOnlyList<MachineRow>> All() => await db.Machines.AsNoTracking().OrderBy(m => m.PairedAt).ToListAsync();

    /// <summary>The machine of this secret; null where it is none, or no longer paired.</summary>
    public async Task<MachineRow?> Find(string? secret)
    {
        var hash = Hash(secret ?? "");
        return secret is null ? null : await db.Machines.AsNoTracking().SingleOrDefaultAsync(m => m.Hash == hash && m.EndedAt == null);
    }

    /// <summary>Pairs the machine at which the code was typed.</summary>
    /// <returns>Its secret, or the sentence that says why not.</returns>
    public async Task<Outcome<string>> Pair(string? code, string? name)
    {
        if (string.IsNullOrWhiteSpace(name) || name.Length > 40 || CardNumbers.Contains(name))
        {
            return Outcome.Refused<string>("Type a name people know this machine by, like “counting table”.");
        }

        if (codes.Use(code) is not { } by)
        {
            return Outcome.Refused<string>("This code is wrong or older than ten minutes. Show a new code at the desk.");
        }

        var secret = Convert.ToHexString(RandomNumberGenerator.GetBytes(32));
        db.Machines.Add(new()
        {
            Id = Guid.NewGuid(),
            Name = name.Trim(),
            Hash = Hash(secret),
            PairedBy = by.Id.Value,
            PairedAt = clock.GetUtcNow()
        });
        await db.SaveChangesAsync();
        return secret;
    }

    public async Task End(Guid id, Person by)
    {
        if (await db.Machines.SingleOrDefaultAsync(m => m.Id == id && m.EndedAt == null) is { } machine)
        {
            (machine.EndedBy, machine.EndedAt) = (by.Id.Value, clock.GetUtcNow());
            await db.SaveChangesAsync();
        }
    }

    private static string Hash(string secret) => Convert.ToHexString(SHA256.HashData(Encoding.UTF8.GetBytes(secret)));
}
