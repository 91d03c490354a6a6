using System.Collections.Immutable;
using Fondo.Core.Amounts;
using Fondo.Core.Cash;
using Fondo.Core.Proof;
using Fondo.Core.SetUp;

namespace Fondo.Core.Tests;

public sealed class FloatProposals
{
    /// <summary>Every float that the smallest piece divides can be made, whatever the currency; and it is made exactly.</summary>
    [Fact]
    public void Every_float_is_made_exactly()
    {
        foreach (var country in Country.All)
        {
            ImmutableArray<Denomination> kinds =
                [.. Denominations.Of(Currency.Of(country.Currency)).Where(d => d.Worth.Minor >= country.SmallestCoin)];
            var step = kinds.Min(d => d.Worth.Minor);
            foreach (var times in (ReadOnlySpan<decimal>)[0.01m, 0.1m, 0.37m, 1, 2.5m, 4])
            {
                var worth = (long)(country.Float * times) / step * step;
                var pieces = FloatProposal.For(new(worth), kinds);
                Assert.True(pieces.Sum(p => p.Worth.Minor) == worth, $"{country.Name}: {worth} by {pieces.Sum(p => p.Worth.Minor)}");
                Assert.All(pieces, p => Assert.Contains(kinds, k => k.Worth == p.Denomination));
            }
        }
    }

    /// <summary>A float in the mix that the store keeps already is that mix.</summary>
    [Fact]
    public void The_mix_that_a_store_keeps_is_kept()
    {
        var kinds = Denominations.Of(Currency.Of("USD"));
        var pieces = FloatProposal.For(kinds.Sum(d => d.Worth * d.Kept), kinds);
        Assert.Equal(kinds.Where(d => d.Kept > 0).Select(d => new Pieces(d.Worth, d.Kept)), pieces);
    }

    [Fact]
    public void What_no_drawer_begins_with_is_not_proposed()
    {
        var kinds = Denominations.Of(Currency.Of("USD"));
        Assert.Empty(FloatProposal.For(Money.Zero, kinds));
        Assert.Empty(FloatProposal.For(new(-1), kinds));
        Assert.Empty(FloatProposal.For(new(100), []));
        Assert.Empty(FloatProposal.For(new(50_000_000_00), kinds));
    }

    /// <summary>Time zones of the IANA database; a float that the smallest coin divides.</summary>
    [Fact]
    public void A_country_is_one_that_a_set_up_can_have()
    {
        Assert.All(Country.All, c =>
        {
            Assert.True(Currency.IsCode(c.Currency));
            Assert.All(c.TimeZones, z => Assert.True(TimeZoneInfo.TryFindSystemTimeZoneById(z, out _), z));
            Assert.Equal(0, c.Float % c.SmallestCoin);
            Assert.Contains(Denominations.Of(Currency.Of(c.Currency)), d => d.Worth.Minor == c.SmallestCoin);
        });
        Assert.Equal(Country.All.Select(c => c.Name).Order(StringComparer.Ordinal), Country.All.Select(c => c.Name));
    }
}
