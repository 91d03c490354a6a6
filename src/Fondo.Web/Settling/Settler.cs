using System.Globalization;
using Fondo.Core.Amounts;
using Fondo.Core.Sheets;
using Fondo.Store.Days;
using Fondo.Store.Model;
using Fondo.Store.Settling;
using Fondo.Store.SetUp;
using Fondo.Web.Text;

namespace Fondo.Web.Settling;

/// <summary>Settles terminals, and follows each settlement to its end: what was sent is never sent twice, and after silence the processor
/// is asked what happened before anything else.</summary>
public sealed class Settler(SettlementDesk desk, BatchIntake intake, ProcessorLink processor, SettlementWatch watch,
    SettlementOrders orders, TerminalAsks asks, SetupBook book, DayStore days, TimeProvider clock)
{
    private static readonly TimeSpan _firstWait = TimeSpan.FromSeconds(15), _longestWait = TimeSpan.FromMinutes(10),
        _lost = TimeSpan.FromMinutes(1), _back = TimeSpan.FromDays(3);

    /// <summary>So long after something was sent, that nothing is known of it is no answer: it may still be on its way.</summary>
    private static readonly TimeSpan _onItsWay = TimeSpan.FromMinutes(10);

    /// <summary>The step behind which the processor is asked for the first time: it was ordered, and sent.</summary>
    private const int FirstAsked = 2;

    /// <summary>So many of the latest days are looked at.</summary>
    private const int LatestDays = 3;

    /// <summary>Sends one order, if the terminal still holds what was seen; and sees it to its end, also when whoever ordered it goes
    /// away.</summary>
    public async Task Send(Guid key, SeenOnTerminal seen)
    {
        var settlement = (await desk.Find(key))!;
        if (settlement.State != SettlementState.Ordered)
        {
            return;
        }

        if (await Changed(settlement, seen) is { } objection)
        {
            await desk.Step(key, SettlementState.NotSettled, $"{objection} Nothing was sent.");
            return;
        }

        await desk.Step(key, SettlementState.Sent, "Told to settle.");
        await Follow(key, await processor.Settle(settlement.Terminal, key, CancellationToken.None), isTold: true);
        asks.Forget(settlement.Terminal);
    }

    /// <summary>Asks the processor at once what became of a settlement.</summary>
    public async Task AskNow(Guid key) => await Follow(key, await processor.Find(key, CancellationToken.None), isTold: false);

    /// <summary>Why what the terminal holds now is not what was seen; null where it is.</summary>
    private async Task<string?> Changed(Settlement settlement, SeenOnTerminal seen)
    {
        asks.Forget(settlement.Terminal);
        var answer = await processor.Running(settlement.Terminal, CancellationToken.None);
        var setup = (await book.For(settlement.Day))!.Setup;
        var (held, objection) = TerminalReadings.Read(settlement.Terminal, answer, setup);
        var net = held.Aggregate(Money.Zero, (sum, r) => sum + r.Signed);
        return objection
            ?? (held.Count == 0 ? "It holds nothing to settle."
                : (held.Count, net.Minor) != (seen.Number, seen.Net)
                    ? $"It holds {Say.Count(held.Count, "card")} for {Say.Amount(net, setup.Currency)} now. That is not what you saw when "
                        + "you pressed."
                    : null);
    }

    /// <summary>One round: what is not known is asked, what has settled is fetched, what settled by itself is noticed, what should have is
    /// told.</summary>
    public async Task Round(CancellationToken cancel)
    {
        var now = clock.GetUtcNow();
        foreach (var open in await desk.Open())
        {
            if (open.State == SettlementState.Ordered)
            {
                await GiveUp(open.Key);
            }
            else if (open.State == SettlementState.Settled && (open.NextAt ?? now) <= now)
            {
                await Fetch(open.Key, open.Terminal, open.Batch!, null, cancel);
            }
            else if ((open.State == SettlementState.Unknown && open.NextAt <= now)
                || (open.State == SettlementState.Sent && now - open.ChangedAt > _lost))
            {
                await Follow(open.Key, await processor.Find(open.Key, cancel), isTold: false);
            }
        }

        await Notice(cancel);
    }

    /// <summary>An order that a stopped program left is never sent: whoever gave it looks again.</summary>
    private async Task GiveUp(Guid key)
    {
        // In this order: what is under way no more is written down as it ended.
        if (!orders.IsUnderWay(key) && (await desk.Find(key))!.State == SettlementState.Ordered)
        {
            await desk.Step(key, SettlementState.NotSettled, "Fondo stopped before it was sent. Nothing was sent.");
        }
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
                await Fetch(key, settlement.Terminal, answer.Value.Batch, answer.Value.Closed, CancellationToken.None);
                break;
            case Answered.No when !isTold && clock.GetUtcNow() - settlement.At < _onItsWay:
                await desk.Step(key, SettlementState.Unknown,
                    "The processor has no record of it yet. It may still be on its way, so Fondo keeps asking until ten minutes after it "
                        + "was sent, and sends nothing else to this terminal.", nextAt: Next(settlement, settlement.At + _onItsWay));
                break;
            case Answered.No:
                await desk.Step(key, SettlementState.NotSettled,
                    isTold ? Refusal(answer.Says) : "The processor has no record of it, so nothing was settled. You can settle again.");
                break;
            default:
                await desk.Step(key, SettlementState.Unknown,
                    $"{answer.Says} No answer, so Fondo does not know whether it settled. Fondo keeps asking and sends nothing else to "
                        + "this terminal until it knows.", nextAt: Next(settlement));
                break;
        }
    }

    /// <summary>When it is asked again: after twice as long each time.</summary>
    /// <param name="latest">Not later than that.</param>
    private DateTimeOffset Next(Settlement settlement, DateTimeOffset? latest = null)
    {
        var wait = TimeSpan.FromTicks(Math.Min(_longestWait.Ticks, _firstWait.Ticks << Math.Clamp(settlement.Step - FirstAsked, 0, 10)));
        var next = clock.GetUtcNow() + wait;
        return latest < next ? latest.Value : next;
    }

    private static string Refusal(string says) => says.Length > 0 ? $"Not settled: {says}" : "The processor refused: nothing was settled.";

    /// <param name="closed">Null where it is not known.</param>
    private async Task Fetch(Guid key, string terminal, string batch, DateTimeOffset? closed, CancellationToken cancel)
    {
        var (objection, day) = await TakeIn(terminal, batch, closed, cancel);
        if (objection is null)
        {
            await desk.Step(key, SettlementState.TakenIn,
                day is { } d ? $"Batch {batch} is in {d:yyyy-MM-dd}." : $"Batch {batch} is imported.", batch);
        }
        else
        {
            await desk.Step(key, SettlementState.Settled, $"Settled as batch {batch}, which could not be imported yet: {objection}", batch,
                Next((await desk.Find(key))!));
        }
    }

    /// <summary>Every batch since the last one known is asked for, however long nobody asked; the same one twice changes nothing. One that
    /// closed after something was sent to its terminal ends the question what became of that.</summary>
    private async Task Notice(CancellationToken cancel)
    {
        if (!processor.IsThere)
        {
            return;
        }

        var now = clock.GetUtcNow();
        var since = watch.LastTold ?? await intake.LastTaken() ?? now;
        var answer = await processor.Batches(since - _back, cancel);
        if (answer.How != Answered.Yes)
        {
            watch.SilentSince ??= now;
            return;
        }

        watch.SilentSince = null;
        foreach (var batch in answer.Value!.DistinctBy(b => (b.Terminal, b.Batch, b.Closed)))
        {
            if (watch.Known.ContainsKey(NameOf(batch.Terminal, batch.Batch, batch.Closed)))
            {
                continue;
            }

            var (objection, _) = await TakeIn(batch.Terminal, batch.Batch, batch.Closed, cancel);
            if (objection is not null)
            {
                watch.Troubles[NameOf(batch.Terminal, batch.Batch, batch.Closed)] = new(DateOnly.FromDateTime(batch.Closed.DateTime),
                    $"{batch.Terminal}/{batch.Batch}", $"Batch {batch.Batch} of {batch.Terminal} could not be imported: {objection}");
            }
        }

        // What could not be imported is asked for until it is, also over more days off than are usually looked back.
        watch.LastTold = watch.Troubles.IsEmpty ? now : since;
        foreach (var open in (await desk.Open()).Where(o => o.State == SettlementState.Unknown))
        {
            if (answer.Value!.FirstOrDefault(b => b.Terminal == open.Terminal && b.Closed >= open.At && b.Closed <= open.At + _onItsWay)
                is { } came)
            {
                await Fetch(open.Key, open.Terminal, came.Batch, came.Closed, cancel);
            }
        }
    }

    /// <param name="closed">Null where it is not known before the batch is there.</param>
    /// <returns>Why it is not in; null where it is.</returns>
    private async Task<(string? Objection, DateOnly? Day)> TakeIn(string terminal, string batch, DateTimeOffset? closed,
        CancellationToken cancel)
    {
        DateOnly? day = null;
        if (closed is null || !await intake.IsThere(terminal, batch, closed.Value))
        {
            var answer = await processor.Batch(terminal, batch, closed, cancel);
            if (answer.How != Answered.Yes)
            {
                return (answer.Says.Length > 0 ? answer.Says : "The processor does not send it.", null);
            }

            if (closed is { } at && (answer.Value!.Closed - at).Duration() >= TimeSpan.FromSeconds(1))
            {
                return ("The processor sends another batch of this number.", null);
            }

            if (closed is null && await intake.IsThere(terminal, batch, answer.Value!.Closed))
            {
                return (null, null);
            }

            closed = answer.Value!.Closed;
            var lastSale = answer.Value!.Rows is [_, ..] rows ? rows.Max(r => r.At) : answer.Value.Closed;
            var own = answer.Value with { Batch = await intake.NumberOf(terminal, batch, closed.Value, lastSale) };
            (day, var objection) = await intake.Take(WireFiles.Rows(own), WireFiles.Totals(own), lastSale);
            if (objection is not null)
            {
                return (objection, null);
            }
        }

        var name = NameOf(terminal, batch, closed.Value);
        watch.Known[name] = true;
        watch.Troubles.TryRemove(name, out _);
        return (null, day);
    }

    private static string NameOf(string terminal, string batch, DateTimeOffset closed) =>
        string.Create(CultureInfo.InvariantCulture, $"{terminal}/{batch}/{closed.UtcDateTime:yyyyMMddHHmmss}");
}
