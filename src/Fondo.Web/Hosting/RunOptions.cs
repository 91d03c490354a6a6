using System.Globalization;

namespace Fondo.Web.Hosting;

/// <summary>How this run of the application was asked to be: <c>--data DIR</c>, <c>--demo true</c>, <c>--now TIME</c>.</summary>
/// <param name="IsQuiet">Says nothing on the console.</param>
/// <param name="DataFolder">Where the database and the keys lie.</param>
/// <param name="Weeks">How many weeks of closed days the demo has behind it.</param>
/// <param name="StartsAt">The time that the clock shows at the start; null for the real one.</param>
public sealed record RunOptions(string DataFolder, bool IsDemo, bool IsQuiet, int Weeks, DateTimeOffset? StartsAt)
{
    /// <summary>The folder that is watched for journals and days.</summary>
    public string Inbox => Path.Combine(DataFolder, "inbox");

    /// <summary>Where the stand-in mailbox lies.</summary>
    public string Mailbox => Path.Combine(DataFolder, "mailbox");

    /// <summary>Where the stand-in registers keep what they could not send.</summary>
    public string StandIns => Path.Combine(DataFolder, "stand-ins");

    /// <summary>Whoever writes waits for the one who writes already, rather than fail.</summary>
    public string Connection => $"Data Source={Path.Combine(DataFolder, "fondo.db")};Default Timeout=120";

    public static RunOptions From(IConfiguration configuration)
    {
        var folder = configuration["data"] ?? throw new InvalidOperationException("Say where the data lie: --data DIR.");
        Directory.CreateDirectory(folder);
        var isDemo = configuration.GetValue("demo", false);
        DateTimeOffset? now = configuration["now"] is { } text ? DateTimeOffset.Parse(text, CultureInfo.InvariantCulture) : isDemo ? Demo.Evening : null;
        return new(Path.GetFullPath(folder), isDemo, configuration.GetValue("quiet", false), configuration.GetValue("weeks", 8), now);
    }
}

/// <summary>The real clock, set to another time: the demo's evening runs on as evenings do.</summary>
internal sealed class ShiftedClock(DateTimeOffset startsAt) : TimeProvider
{
    private readonly TimeSpan _shift = startsAt - System.GetUtcNow();

    public override DateTimeOffset GetUtcNow() => System.GetUtcNow() + _shift;
}
