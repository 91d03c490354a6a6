using Fondo.Core.SetUp;
using Fondo.Files.Mapping;
using Fondo.Files.Text;
using Fondo.Store.Model;
using Microsoft.EntityFrameworkCore;

namespace Fondo.Store.Mappings;

/// <summary>A mapping that is kept, and by whom.</summary>
public sealed record KeptMapping(Mapping Mapping, string By, DateTimeOffset At);

/// <summary>Keeps mappings under their names. One that takes the place of another leaves it readable.</summary>
public sealed class MappingBook(StoreContext db, TimeProvider clock)
{
    /// <summary>Those that hold, by name.</summary>
    public async Task<IReadOnlyList<KeptMapping>> All() =>
    [
        .. (await db.Mappings.AsNoTracking().Where(m => !db.Mappings.Any(o => o.Name == m.Name && o.Id > m.Id) && m.Json != "")
            .OrderBy(m => m.Name).ToListAsync())
            .Select(m => (Row: m, MappingText.Read(m.Name, m.Json).Mapping)).Where(m => m.Mapping is not null)
            .Select(m => new KeptMapping(m.Mapping!, m.Row.By, m.Row.At)),
    ];

    public async Task<Mapping?> Find(string name) => (await All()).FirstOrDefault(m => m.Mapping.Name == name)?.Mapping;

    /// <summary>The mapping that reads a file of this name; null where none does.</summary>
    public async Task<Mapping?> For(string file) => (await All()).Select(m => m.Mapping).FirstOrDefault(m => m.Reads(file));

    /// <summary>Keeps it from now on.</summary>
    public async Task<Outcome> Save(Mapping mapping, Person by)
    {
        var json = MappingText.Write(mapping);
        if (CardNumbers.Contains(json))
        {
            return Outcome.Refused("This mapping contains a full card number. It was not saved.");
        }

        await using var transaction = await db.BeginWriting();
        if ((await All()).Select(m => m.Mapping)
            .FirstOrDefault(m => m.Name != mapping.Name
                && (m.Files.Equals(mapping.Files, StringComparison.OrdinalIgnoreCase) || m.Reads(mapping.Files)
                    || mapping.Reads(m.Files))) is { } other)
        {
            return Outcome.Refused(
                $"{other.Name} already reads files named {other.Files}, which covers {mapping.Files}. Change one of the two patterns.");
        }

        db.Mappings.Add(new() { Name = mapping.Name, Json = json, By = by.Id.Value, At = clock.GetUtcNow() });
        await db.SaveChangesAsync();
        await transaction.CommitAsync();
        return Outcome.Done;
    }

    /// <summary>Lets it hold no longer.</summary>
    public async Task End(string name, Person by)
    {
        await using var transaction = await db.BeginWriting();
        if (await Find(name) is not null)
        {
            db.Mappings.Add(new() { Name = name, Json = "", By = by.Id.Value, At = clock.GetUtcNow() });
            await db.SaveChangesAsync();
        }

        await transaction.CommitAsync();
    }
}
