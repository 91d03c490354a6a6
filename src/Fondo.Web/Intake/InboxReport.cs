namespace Fondo.Web.Intake;

/// <summary>What became of something that was put into the watched folder.</summary>
/// <param name="Reasons">Why it was refused; empty when it was taken.</param>
public sealed record InboxOutcome(string Name, DateTimeOffset At, IReadOnlyList<string> Reasons);

/// <summary>The latest of what came through the watched folder, for the page that people look at.</summary>
public sealed class InboxReport(TimeProvider clock)
{
    private const int Most = 20;

    private readonly Lock _one = new();
    private readonly LinkedList<InboxOutcome> _latest = [];

    private long _lookedAt = clock.GetUtcNow().UtcTicks;

    /// <summary>When the folder was last looked at to the end; before the first time, when the watch began.</summary>
    public DateTimeOffset LookedAt
    {
        get => new(Interlocked.Read(ref _lookedAt), TimeSpan.Zero);
        set => Interlocked.Exchange(ref _lookedAt, value.UtcTicks);
    }

    /// <summary>The latest first.</summary>
    public IReadOnlyList<InboxOutcome> Latest
    {
        get
        {
            lock (_one)
            {
                return [.. _latest];
            }
        }
    }

    public void Add(InboxOutcome outcome)
    {
        lock (_one)
        {
            _latest.AddFirst(outcome);
            if (_latest.Count > Most)
            {
                _latest.RemoveLast();
            }
        }
    }
}
