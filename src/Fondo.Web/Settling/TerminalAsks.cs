using System.Collections.Concurrent;
using Fondo.Web.Hosting;

namespace Fondo.Web.Settling;

/// <summary>Questions to the terminals that are under way or just answered: a page shows what has come within its patience, and looks
/// again for the rest without asking twice.</summary>
public sealed class TerminalAsks(ProcessorLink processor, RunOptions options, IHostApplicationLifetime lifetime, TimeProvider clock)
{
    private static readonly TimeSpan _fresh = TimeSpan.FromSeconds(30);

    private sealed record Question(Task<Answer<WireRunning>> Answer, DateTimeOffset At);

    private readonly ConcurrentDictionary<string, Question> _asked = [];

    /// <param name="since">A question that was asked since then is good enough; null: it is asked anew.</param>
    /// <returns>Null while it is still answering.</returns>
    public async Task<Answer<WireRunning>?> Of(string terminal, DateTimeOffset? since)
    {
        var now = clock.GetUtcNow();
        var question = since is { } from && _asked.TryGetValue(terminal, out var earlier) && earlier.At >= from
            && now - earlier.At < _fresh
            ? earlier
            : _asked[terminal] = new(processor.Running(terminal, lifetime.ApplicationStopping), now);
        await Task.WhenAny(question.Answer, Task.Delay(options.PageWait));
        return question.Answer.IsCompleted ? await question.Answer : null;
    }

    /// <summary>Something was done to the terminal: what it said before is no longer so.</summary>
    public void Forget(string terminal) => _asked.TryRemove(terminal, out _);
}
