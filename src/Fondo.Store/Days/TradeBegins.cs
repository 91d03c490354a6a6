using Fondo.Files.Reading;
using Fondo.Store.Model;
using Fondo.Store.SetUp;
using Microsoft.EntityFrameworkCore;

namespace Fondo.Store.Days;

/// <summary>Notices the first trade of a day: from then on it is a link of the chain, and takes what waited for it (rules §9): carried
/// items of the last closed day, lines of the bank, corrections.</summary>
public sealed class TradeBegins(StoreContext db, DayStore days, SetupBook book, CarriedRecords records, CloseOrder chain)
{
    /// <summary>Within a transaction, after something was written to these days.</summary>
    public async Task On(IReadOnlyCollection<DateOnly> touched)
    {
        foreach (var date in touched.Order())
        {
            if (await db.Days.Where(d => d.Date == date).Select(d => (bool?)d.HasTrade).SingleOrDefaultAsync() == false
                && await IsThere(date))
            {
                await db.Days.Where(d => d.Date == date).ExecuteUpdateAsync(s => s.SetProperty(d => d.HasTrade, true));
                var day = await db.Days.AsNoTracking().SingleAsync(d => d.Date == date);
                await db.Note(day.State()!.By(TrailAct.Records, null, $"{date:yyyy-MM-dd}", "trade began"));
                if (await Receive(date))
                {
                    // Besides what was written to it: a day worked out before does not have it.
                    await db.Days.Where(d => d.Date == date).ExecuteUpdateAsync(s => s.SetProperty(d => d.Revision, d => d.Revision + 1));
                }
            }
        }
    }

    /// <summary>Whether anything happened on the day: what is carried to it, and what was rung late on an earlier one, is no trade of its
    /// own.</summary>
    internal async Task<bool> IsThere(DateOnly date)
    {
        if (await db.StandingRecords.AnyAsync(r => r.Day == date && r.Kind != RecordKind.Setup && r.Kind != RecordKind.Carried
            && r.Kind != RecordKind.Event))
        {
            return true;
        }

        var from = (await book.For(date))!.Setup.Begins(date);
        return await db.Events.AnyAsync(e => e.Day == date && e.At >= from);
    }

    /// <returns>Whether it has another content now.</returns>
    private async Task<bool> Receive(DateOnly date)
    {
        var isBehindOthers = await db.Days.AnyAsync(d => d.HasTrade && d.Date > date);
        var isWritten = false;
        if (await db.StandingCloses.Where(c => c.Day < date).OrderByDescending(c => c.Day).Select(c => new { c.Day, c.Number })
            .FirstOrDefaultAsync() is { } last)
        {
            isWritten |=
                await records.Write(date, last.Day, last.Number, await records.Of((await days.View(last.Day))!), [], isChange: false);
        }

        if (isBehindOthers)
        {
            return isWritten;
        }

        foreach (var number in await chain.NotPosted(date))
        {
            db.Corrections.Add(new() { Close = number, Day = date });
            isWritten |= await Change(date, number);
        }

        var waiting = await db.BankLines.Where(l => !db.StatementWithdrawals.Any(w => w.Statement == l.Statement)
            && (l.Waits || !db.Days.Any(d => d.Date == l.Day && d.HasTrade)) && !db.BankLineDays.Any(d => d.Key == l.Key))
            .Select(l => l.Key).ToListAsync();
        db.BankLineDays.AddRange(waiting.Select(k => new BankLineDayRow { Key = k, Day = date }));
        await db.SaveChangesAsync();
        return isWritten;
    }

    /// <summary>What a correction carries otherwise than before, where days between are closed.</summary>
    private async Task<bool> Change(DateOnly to, int close)
    {
        if (await chain.Document(close) is not { Corrects: { } corrected } document
            || await days.View(DateOnly.ParseExact(document.TradingDay, "yyyy-MM-dd",
                System.Globalization.CultureInfo.InvariantCulture)) is not { } view)
        {
            return false;
        }

        return await records.Correct(to, view, document, close, await chain.Document(corrected));
    }
}
