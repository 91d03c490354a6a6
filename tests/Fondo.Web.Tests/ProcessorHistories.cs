using System.Globalization;
using Fondo.Standins.Terminals;
using Fondo.Store.Days;
using Fondo.Web.Settling;
using Microsoft.Extensions.DependencyInjection;

namespace Fondo.Web.Tests;

/// <summary>Forty evenings with a processor that is slow, silent, forgetful, that says things twice, counts anew or settles by itself: in
/// the end every card is in exactly one batch, and what is not settled is loud once its hour has come.</summary>
/// <remarks>A history is a line of steps: <c>sell3</c> three cards; <c>settle</c>; <c>ask</c> what became of it, and for batches;
/// <c>wait11</c> minutes; <c>days3</c>; the name of a fault, until <c>well</c>; <c>off</c>: Fondo forgot what it was told last;
/// <c>alone</c>: the terminal settles by itself; <c>renumber</c>: its last batch has the number of its first.</remarks>
public sealed class ProcessorHistories : SettlingShop
{
    private const string Terminal = "T-01";

    private readonly List<string> _sold = [];

    public static TheoryData<string> Evenings =>
    [
        // It answers late, or not at all.
        "sell2 settle ask | sell1 TimesOut settle well ask | sell3 TimesOut settle ask ask well ask wait11 ask"
            + " | sell1 Silent ask settle well ask wait11 ask settle ask | sell2 TimesOut settle Silent ask ask well ask",
        "sell1 Slow settle well ask | sell2 Slow settle settle well ask | sell1 Silent settle wait3 ask well wait11 ask settle ask"
            + " | sell2 TimesOut settle sell1 well ask settle ask | sell1 TimesOut settle well wait1 ask wait1 ask wait11 ask",
        // Orders never arrive; no one believes it at once.
        "sell1 LosesOrders settle ask well ask wait11 ask settle ask"
            + " | sell2 LosesOrders settle well wait2 ask wait5 ask wait5 ask settle ask"
            + " | sell1 LosesOrders settle wait11 well ask settle ask | sell1 LosesOrders settle sell2 well wait11 ask settle ask"
            + " | sell3 LosesOrders settle LosesOrders wait11 ask settle well wait11 ask settle ask",
        // It refuses, or leaves rows behind.
        "sell1 Refuses settle well settle ask | sell2 Refuses settle settle settle well settle ask"
            + " | sell5 LeavesBehind settle well ask settle ask"
            + " | sell4 LeavesBehind settle settle well settle ask | sell2 Refuses settle sell2 LeavesBehind settle well ask settle ask",
        // It says everything twice, or its numbers begin anew.
        "sell2 SendsTwice settle ask ask well ask | sell1 settle sell1 SendsTwice settle ask sell1 settle well ask"
            + " | sell1 settle sell2 settle renumber off ask ask | sell1 settle renumber off ask sell1 settle ask"
            + " | sell2 SendsTwice off ask settle off ask well off ask",
        // It settles by itself, while someone settles, and while Fondo is off.
        "sell2 alone ask | sell1 alone sell1 settle ask | sell2 TimesOut settle sell2 alone well ask ask | sell1 off alone off ask"
            + " | sell1 alone sell1 alone renumber off ask settle ask",
        // Several at once.
        "sell3 TimesOut settle SendsTwice ask well ask | sell4 LeavesBehind settle TimesOut settle well ask wait11 ask settle ask"
            + " | sell1 LosesOrders settle TimesOut settle well wait11 ask ask settle ask"
            + " | sell2 Refuses settle TimesOut settle Silent ask well ask"
            + " | sell1 TimesOut settle off Silent ask off well SendsTwice ask well ask",
        // After a long weekend.
        "sell1 settle wait30 ask | sell2 LosesOrders settle wait59 well ask settle ask | sell1 TimesOut settle wait30 well ask"
            + " | sell2 wait45 settle ask wait45 ask | sell2 TimesOut settle off days3 well ask wait11 ask",
    ];

    [Theory]
    [MemberData(nameof(Evenings))]
    public async Task Every_card_is_in_one_batch_and_what_is_not_settled_is_loud(string evening)
    {
        await WhatIsNotSettledIsLoud();
        foreach (var history in evening.Split(" | "))
        {
            foreach (var step in history.Split(' '))
            {
                await Play(step);
            }

            Host.Fault = HostFault.None;
            await Play("wait11");
            await Play("ask");
            await Play("settle");
            await Play("ask");
            Assert.All(await Settlements(), s => Assert.True(s.IsDone, $"{history}: {s.Says}"));
            Assert.Empty(Host.Running(Terminal).Rows);
            Assert.Equal(_sold.Order(), (await Settled()).Order());
        }
    }

    [Fact]
    public void There_are_forty() => Assert.Equal(40, Evenings.Sum(e => ((string)e.Data).Split(" | ").Length));

    /// <summary>A card that is held when its hour comes: told within the minute on every page, until it is settled.</summary>
    private async Task WhatIsNotSettledIsLoud()
    {
        await Play("sell1");
        House.Clock.Advance(new DateTimeOffset(2026, 11, 21, 22, 29, 0, TimeSpan.FromHours(-5)) - House.Clock.GetUtcNow());
        Assert.DoesNotContain(Terminal, await Overdue(), StringComparison.Ordinal);
        House.Clock.Advance(TimeSpan.FromMinutes(2));
        Assert.Contains($"{Terminal} should have been settled by 22:30", await Overdue(), StringComparison.Ordinal);
        await Play("settle");
        await Play("ask");
        Assert.DoesNotContain(Terminal, await Overdue(), StringComparison.Ordinal);
    }

    private async Task<string> Overdue()
    {
        using var scope = House.Services.CreateScope();
        await scope.ServiceProvider.GetRequiredService<Settler>().LookForLate();
        return string.Join(' ', (await (await House.SignedIn()).Page("/days")).QuerySelectorAll(".overdue").Select(o => o.TextContent));
    }

    private async Task Play(string step)
    {
        int Number(string word) => int.Parse(step[word.Length..], CultureInfo.InvariantCulture);
        if (Enum.TryParse<HostFault>(step, out var fault))
        {
            Host.Fault = fault;
        }
        else if (step.StartsWith("sell", StringComparison.Ordinal))
        {
            for (var n = Number("sell"); n > 0; n--)
            {
                _sold.Add(string.Create(CultureInfo.InvariantCulture, $"H{_sold.Count + 1:00000000000}"));
                await Sell(string.Create(CultureInfo.InvariantCulture, $"{_sold.Count}.{_sold.Count % 100:00}"), _sold[^1]);
            }
        }
        else if (step.StartsWith("wait", StringComparison.Ordinal))
        {
            House.Clock.Advance(TimeSpan.FromMinutes(Number("wait")));
        }
        else if (step.StartsWith("days", StringComparison.Ordinal))
        {
            House.Clock.Advance(TimeSpan.FromDays(Number("days")));
        }
        else
        {
            await (step switch
            {
                "well" => Do(() => Host.Fault = HostFault.None),
                "settle" => House.SettleWhatIsHeld(Today, Terminal),
                "ask" => Rounds(),
                "off" => Do(() => House.Services.GetRequiredService<SettlementWatch>().LastTold = null),
                "alone" => Do(() => Host.SettlePlayed(Terminal, House.Clock.GetUtcNow())),
                "renumber" => Do(() => Host.Renumber(Terminal,
                    Host.Batches(DateTimeOffset.MinValue).First(b => b.Terminal == Terminal).Batch)),
                _ => throw new ArgumentException($"no such step: {step}"),
            });
        }
    }

    private static Task Do(Action step)
    {
        step();
        return Task.CompletedTask;
    }

    /// <summary>The cards of these evenings in all batches of all days.</summary>
    private async Task<List<string>> Settled()
    {
        var rows = new List<string>();
        foreach (var day in await House.Ask<DayStore, IReadOnlyList<DayListing>>(d => d.List()))
        {
            var view = (await House.Ask<DayStore, DayView?>(d => d.View(day.Date)))!;
            rows.AddRange((view.Day.Rows ?? []).Select(r => r.Card.Rrn).OfType<string>().Where(r => r.StartsWith('H')));
        }

        return rows;
    }
}
