using Fondo.Core.SetUp;
using Fondo.Core.Sheets;
using Fondo.Store.Days;
using Fondo.Store.Model;
using Fondo.Store.Settling;
using Fondo.Web.Text;

namespace Fondo.Web.Settling;

/// <summary>Settles terminals, and follows each settlement to its end: what was sent is never sent twice, and after silence the processor
/// is asked what happened before anything else.</summary>
public sealed class Settler(SettlementDesk desk, BatchIntake intake, ProcessorLink processor, SettlementWatch watch, DayStore days,
    TimeProvider clock)
{
    private static readonly TimeSpan _firstWait = TimeSpan.FromSeconds(15), _longestWait = TimeSpan.FromMinutes(10),
        _lost = TimeSpan.FromMinutes(1), _back = TimeSpan.FromDays(3);

    /// <summary>So many of the latest days are looked at.</summary>
    private const int LatestDays = 3;

    /// <summary>Tells one terminal to settle.</summary>
    /// <returns>Why nothing was sent; null where it was, whatever came of it.</returns>
    public async Task<string?> Settle(DateOnly day, string terminal, Guid key, Person by, CancellationToken cancel)
    {
        var (isNew, objection) = await desk.Begin(day, terminal, key, by);
        if (!isNew)
        {
            return objection;
        }

        // Once sent it is seen to its end, also when whoever asked goes away.
        await Follow(key, await processor.Settle(terminal, key, CancellationToken.None), isTold: true);
        cancel.ThrowIfCancellationRequested();
        return null;
    }

    /// <summary>Asks the processor at once what became of a settlement.</summary>
    public async Task AskNow(Guid key) => await Follow(key, await processor.Find(key, CancellationToken.None), isTold: false);

    /// <summary>One round: what is not known is asked, what has settled is fetched, what settled by itself is noticed, what should have is
    /// told.</summary>
    public async Task Round(CancellationToken cancel)
    {
        var now = clock.GetUtcNow();
        foreach (var open in await desk.Open())
        {
            if (open.State == SettlementState.Settled && (open.NextAt ?? now) <= now)
            {
                await Fetch(open.Key, open.Terminal, open.Batch!, cancel);
            }
            else if ((open.State == SettlementState.Unknown && open.NextAt <= now)
                || (open.State == SettlementState.Sent && now - open.ChangedAt > _lost))
            {
                await Follow(open.Key, await processor.Find(open.Key, cancel), isTold: false);
            }
        }

        await Notice(cancel);
    }

    /// <summary>Looks which terminals of the open days are late.</summary>
    public async Task LookForLate()
    {
        var late = new List<Alarm>();
        foreach (var listed in (await days.List()).Take(LatestDays).Where(d => d.CloseNumber is null))
        {
            try
            {
                if (await days.View(listed.Date, mayLag: true) is { } view)
                {
                    late.AddRange(MissedSettlement.In(view.Overview, clock.GetUtcNow())
                        .Select(m => new Alarm(listed.Date, view.Setup.NameOf(m.Register),
                        Say.Of(m, view.Setup) + (m.Number > 0
                            ? $" {Say.Count(m.Number, "card")} for {Say.Amount(m.Amount, view.Setup.Currency)} wait."
                            : ""))));
                }
            }
            catch (UnreadableDayException)
            {
                // The day itself says so.
            }
        }

        watch.Overdue = late;
    }

    /// <param name="isTold">Whether it was told to settle; else it was asked what became of it.</param>
    private async Task Follow(Guid key, Answer<WireBatch> answer, bool isTold)
    {
        var settlement = (await desk.Find(key))!;
        switch (answer.How)
        {
            case Answered.Yes:
                await desk.Step(key, SettlementState.Settled, $"Settled as batch {answer.Value!.Batch}.", answer.Value.Batch);
                await Fetch(key, settlement.Terminal, answer.Value.Batch, CancellationToken.None);
                break;
            case Answered.No:
                await desk.Step(key, SettlementState.NotSettled,
                    isTold ? Refusal(answer.Says) : "The processor has no record of it, so nothing was settled. You can settle again.");
                break;
            default:
                var wait = TimeSpan.FromTicks(Math.Min(_longestWait.Ticks, _firstWait.Ticks << Math.Min(settlement.Tries - 1, 10)));
                await desk.Step(key, SettlementState.Unknown,
                    $"{answer.Says} No answer, so Fondo does not know whether it settled. Fondo keeps asking and sends nothing else to "
                    + "this "
                        + "terminal until it knows.", nextAt: clock.GetUtcNow() + wait);
                break;
        }
    }

    private static string Refusal(string says) => says.Length > 0 ? $"Not settled: {says}" : "The processor refused: nothing was settled.";

    private async Task Fetch(Guid key, string terminal, string batch, CancellationToken cancel)
    {
        var (objection, day) = await TakeIn(terminal, batch, cancel);
        if (objection is null)
        {
            await desk.Step(key, SettlementState.TakenIn,
                day is { } d ? $"Batch {batch} is in {d:yyyy-MM-dd}." : $"Batch {batch} is imported.", batch);
        }
        else
        {
            var settlement = (await desk.Find(key))!;
            var wait = TimeSpan.FromTicks(Math.Min(_longestWait.Ticks, _firstWait.Ticks << Math.Min(settlement.Tries - 1, 10)));
            await desk.Step(key, SettlementState.Settled, $"Settled as batch {batch}, which could not be imported yet: {objection}", batch,
                clock.GetUtcNow() + wait);
        }
    }

    /// <summary>Batches that closed without us are taken in as they come; the same one twice changes nothing.</summary>
    private async Task Notice(CancellationToken cancel)
    {
        if (!processor.IsThere)
        {
            return;
        }

        var answer = await processor.Batches(clock.GetUtcNow() - _back, cancel);
        if (answer.How != Answered.Yes)
        {
            watch.SilentSince ??= clock.GetUtcNow();
            return;
        }

        watch.SilentSince = null;
        foreach (var batch in answer.Value!.DistinctBy(b => (b.Terminal, b.Batch)))
        {
            var name = $"{batch.Terminal}/{batch.Batch}";
            if (watch.Known.ContainsKey(name))
            {
                continue;
            }

            var (objection, _) = await TakeIn(batch.Terminal, batch.Batch, cancel);
            if (objection is not null)
            {
                watch.Troubles[name] = new(DateOnly.FromDateTime(batch.Closed.DateTime), name,
                    $"Batch {batch.Batch} of {batch.Terminal} could not be imported: {objection}");
            }
        }
    }

    /// <returns>Why it is not in; null where it is.</returns>
    private async Task<(string? Objection, DateOnly? Day)> TakeIn(string terminal, string batch, CancellationToken cancel)
    {
        var name = $"{terminal}/{batch}";
        DateOnly? day = null;
        if (!await intake.IsThere(terminal, batch))
        {
            var answer = await processor.Batch(terminal, batch, cancel);
            if (answer.How != Answered.Yes)
            {
                return (answer.Says.Length > 0 ? answer.Says : "The processor does not send it.", null);
            }

            (day, var objection) = await intake.Take(WireFiles.Rows(answer.Value!), WireFiles.Totals(answer.Value!),
                answer.Value!.Rows is [_, ..] rows ? rows.Max(r => r.At) : answer.Value.Closed);
            if (objection is not null)
            {
                return (objection, null);
            }
        }

        watch.Known[name] = true;
        watch.Troubles.TryRemove(name, out _);
        return (null, day);
    }
}
