using Fondo.Core.Banking;
using Fondo.Store.Model;
using Fondo.Store.SetUp;
using Microsoft.EntityFrameworkCore;

namespace Fondo.Store.Treasury;

/// <summary>Takes statements of the bank in: each whole or not at all, each once.</summary>
public sealed class BankDesk(StoreContext db, SetupBook setups, TimeProvider clock)
{
    /// <summary>What became of statements that were taken in.</summary>
    /// <param name="Lines">How many lines are new.</param>
    public sealed record Taken(int Statements, int Lines, string? Objection);

    /// <param name="statements">As they were read; their lines are of no trading day yet.</param>
    /// <param name="by">A person who may, or the watched folder.</param>
    public async Task<Taken> Take(IReadOnlyList<BankStatement> statements, string file, string by)
    {
        await using var transaction = await db.BeginWriting();
        if (await db.Days.MaxAsync(d => (DateOnly?)d.Date) is not { } latest || await setups.For(latest) is not { } held)
        {
            return new(0, 0, "Nothing of this store has been taken in yet. Take in a day first.");
        }

        var known = await Heads();
        var (taken, lines) = (0, 0);
        // A statement begins no trading day: where none is open, its lines wait for the next one.
        var open = await db.Days.Where(d => d.HasTrade && !db.StandingCloses.Any(c => c.Day == d.Date)).OrderBy(d => d.Date).Select(d => d.Date).ToListAsync();
        foreach (var statement in statements.OrderBy(s => s.From).ThenBy(s => s.To))
        {
            if (known.FirstOrDefault(s => s.Id == statement.Id) is { } same && (await WithLines([same]))[0].SaysTheSame(statement))
            {
                continue;
            }

            var objection = statement.Objection(known, held.Setup.BankAccount ?? known.FirstOrDefault()?.Account, held.Setup.Currency) ?? await UsedBefore(statement);
            if (objection is not null)
            {
                db.ChangeTracker.Clear();
                return new(0, 0, $"{file}: {objection} Nothing of it was taken in.");
            }

            db.BankStatements.Add(new()
            {
                Id = statement.Id,
                Account = statement.Account,
                Currency = statement.Currency,
                From = statement.From,
                To = statement.To,
                Opening = statement.Opening.Minor,
                Closing = statement.Closing.Minor,
                File = file,
                By = by,
                At = clock.GetUtcNow(),
            });
            // What was booked on a closed day is looked at on the first one that is still open.
            db.BankLines.AddRange(statement.Lines.Select((l, i) => new BankLineRow
            {
                Key = l.Key,
                Statement = statement.Id,
                Place = i + 1,
                Day = open.Count == 0 ? latest : open.Where(d => d >= l.Booked).Append(open[^1]).First(),
                Waits = open.Count == 0,
                Booked = l.Booked,
                Amount = l.Amount.Minor,
                Text = l.Text,
                Items = l.Number,
            }));
            known.Add(statement);
            (taken, lines) = (taken + 1, lines + statement.Lines.Length);
        }

        await db.SaveChangesAsync();
        await transaction.CommitAsync();
        return new(taken, lines, null);

        async Task<string?> UsedBefore(BankStatement statement)
        {
            var keys = statement.Lines.Select(l => l.Key).ToList();
            return await db.BankLines.Where(l => keys.Contains(l.Key)).Select(l => new { l.Key, l.Statement }).FirstOrDefaultAsync() is { } used
                ? $"The bank’s reference {used.Key} stands on statement {used.Statement} already." : null;
        }
    }

    /// <summary>The latest statements, the last one first.</summary>
    public async Task<IReadOnlyList<BankStatement>> Latest(int number) => await WithLines([.. (await Heads()).AsEnumerable().Reverse().Take(number)]);

    /// <summary>Every statement without its lines, the first one first.</summary>
    private async Task<List<BankStatement>> Heads() =>
        [.. (await db.BankStatements.AsNoTracking().OrderBy(s => s.From).ThenBy(s => s.To).ToListAsync()).Select(s => new BankStatement(s.Id, s.Account, s.Currency, s.From, s.To, new(s.Opening), new(s.Closing), []))];

    private async Task<IReadOnlyList<BankStatement>> WithLines(IReadOnlyList<BankStatement> heads)
    {
        var ids = heads.Select(h => h.Id).ToList();
        var lines = (await db.BankLines.AsNoTracking().Where(l => ids.Contains(l.Statement)).ToListAsync()).ToLookup(l => l.Statement);
        return [.. heads.Select(h => h with { Lines = [.. lines[h.Id].OrderBy(l => l.Place).Select(MoneyBook.ToLine)] })];
    }
}
