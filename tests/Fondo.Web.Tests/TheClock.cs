namespace Fondo.Web.Tests;

/// <summary>The clock of open card items: on the board, in their list, in their cell.</summary>
public sealed class TheClock : IAsyncLifetime
{
    private readonly Shop _shop = new();

    public ValueTask InitializeAsync() => _shop.InitializeAsync();

    public ValueTask DisposeAsync() => _shop.DisposeAsync();

    [Fact]
    public async Task The_board_says_how_much_is_at_risk_by_when_and_the_list_what_is_over()
    {
        var odile = await _shop.SignedIn();
        var board = (await odile.Page(Shop.Day + "/board")).QuerySelector(".clock")!.TextContent;
        Assert.Contains("h left to correct it", board, StringComparison.Ordinal);
        var list = await odile.Page(Shop.Day + "/open-items");
        var lefts = list.QuerySelectorAll(".events tbody tr td:first-child").Select(t => t.TextContent).ToList();
        Assert.NotEmpty(lefts);
        Assert.All(lefts, l => Assert.Contains("h left to correct it, until", l, StringComparison.Ordinal));
        _shop.Clock.Advance(TimeSpan.FromHours(60));
        odile = await _shop.SignedIn();
        list = await odile.Page(Shop.Day + "/open-items");
        Assert.Contains("past their time", list.QuerySelector("h1")!.TextContent, StringComparison.Ordinal);
        Assert.All(list.QuerySelectorAll(".events tbody tr"),
            r => Assert.Contains("Decide who takes the loss", r.TextContent, StringComparison.Ordinal));
        Assert.Contains("past its time", (await odile.Page(Shop.Day + "/board")).QuerySelector(".clock")!.TextContent,
            StringComparison.Ordinal);
        var cell = await odile.Page(list.QuerySelector(".events a[data-row]")!.GetAttribute("href")!);
        Assert.Contains("decide who takes the loss", cell.QuerySelector("main")!.TextContent, StringComparison.Ordinal);
    }
}
