using Fondo.Files.Reading;
using Fondo.Store.Model;
using Microsoft.EntityFrameworkCore;

namespace Fondo.Store.Intake;

/// <summary>When something last came in from each of those who send.</summary>
public sealed class LastCame(StoreContext db)
{
    /// <summary>By register id; those from which nothing came are left out.</summary>
    public async Task<IReadOnlyDictionary<string, DateTimeOffset>> FromRegisters() =>
        (await db.Events.GroupBy(e => e.Register).Select(g => new { Register = g.Key, Id = g.Max(e => e.Id) })
            .Join(db.Records, e => e.Id, r => r.Id, (e, r) => new { e.Register, r.TakenAt }).ToListAsync())
            .ToDictionary(e => e.Register, e => e.TakenAt);

    /// <summary>Rows of settled batches; null where none ever came.</summary>
    public async Task<DateTimeOffset?> FromProcessors() =>
        await db.Records.Where(r => r.Kind == RecordKind.Row).OrderByDescending(r => r.Id).Select(r => (DateTimeOffset?)r.TakenAt)
            .FirstOrDefaultAsync();

    /// <summary>Statements; null where none ever came.</summary>
    public async Task<DateTimeOffset?> FromBanks() => await db.BankStatements.MaxAsync(s => (DateTimeOffset?)s.At);
}
