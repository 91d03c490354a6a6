using Fondo.Core.Closing;
using Fondo.Store.Model;
using Microsoft.EntityFrameworkCore;

namespace Fondo.Store.Days;

/// <summary>Gives the next trading day what a closed one carries, and posts what another revision changes in the earliest open day. Where
/// none has begun yet, the next one takes both (<see cref="TradeBegins"/>).</summary>
public sealed class CarryOver(StoreContext db, DayLock guard, CarriedRecords records, CloseOrder chain, TimeProvider clock)
{
    /// <summary>Within the transaction that closes the day.</summary>
    /// <param name="before">What was handed on before: the revision that this one corrects; null where nothing was.</param>
    public async Task Write(DayView view, int close, CloseDocument document, CloseDocument? before)
    {
        var date = view.Setup.TradingDay.Date;
        if (await chain.FirstOpenAfter(date) is not { } to)
        {
            return;
        }

        var isCorrection = document.Corrects is not null;
        if (isCorrection)
        {
            db.Corrections.Add(new() { Close = close, Day = to });
        }

        var isWritten = isCorrection
            ? await records.Correct(to, view, document, close, before)
            : await records.Write(to, date, close, await records.Of(view),
                [.. (await records.BroughtTo(to)).Where(k => document.Carried.All(c => c.Key != k))], isChange: document.Revision > 1);
        if (document.Revision > 1)
        {
            isWritten |= await Tell(date, to, close, document, before);
        }

        if (isWritten || isCorrection)
        {
            await guard.Grow([to], isWanted: true);
        }
    }

    /// <summary>Tells the days behind what another revision says.</summary>
    private async Task<bool> Tell(DateOnly date, DateOnly to, int close, CloseDocument document, CloseDocument? before)
    {
        var changed = (before ?? document).Differences(document)
            .Where(d => document.Corrects is not null || d.What.StartsWith("carried item", StringComparison.Ordinal)).ToList();
        if (changed.Count == 0)
        {
            return false;
        }

        var says = $"Close {close} is another revision of {date:yyyy-MM-dd}: "
            + string.Join("; ", changed.Take(5).Select(d => $"{d.What}: {Or(d.Was)} before, {Or(d.Is)} now")) + ".";
        foreach (var day in await db.Days.Where(d => d.Date > date && d.Date <= to).Select(d => d.Date).ToListAsync())
        {
            db.CarryChanges.Add(new() { Day = day, Close = close, Says = says, At = clock.GetUtcNow() });
        }

        await db.SaveChangesAsync();
        return true;

        static string Or(string text) => text.Length == 0 ? "nothing" : text;
    }
}
