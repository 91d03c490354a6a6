using Fondo.Core.Days;
using Fondo.Core.Journal;
using Fondo.Core.SetUp;
using Fondo.Files.Reading;
using Fondo.Store.SetUp;

namespace Fondo.Store.Intake;

/// <summary>A line of a journal as it was read, before anybody judged it.</summary>
/// <param name="Day">The day of its time, or of what is there of the same id.</param>
/// <param name="Event">Null where it is at fault.</param>
/// <param name="Fault">Why.</param>
internal sealed record LineRead(JournalLine Line, TradingDay Day, JournalEvent? Event, string? Fault)
{
    /// <summary>Whether it has to be looked at after the others: it may name one of them.</summary>
    public static bool NamesAnother(JournalEvent? e) => e is VoidEvent or Recall;
}

/// <summary>Reads lines as the set-ups of their days understand them.</summary>
internal sealed class LineReader(SetupBook book)
{
    private readonly Dictionary<TradingDay, (EventLines Lines, HeldSetup Held)> _days = [];
    private HeldSetup? _latest;

    /// <summary>Null when nothing is set up yet.</summary>
    public async Task<HeldSetup?> Latest() => _latest ??= await book.Now();

    public async Task<LineRead> Read(JournalLine line)
    {
        var latest = (await Latest())!;
        if (line.Fault is not null || line.At is not { } at)
        {
            return new(line, latest.Setup.TradingDay, null, line.Fault ?? "expected a time");
        }

        var day = Placement.ByClock(at, latest.Setup);
        var (e, findings) = (await Of(day)).Lines.Read(line.Json, line.Line);
        return new(line, day, e, e is null ? Sentence(findings[0]) : null);
    }

    /// <summary>The same line as another day understands it.</summary>
    public async Task<LineRead> Read(LineRead line, TradingDay day)
    {
        var (e, findings) = (await Of(day)).Lines.Read(line.Line.Json, line.Line.Line);
        return new(line.Line, day, e, e is null ? Sentence(findings[0]) : null);
    }

    public async Task<JournalEvent?> Stored(string json, TradingDay day) => (await Of(day)).Lines.Read(json).Event;

    public async Task<HeldSetup> Held(TradingDay day) => (await Of(day)).Held;

    /// <summary>Whether the set-ups that were used still hold.</summary>
    public async Task<bool> IsUpToDate()
    {
        foreach (var (day, (_, held)) in _days)
        {
            if ((await book.For(day.Date))?.Json != held.Json)
            {
                return false;
            }
        }

        return true;
    }

    private async Task<(EventLines Lines, HeldSetup Held)> Of(TradingDay day)
    {
        if (!_days.TryGetValue(day, out var known))
        {
            var held = (await book.For(day.Date))!;
            _days[day] = known = (new(held.Setup), held);
        }

        return known;
    }

    /// <summary>What a person should read: the last name of the place, and no path.</summary>
    private static string Sentence(Files.Text.Finding finding) =>
        (finding with { Column = finding.Column?.Split('.')[^1] }).Message.Replace("day.json", "the set-up", StringComparison.Ordinal);
}
