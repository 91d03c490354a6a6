using CsCheck;
using Fondo.Files.Text;

namespace Fondo.Files.Tests;

/// <summary>ISO 8601 as the files write it.</summary>
public sealed class Times
{
    [Theory]
    [InlineData("2026-11-21T09:14:05-05:00", "2026-11-21T14:14:05Z")]
    [InlineData("2026-11-21T09:14:05Z", "2026-11-21T09:14:05Z")]
    [InlineData("2026-11-01T01:30:00-04:00", "2026-11-01T05:30:00Z")] // the first 01:30 of the night when summer time ends
    [InlineData("2026-11-01T01:30:00-05:00", "2026-11-01T06:30:00Z")] // and the second
    [InlineData("2024-02-29T23:59:59.250+05:30", "2024-02-29T18:29:59.25Z")]
    public void Reads_times(string text, string utc)
    {
        Assert.True(IsoTime.TryParse(text, out var at));
        Assert.Equal(DateTimeOffset.Parse(utc, System.Globalization.CultureInfo.InvariantCulture).UtcTicks, at.UtcTicks);
    }

    [Theory]
    [InlineData("")]
    [InlineData("2026-11-21")]
    [InlineData("2026-11-21T09:14:05")]
    [InlineData("2026-11-21 09:14:05-05:00")]
    [InlineData("2026-02-29T09:14:05-05:00")]
    [InlineData("2026-13-01T09:14:05-05:00")]
    [InlineData("2026-11-21T24:00:00-05:00")]
    [InlineData("2026-11-21T09:14:60-05:00")]
    [InlineData("2026-11-21T09:14:05.-05:00")]
    [InlineData("2026-11-21T09:14:05-15:00")]
    [InlineData("2026-11-21T09:14:05-05:00x")]
    [InlineData("0000-11-21T09:14:05-05:00")]
    public void Refuses_what_is_no_time(string text) => Assert.False(IsoTime.TryParse(text, out _));

    [Fact]
    public void What_is_written_is_read_again() =>
        Gen.Long[new DateTime(2000, 1, 1).Ticks / TimeSpan.TicksPerSecond,
            new DateTime(2090, 1, 1).Ticks / TimeSpan.TicksPerSecond].Select(Gen.Int[-12 * 4, 14 * 4]).Sample((seconds, quarters) =>
        {
            var at = new DateTimeOffset(new DateTime(seconds * TimeSpan.TicksPerSecond), TimeSpan.FromMinutes(quarters * 15));
            Assert.True(IsoTime.TryParse(IsoTime.Format(at), out var read));
            Assert.True(at.EqualsExact(read));
        });
}
