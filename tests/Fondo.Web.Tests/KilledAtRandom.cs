using Fondo.Soak;

namespace Fondo.Web.Tests;

/// <summary>A short soak: the server as its own process, killed at random moments, during start as well. More of it: <c>./fondo
/// soak</c>.</summary>
public sealed class KilledAtRandom
{
    [Fact]
    public async Task Everything_that_was_answered_as_done_is_there_once_and_the_trail_verifies()
    {
        using var says = new StringWriter();
        var wrong = await SoakRun.Run(new(Path.Combine(AppContext.BaseDirectory, "Fondo.Web"), TimeSpan.FromMinutes(2), 4, 8), says);
        Assert.True(wrong.Count == 0, $"{string.Join('\n', wrong)}\n{says}");
        Assert.Contains("4 kills", says.ToString(), StringComparison.Ordinal);
    }
}
