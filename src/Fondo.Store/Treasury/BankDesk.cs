using System.Text.Json;
using Fondo.Core.Banking;
using Fondo.Core.Days;
using Fondo.Core.SetUp;
using Fondo.Store.Days;
using Fondo.Store.Intake;
using Fondo.Store.Model;
using Fondo.Store.SetUp;
using Microsoft.EntityFrameworkCore;

namespace Fondo.Store.Treasury;

/// <summary>Imports statements of the bank, each whole or not at all; matches their lines by hand; withdraws a statement that was a
/// mistake.</summary>
public sealed class BankDesk(StoreContext db, SetupBook setups, StatementBook book, DayStore days, DayLock guard, PersonsWord word,
    TimeProvider clock)
{
    /// <summary>What became of statements that were imported.</summary>
    /// <param name="Lines">How many lines are new.</param>
    /// <param name="Known">How many were known already.</param>
    public sealed record Taken(int Statements, int Lines, string? Objection, int Known = 0)
    {
        /// <summary>Why other persons have to agree first; null where none has to.</summary>
        public FilesWait? Waits { get; init; }
    }

    /// <param name="statements">As they were read; their lines are of no trading day yet.</param>
    /// <param name="by">A person who may, or the watched folder.</param>
    public async Task<Taken> Take(IReadOnlyList<BankStatement> statements, string file, string by)
    {
        await using var transaction = await db.BeginWriting();
        if (await db.Days.MaxAsync(d => (DateOnly?)d.Date) is not { } latest || await setups.For(latest) is not { } held)
        {
            return new(0, 0, "Nothing has been imported yet. Import a day first.");
        }

        var accounts = held.Setup.BankAccounts.Select(b => b.Number).ToList();
        if (accounts.Count == 0 && (await book.Heads()).FirstOrDefault() is { } first)
        {
            accounts.Add(first.Account);
        }

        var (taken, lines, known) = (0, 0, 0);
        // A statement begins no trading day: where none is open, its lines wait for the next one.
        var open = await db.Days.Where(d => d.HasTrade && !db.StandingCloses.Any(c => c.Day == d.Date)).OrderBy(d => d.Date)
            .Select(d => d.Date).ToListAsync();
        var before = await word.Before(open);
        foreach (var statement in statements.OrderBy(s => s.From).ThenBy(s => s.To))
        {
            var fresh = await book.New(statement);
            var currency = held.Setup.Currency;
            if ((statement.Objection(accounts, currency)?.Says(currency) ?? await book.Contradiction(statement, fresh)) is { } objection)
            {
                db.ChangeTracker.Clear();
                return new(0, 0, $"{file}: {objection} Nothing was imported from it.");
            }

            known += statement.Lines.Length - fresh.Count;
            if (accounts.Count == 0)
            {
                accounts.Add(statement.Account);
            }

            if (fresh.Count == 0 && await IsCovered(statement))
            {
                continue;
            }

            await Append(statement, fresh, file, by, open, latest);
            (taken, lines) = (taken + 1, lines + fresh.Count);
        }

        if (await word.Wait(before, file, []) is { } waits)
        {
            db.ChangeTracker.Clear();
            return new(0, 0, null) { Waits = waits };
        }

        await transaction.CommitAsync();
        return new(taken, lines, null, known);
    }

    /// <summary>Whether a statement of which nothing is new says nothing new either.</summary>
    private async Task<bool> IsCovered(BankStatement statement) =>
        !statement.Lines.IsEmpty || (await book.Heads())
            .Exists(s => s.Account == statement.Account && s.From <= statement.From && s.To >= statement.To
                && s.Closing == statement.Closing);

    /// <param name="open">The trading days that are open, the earliest first.</param>
    private async Task Append(BankStatement statement, IReadOnlyList<BankLine> fresh, string file, string by, List<DateOnly> open,
        DateOnly latest)
    {
        var id = await book.FreeId(statement.Id);
        db.BankStatements.Add(new()
        {
            Id = id,
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
        await db.SaveChangesAsync();
        // What was booked on a closed day is looked at on the first one that is still open.
        await StatementLines.Append(db, id, [.. (await book.WithFreeKeys(fresh)).Select((l, i) => new BankLineRow
        {
            Key = l.Key,
            Statement = id,
            Place = i + 1,
            Day = open.Count == 0 ? latest : open.Where(d => d >= l.Booked).Append(open[^1]).First(),
            Waits = open.Count == 0,
            Booked = l.Booked,
            Amount = l.Amount.Minor,
            Text = l.Text,
            Items = l.Number,
            IsReversal = l.IsReversal,
            Details = l.Details.IsEmpty
                ? null
                : JsonSerializer.Serialize(l.Details.Select(d => new StoredDetail(d.Amount.Minor, d.Text))),
        })]);
    }

    private sealed record StoredDetail(long Amount, string Text);

    internal static BankLine ToLine(BankLineRow r) => new(r.Key, new(r.Day), r.Booked, new(r.Amount), r.Text, r.Items)
    {
        IsReversal = r.IsReversal,
        Details = r.Details is null
            ? []
            : [.. (JsonSerializer.Deserialize<List<StoredDetail>>(r.Details) ?? []).Select(d => new BankDetail(new(d.Amount), d.Text))],
    };

    /// <summary>Decides by hand what a line pays, that it pays nothing open, or that the rules decide again.</summary>
    /// <param name="id">Made with the form.</param>
    /// <param name="target">What it pays; needed for a match and for the last one, else null.</param>
    public Task<Outcome> Decide(DateOnly day, Guid id, BankDecisionKind kind, string line, BankTarget? target, string? reason, Person by) =>
        guard.Write(day, by, ActKind.MatchBankLine, async () =>
    {
        if (await Before(id, made => made.Line == line && made.Kind == kind && made.Target == target?.ToString(), reason) is { } known)
        {
            return known;
        }

        var view = (await days.View(day))!;
        if (view.Money.Bank.Lines.FirstOrDefault(l => l.Key == line) is not { } booked)
        {
            return Outcome.Refused("This bank line does not belong to this day any more. Reload the page.");
        }

        if (kind is BankDecisionKind.NothingMore or BankDecisionKind.ExpectAgain)
        {
            return Outcome.Refused("This decides about a deposit or a processor, not about a bank line.");
        }

        var pays = kind is BankDecisionKind.Match or BankDecisionKind.Last;
        if (pays && (target is not { } wanted
            || !view.Money.Bank.Targets(booked, view.Money.Start.Orders.Concat(view.Money.Acts.Orders)).Contains(wanted)))
        {
            return Outcome.Refused(
                "What you matched this line to is closed, or no longer expected from the bank. Choose something that is still open.");
        }

        if (view.Entries.Any(e => e.Stands(view.Entries) && e.Touches(new CellKey.BankLine(line))))
        {
            return Outcome.Refused("An entry explains this bank line already. Reverse that entry first, then match the line.");
        }

        await Keep(day, id, kind, booked.Key, pays ? target : null, reason!, by);
        return Outcome.Done;
    });

    /// <summary>Decides that nothing more comes for a deposit or a funding that an earlier day left on its way, or that it is expected
    /// again. What is missing becomes a difference, which entries explain.</summary>
    /// <param name="id">Made with the form.</param>
    public Task<Outcome> Expect(DateOnly day, Guid id, BankTarget target, bool again, string? reason, Person by) =>
        guard.Write(day, by, ActKind.MatchBankLine, async () =>
    {
        var kind = again ? BankDecisionKind.ExpectAgain : BankDecisionKind.NothingMore;
        if (await Before(id, made => made.Kind == kind && made.Target == target.ToString(), reason) is { } known)
        {
            return known;
        }

        var view = (await days.View(day))!;
        var (bank, ended) = (view.Money.Bank, BankDecision.EndedBy(view.Money.Decisions).Contains(target));
        if (again ? !ended : ended || !bank.IsOnItsWay(target))
        {
            return Outcome.Refused(again
                ? "Fondo already waits for it. Reload the page."
                : "It is no longer in transit, or it left the shop only today. Reload the page.");
        }

        if (again && bank.CellOf(target) is { } key && view.Entries.Any(e => e.Stands(view.Entries) && e.Touches(key)))
        {
            return Outcome.Refused("An entry already explains the missing amount. Reverse that entry first.");
        }

        await Keep(day, id, kind, "", target, reason!, by);
        return Outcome.Done;
    });

    /// <summary>What there is to say before any decision is looked at: it was made by this form, or may not be made. Null where it may
    /// be.</summary>
    private async Task<Outcome?> Before(Guid id, Func<BankDecisionRow, bool> isSame, string? reason)
    {
        if (await db.BankDecisions.AsNoTracking().SingleOrDefaultAsync(d => d.Id == id) is { } made)
        {
            return isSame(made)
                ? Outcome.Done
                : Outcome.Refused(
                    "This form was already sent with a different decision, and that one was kept. Reload the page to see it.");
        }

        return Reasons.Needed(reason) is { } withheld ? Outcome.Refused(withheld) : null;
    }

    private async Task Keep(DateOnly day, Guid id, BankDecisionKind kind, string line, BankTarget? target, string reason, Person by)
    {
        db.BankDecisions.Add(new()
        {
            Id = id,
            Day = day,
            Line = line,
            Kind = kind,
            Target = target?.ToString(),
            Reason = reason.Trim(),
            By = by.Id.Value,
            At = clock.GetUtcNow()
        });
        await db.SaveChangesAsync();
        await guard.Revise(day);
    }

    /// <summary>Withdraws a statement: its lines count nowhere. Two people do it, while no closed day has a line of it.</summary>
    public async Task<Outcome> Withdraw(string statement, string? reason, Person by, Person? second)
    {
        await using var transaction = await db.BeginWriting();
        if (by.Refusal(ActKind.WithdrawStatement) is { } refused)
        {
            return refused;
        }

        if (second?.MayBeSecond(ActKind.WithdrawStatement, by) != true)
        {
            return Outcome.Refused("Withdrawing a statement takes two people. The second person must be another supervisor or manager.");
        }

        if (Reasons.Needed(reason) is { } withheld)
        {
            return Outcome.Refused(withheld);
        }

        if (!await db.BankStatements.AnyAsync(s => s.Id == statement)
            || await db.StatementWithdrawals.AnyAsync(w => w.Statement == statement))
        {
            return Outcome.Refused("This statement is not here, or was withdrawn already.");
        }

        var on = await db.BankLines.Where(l => l.Statement == statement)
            .Select(l => db.BankLineDays.Where(d => d.Key == l.Key).Select(d => (DateOnly?)d.Day).FirstOrDefault() ?? l.Day).Distinct()
            .ToListAsync();
        if (await db.StandingCloses.Where(c => on.Contains(c.Day)).OrderBy(c => c.Day).Select(c => (DateOnly?)c.Day)
            .FirstOrDefaultAsync() is { } closed)
        {
            return Outcome.Refused(
                $"{closed.ToString("dddd, d MMMM", System.Globalization.CultureInfo.InvariantCulture)}, is closed with lines of this "
                    + "statement. Reopen that day first, or correct the difference there.");
        }

        db.StatementWithdrawals.Add(new()
        {
            Statement = statement,
            Reason = reason!.Trim(),
            By = by.Id.Value,
            Witness = second.Id.Value,
            At = clock.GetUtcNow()
        });
        await db.SaveChangesAsync();
        if (on.Count > 0)
        {
            await guard.Grow(on, isWanted: true);
        }

        await transaction.CommitAsync();
        return Outcome.Done;
    }
}
