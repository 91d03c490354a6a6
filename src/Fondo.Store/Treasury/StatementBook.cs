using Fondo.Core.Banking;
using Fondo.Store.Model;
using Microsoft.EntityFrameworkCore;

namespace Fondo.Store.Treasury;

/// <summary>A statement as a person sees it in the list.</summary>
/// <param name="Lines">How many lines of it are new.</param>
/// <param name="MissingSince">Where it does not begin where the one before ended: the last day of that one.</param>
public sealed record ListedStatement(BankStatement Statement, int Lines, DateOnly? MissingSince);

/// <summary>The statements that stand, and which of a new one's lines are known already.</summary>
public sealed class StatementBook(StoreContext db)
{
    /// <summary>Every statement that stands, without its lines, the first one first.</summary>
    public async Task<List<BankStatement>> Heads() =>
    [
        .. (await db.BankStatements.AsNoTracking().Where(s => !db.StatementWithdrawals.Any(w => w.Statement == s.Id)).OrderBy(s => s.From)
            .ThenBy(s => s.To).ThenBy(s => s.Id).ToListAsync())
            .Select(s => new BankStatement(s.Id, s.Account, s.Currency, s.From, s.To, new(s.Opening), new(s.Closing), [])),
    ];

    /// <summary>The latest statements, the last one first.</summary>
    public async Task<IReadOnlyList<ListedStatement>> Latest(int number)
    {
        var heads = await Heads();
        var ids = heads.TakeLast(number).Select(h => h.Id).ToList();
        var lines = await db.BankLines.Where(l => ids.Contains(l.Statement)).GroupBy(l => l.Statement)
            .Select(g => new { g.Key, Number = g.Count() }).ToDictionaryAsync(g => g.Key, g => g.Number);
        return [.. heads.Select((h, i) => new ListedStatement(h, lines.GetValueOrDefault(h.Id),
            i > 0 && Gap(heads.Take(i), h) is { } since ? since : null)).TakeLast(number).Reverse()];
    }

    /// <summary>The last day before a gap; null where the statement begins with a balance at which another one ended, or within
    /// one.</summary>
    private static DateOnly? Gap(IEnumerable<BankStatement> before, BankStatement statement)
    {
        var own = before.Where(s => s.Account == statement.Account).ToList();
        return own.Count == 0 || own.Exists(s => s.Closing == statement.Opening || s.To >= statement.From) ? null : own.Max(s => s.To);
    }

    /// <summary>The lines that no statement brought before (rules §9): overlapping downloads are cut to what is new.</summary>
    /// <remarks>A line with a reference of the bank's is known by it, with its date and amount; one without by what it says, as often as it
    /// was said.</remarks>
    public async Task<IReadOnlyList<BankLine>> New(BankStatement statement)
    {
        if (statement.Lines.IsEmpty)
        {
            return [];
        }

        var (first, last) = (statement.Lines.Min(l => l.Booked), statement.Lines.Max(l => l.Booked));
        var known = await Standing(statement.Account).Where(l => l.Booked >= first && l.Booked <= last)
            .Select(l => new { l.Key, l.Booked, l.Amount, l.Text }).ToListAsync();
        var (byKey, bySaying) = (known.Select(l => (l.Key, l.Booked, l.Amount)).ToHashSet(),
            known.GroupBy(l => (l.Booked, l.Amount, l.Text)).ToDictionary(g => g.Key, g => g.Count()));
        List<BankLine> fresh = [];
        foreach (var line in statement.Lines)
        {
            var said = (line.Booked, line.Amount.Minor, line.Text);
            if (byKey.Contains((line.Key, line.Booked, line.Amount.Minor)))
            {
                bySaying[said] = bySaying.GetValueOrDefault(said) - 1;
            }
            else if (line.Key.StartsWith(statement.Id, StringComparison.Ordinal) && bySaying.GetValueOrDefault(said) > 0)
            {
                bySaying[said]--;
            }
            else
            {
                fresh.Add(line);
            }
        }

        return fresh;
    }

    /// <summary>Why a statement cannot stand beside those that are here: it says something else under the same number, or of the same
    /// reference and date; null where it can.</summary>
    public async Task<string?> Contradiction(BankStatement statement, IReadOnlyList<BankLine> fresh)
    {
        if ((await Heads()).Find(s => (s.Id, s.Account, s.From, s.To) == (statement.Id, statement.Account, statement.From,
            statement.To)) is { } same
            && (fresh.Count > 0 || (same.Opening, same.Closing) != (statement.Opening, statement.Closing)))
        {
            return $"Statement {statement.Id} was already imported with different contents. If the bank corrected it, withdraw the first "
                + "one.";
        }

        var keys = fresh.Select(l => l.Key).ToList();
        var used = (await Standing(statement.Account).Where(l => keys.Contains(l.Key)).Select(l => new { l.Key, l.Booked, l.Statement })
            .ToListAsync()).ToDictionary(l => l.Key);
        return fresh.Where(l => used.TryGetValue(l.Key, out var other) && other.Booked == l.Booked).Select(l => l.Key)
            .FirstOrDefault() is { } key
            ? $"The bank’s reference {key} is already on statement {used[key].Statement} with another amount. If the bank corrected it, "
                + "withdraw that statement first." : null;
    }

    /// <summary>The lines of an account whose statement stands: two accounts may both have a reference.</summary>
    private IQueryable<BankLineRow> Standing(string account) => db.BankLines.AsNoTracking()
        .Where(l => db.BankStatements.Any(s => s.Id == l.Statement && s.Account == account)
            && !db.StatementWithdrawals.Any(w => w.Statement == l.Statement));

    /// <summary>Keys that no line of the store has: a bank may use its references again.</summary>
    public async Task<IReadOnlyList<BankLine>> WithFreeKeys(IReadOnlyList<BankLine> lines)
    {
        var keys = lines.Select(l => l.Key).ToList();
        var used = (await db.BankLines.Where(l => keys.Contains(l.Key)).Select(l => l.Key).ToListAsync()).ToHashSet(StringComparer.Ordinal);
        List<BankLine> free = [];
        foreach (var line in lines)
        {
            var (key, times) = (line.Key, 1);
            while (used.Contains(key) || await IsUsed(key, times))
            {
                key = string.Create(System.Globalization.CultureInfo.InvariantCulture, $"{line.Key}~{++times}");
            }

            used.Add(key);
            free.Add(line with { Key = key });
        }

        return free;

        // Only a key that was made here may be one that was not asked for above.
        async Task<bool> IsUsed(string key, int times) => times > 1 && await db.BankLines.AnyAsync(l => l.Key == key);
    }

    /// <summary>A number under which the store knows a statement: the bank's own, unless a withdrawn one has it.</summary>
    public async Task<string> FreeId(string id)
    {
        var (free, times) = (id, 1);
        while (await db.BankStatements.AnyAsync(s => s.Id == free))
        {
            free = string.Create(System.Globalization.CultureInfo.InvariantCulture, $"{id}~{++times}");
        }

        return free;
    }
}
