using System.Security.Cryptography;
using System.Text;
using Fondo.Core.SetUp;
using Fondo.Store.Model;
using Microsoft.EntityFrameworkCore;

namespace Fondo.Store.Intake;

/// <summary>The keys by which registers send their journals: made here, shown once, kept only as a hash.</summary>
public sealed class RegisterKeys(StoreContext db, TimeProvider clock)
{
    private const int Letters = 32;

    public async Task<IReadOnlyList<RegisterKeyRow>> All() =>
        await db.RegisterKeys.AsNoTracking().OrderBy(k => k.Register).ThenByDescending(k => k.MadeAt).ToListAsync();

    /// <summary>A new key for a register; the ones before go on working until they are revoked. Two people make it: what comes by a key is
    /// taken at its word.</summary>
    /// <param name="second">Another supervisor or manager, who has proved themselves.</param>
    public async Task<Outcome<string>> Make(string register, Person by, Person? second)
    {
        if (!by.May(ActKind.MakeKey) || second?.MayBeSecond(ActKind.MakeKey, by) != true)
        {
            return Outcome.Refused<string>("Making a key takes two people. Choose another supervisor or manager, who must type their PIN.");
        }

        // Letters only: among digits one could by chance read a card number.
        var key = RandomNumberGenerator.GetString("abcdefghjkmnpqrstuvwxyz", Letters);
        db.RegisterKeys.Add(new()
        {
            Id = Guid.NewGuid(),
            Register = register,
            Hash = Hash(key),
            MadeBy = by.Id.Value,
            Witness = second.Id.Value,
            MadeAt = clock.GetUtcNow()
        });
        await db.SaveChangesAsync();
        return key;
    }

    public async Task Revoke(Guid id, Person by)
    {
        if (await db.RegisterKeys.SingleOrDefaultAsync(k => k.Id == id && k.RevokedAt == null) is { } key)
        {
            (key.RevokedAt, key.RevokedBy) = (clock.GetUtcNow(), by.Id.Value);
            await db.SaveChangesAsync();
        }
    }

    /// <summary>The register or machine whose key it is.</summary>
    public async Task<Outcome<string>> Holder(string? key)
    {
        var hash = Hash(key ?? "");
        return await db.RegisterKeys.AsNoTracking().SingleOrDefaultAsync(k => k.Hash == hash) switch
        {
            null => Outcome.Refused<string>("This key is unknown. A supervisor can make one on the set-up page."),
            { RevokedAt: { } at, Register: var register } => Outcome.Refused<string>(
                $"The key of {register} was revoked on {at:yyyy-MM-dd} at {at:HH:mm} UTC. A supervisor can make a new one on the set-up "
                    + "page. Keep the unsent journal in the register until then."),
            var found => found.Register,
        };
    }

    private static string Hash(string key) => Convert.ToHexString(SHA256.HashData(Encoding.UTF8.GetBytes(key)));
}
