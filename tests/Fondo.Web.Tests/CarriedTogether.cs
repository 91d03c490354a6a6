using System.Net;
using Fondo.Core.Entries;
using Fondo.Store.Days;

namespace Fondo.Web.Tests;

/// <summary>A whole batch that never came is carried with one press.</summary>
public sealed class CarriedTogether : SmallShop
{
    [Fact]
    public async Task What_nobody_owns_is_carried_on_with_one_press()
    {
        DateOnly first = new(2026, 11, 21), second = new(2026, 11, 22);
        var odile = await BeginShop();
        await Trade(odile, "2026-11-21", cards: 3, isSettled: false);
        await Close(odile, first);
        Own.Clock.Advance(TimeSpan.FromHours(20));
        odile = await Own.SignedIn();
        await Trade(odile, "2026-11-22", cards: 0);

        var page = await odile.Page("/2026-11-22/carried");
        var form = page.QuerySelector("form.answer[data-sends=carried]")!;
        Assert.Equal("Carry all three on", form.QuerySelector("button[name=all]")!.TextContent);
        var fields = form.QuerySelectorAll("input[name]").Where(i => i.GetAttribute("name") != "__RequestVerificationToken")
            .ToDictionary(i => i.GetAttribute("name")!, i => i.GetAttribute("value") ?? "");
        (fields["kind"], fields["owner"], fields["all"]) = ("Carry", "p01", "true");
        Assert.Equal(HttpStatusCode.Redirect, (await odile.Post("/2026-11-22/carried", fields)).StatusCode);
        var view = await Own.Ask(async (DayStore days) => (await days.View(second))!);
        Assert.Equal(3, Carrying.Open(view.Reconciliation, view.Entries).Count(c => c.Owned?.Owner == Odile.Id));
        Assert.Equal(3, view.Entries.Count);
        Assert.Null((await odile.Page("/2026-11-22/carried")).QuerySelector("button[name=all]"));
    }
}
