using Fondo.Core.Journal;
using Fondo.Core.SetUp;
using Fondo.Store.Model;
using Microsoft.EntityFrameworkCore;

namespace Fondo.Store.Settling;

/// <summary>A settlement as it stands.</summary>
/// <param name="Key">Goes to the processor with it: the same one settles once.</param>
/// <param name="Says">The last step in words.</param>
/// <param name="Step">The number of the last step, from 1: the order.</param>
public sealed record Settlement(
    Guid Key, DateOnly Day, string Terminal, PersonId By, DateTimeOffset At, SettlementState State, string Says, string? Batch,
    DateTimeOffset? NextAt, DateTimeOffset ChangedAt, int Step)
{
    /// <summary>Whether it has come to nothing more to do.</summary>
    public bool IsDone => State is SettlementState.TakenIn or SettlementState.NotSettled;
}

/// <summary>What came of an order to settle.</summary>
/// <param name="IsNew">Whether it is to be sent now; the same key again is not.</param>
/// <param name="Other">Another settlement of the terminal that stands against it.</param>
public readonly record struct SettlementBegun(bool IsNew, Settlement? Other = null);

/// <summary>What terminals were ordered to settle, and how far it has come. Each step is written down before the next is taken.</summary>
public sealed class SettlementDesk(StoreContext db, TimeProvider clock)
{
    /// <summary>The settlements of a day, the latest first.</summary>
    public async Task<IReadOnlyList<Settlement>> Of(DateOnly day) => await Load(db.Settlements.AsNoTracking().Where(s => s.Day == day));

    /// <summary>Those that have not come to their end, of any day.</summary>
    public async Task<IReadOnlyList<Settlement>> Open() =>
        [.. (await Load(db.Settlements.AsNoTracking()
            .Where(s => !db.SettlementSteps.Any(t => t.SettlementId == s.Id
                && (t.State == SettlementState.TakenIn || t.State == SettlementState.NotSettled))))).Where(s => !s.IsDone)];

    public async Task<Settlement?> Find(Guid key) => (await Load(db.Settlements.AsNoTracking().Where(s => s.Id == key))).SingleOrDefault();

    /// <summary>Begins one, unless one of this terminal is under way, or has settled since the terminal was looked at. The same key twice
    /// is one.</summary>
    public async Task<SettlementBegun> Begin(DateOnly day, string terminal, Guid key, Person by, DateTimeOffset lookedAt)
    {
        await using var transaction = await db.BeginWriting();
        if (await db.Settlements.AnyAsync(s => s.Id == key))
        {
            return new(IsNew: false);
        }

        if ((await Load(db.Settlements.AsNoTracking().Where(s => s.Terminal == terminal)))
            .FirstOrDefault(s => !s.IsDone || (s.State == SettlementState.TakenIn && s.At >= lookedAt)) is { } other)
        {
            return new(IsNew: false, other);
        }

        var now = clock.GetUtcNow();
        db.Settlements.Add(new() { Id = key, Day = day, Terminal = terminal, By = by.Id.Value, At = now });
        db.SettlementSteps.Add(new()
        {
            SettlementId = key,
            Number = 1,
            State = SettlementState.Ordered,
            Says = "Waits to be sent.",
            At = now,
        });
        await db.SaveChangesAsync();
        await transaction.CommitAsync();
        return new(IsNew: true);
    }

    /// <summary>Writes down a step; not behind an end, and not twice the same state without a new time.</summary>
    public async Task Step(Guid key, SettlementState state, string says, string? batch = null, DateTimeOffset? nextAt = null)
    {
        await using var transaction = await db.BeginWriting();
        if ((await Find(key)) is not { IsDone: false } settlement)
        {
            return;
        }

        db.SettlementSteps.Add(new()
        {
            SettlementId = key,
            Number = settlement.Step + 1,
            State = state,
            Says = says,
            Batch = batch ?? settlement.Batch,
            NextAt = nextAt,
            At = clock.GetUtcNow(),
        });
        await db.SaveChangesAsync();
        await transaction.CommitAsync();
    }

    private async Task<List<Settlement>> Load(IQueryable<SettlementRow> rows)
    {
        var found = await rows.OrderByDescending(r => r.At).ToListAsync();
        var keys = found.Select(r => r.Id).ToList();
        var steps = (await db.SettlementSteps.AsNoTracking().Where(s => keys.Contains(s.SettlementId)).ToListAsync())
            .ToLookup(s => s.SettlementId);
        return [.. found.Select(r => (Row: r, Last: steps[r.Id].MaxBy(s => s.Number)!)).Select(s =>
            new Settlement(s.Row.Id, s.Row.Day, s.Row.Terminal, new(s.Row.By), s.Row.At, s.Last.State, s.Last.Says, s.Last.Batch,
                s.Last.NextAt, s.Last.At, s.Last.Number))];
    }
}
