using System.Text;
using Fondo.Core.Days;
using Fondo.Files.Reading;
using Fondo.Files.Writing;
using Fondo.Standins.Days;

namespace Fondo.Files.Tests;

/// <summary>What is written of a count reads as the same count.</summary>
public sealed class CountsWritten
{
    [Theory]
    [InlineData(901)]
    [InlineData(902)]
    [InlineData(903)]
    public void A_written_count_reads_as_the_same(int seed)
    {
        var made = DayMaker.MakeFaulty(seed, 6, 300, 8, overlap: true);
        var day = Read(made.Files);
        Assert.NotEmpty(day.Counts);
        var currency = day.Setup.Currency;
        var files = new Dictionary<string, string>(made.Files)
        {
            ["counts.json"] = $"[{string.Join(",", day.Counts.Select(c => CountJson.Of(c with { IsBlind = c.Attempt == 1 }, currency)))}]"
        };
        Assert.Equal(day.Counts.Select(c => c with { IsBlind = c.Attempt == 1 }), Read(files).Counts);
        Assert.All(day.Counts, c => Assert.True(CountJson.HoldsTheSame(CountJson.Of(c, currency), c with { Attempt = 9 }, currency)));
        Assert.All(day.Counts.Where(c => !c.Pieces.IsEmpty),
            c => Assert.False(CountJson.HoldsTheSame(CountJson.Of(c, currency), c with { Pieces = c.Pieces[1..] }, currency)));
    }

    private static Day Read(IReadOnlyDictionary<string, string> files)
    {
        var builder = new DayBuilder();
        foreach (var name in DayFiles.All.Where(files.ContainsKey))
        {
            builder.Take(name, new MemoryStream(Encoding.UTF8.GetBytes(files[name])));
        }

        var reading = builder.Build();
        return reading.Day ?? throw new InvalidOperationException(string.Join("; ", reading.Findings));
    }
}
