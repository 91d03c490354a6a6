using Fondo.Rehearsal;
using Fondo.Rehearse;

namespace Fondo.Web.Tests;

/// <summary>Whole made-up shops through the pages, held against their real money: `./fondo rehearse`, kept short.</summary>
public sealed class ShopsLive(ITestOutputHelper output)
{
    [Theory]
    [InlineData(1, 3)]
    [InlineData(12, 3)]
    [InlineData(2001, 2)]
    public async Task A_shops_days_come_to_its_real_money(int seed, int days)
    {
        var lived = await Live(seed, days);
        Assert.Empty(lived.Differences);
        Assert.Equal(days, lived.Days);
        Assert.True(lived.Acts > 50 * days, $"only {lived.Acts} acts in {days} days");
    }

    /// <summary>A shop that nobody looked at before: what it finds is printed with its seed and does not fail the run, so that no run hangs
    /// on luck.</summary>
    [Fact]
    public async Task A_shop_nobody_looked_at_before_says_what_it_finds()
    {
        var seed = Random.Shared.Next(10_000, 1_000_000);
        var lived = await Live(seed, 2);
        foreach (var difference in lived.Differences)
        {
            await Console.Error.WriteLineAsync($"REHEARSAL DIFFERS, repeat with ./fondo rehearse --seed {seed} --days 2: {difference}");
            output.WriteLine(difference);
        }

        Assert.True(lived.Acts > 0);
    }

    private static async Task<Rehearsed> Live(int seed, int days)
    {
        await using var stage = new Stage();
        return await Rehearsal.Rehearsal.Of(ShopPlan.Of(seed), stage, days);
    }
}
