using System.Globalization;
using System.Text.Json;
using System.Text.RegularExpressions;
using Fondo.Standins.Days;
using Fondo.Standins.Terminals;

namespace Fondo.Standins.Registers;

/// <summary>Plays a generated day to Fondo: every register sends its journal as time goes by, at a chosen speed. At the end the other files
/// of the day are put together.</summary>
public sealed partial class PlayedDay
{
    private readonly Dictionary<string, string> _files;
    private readonly List<(DateTimeOffset At, string Register, string Line)> _events = [];
    private int _sent;

    /// <param name="faults">How many troubles, of every kind.</param>
    /// <param name="cardRate">What credit cards pay more, in thousandths.</param>
    public PlayedDay(int seed, DateOnly date, int tickets, int faults, int cardRate)
    {
        Date = date;

        // Ids are unique in the store: another date has other numbers.
        var made = faults > 0
            ? DayMaker.MakeFaulty(seed, 9, tickets, faults, overlap: true, cardRate: cardRate)
            : DayMaker.Make(seed, 9, tickets, cardRate);
        var later = (date.DayNumber - Scene.Date.DayNumber) * 10_000L;
        _files = made.Files.ToDictionary(f => f.Key, f => Shifted(f.Value, date, later));
        foreach (var line in _files["journal.jsonl"].Split('\n', StringSplitOptions.RemoveEmptyEntries))
        {
            using var json = JsonDocument.Parse(line);
            _events.Add((DateTimeOffset.Parse(json.RootElement.GetProperty("at").GetString()!, CultureInfo.InvariantCulture),
                json.RootElement.GetProperty("register").GetString()!, line));
        }

        _events.Sort((a, b) => a.At.CompareTo(b.At));
    }

    public DateOnly Date { get; }

    public int Events => _events.Count;

    public int Sent => _sent;

    public bool IsDone { get; private set; }

    /// <summary>The files of the day, as a day folder has them.</summary>
    public IReadOnlyDictionary<string, string> Files => _files;

    /// <param name="speed">How many times as fast as a clock.</param>
    /// <param name="host">What cards are run on: each terminal holds what the day's batches have of it.</param>
    /// <param name="automatic">The terminals that settle by themselves, and when.</param>
    public async Task Play(IReadOnlyDictionary<string, RegisterLink> lines, TerminalHost host,
        IEnumerable<(string Terminal, DateTimeOffset At)> automatic, double speed, CancellationToken cancel)
    {
        var atTerminals = new Queue<(DateTimeOffset At, Action Happens)>(HeldRows.Of(_files["batches.csv"])
            .Select(r => (r.Row.At, (Action)(() => host.Take(r.Terminal, r.Row))))
            .Concat(automatic.Select(a => (a.At, (Action)(() => host.SettlePlayed(a.Terminal, a.At))))).OrderBy(h => h.At));
        for (var i = 0; i < _events.Count; i++)
        {
            var (at, register, line) = _events[i];
            HappensUntil(at);
            if (lines.TryGetValue(register, out var to))
            {
                await to.Send(line);
            }

            _sent = i + 1;
            if (i + 1 < _events.Count && (_events[i + 1].At - at) / speed is var pause && pause > TimeSpan.FromMilliseconds(1))
            {
                await Task.Delay(pause, cancel);
            }
        }

        HappensUntil(DateTimeOffset.MaxValue);
        IsDone = true;

        void HappensUntil(DateTimeOffset at)
        {
            while (atTerminals.TryPeek(out var next) && next.At <= at)
            {
                next.Happens();
                atTerminals.Dequeue();
            }
        }
    }

    private static string Shifted(string text, DateOnly date, long later)
    {
        // The day itself, and the day before for what was carried.
        DateOnly Moved(string day) =>
            DateOnly.ParseExact(day, "yyyy-MM-dd", CultureInfo.InvariantCulture).AddDays(date.DayNumber - Scene.Date.DayNumber);

        text = Dates().Replace(text, m => $"{Moved(m.Value):yyyy-MM-dd}");
        return Numbers().Replace(text,
            m => $"{m.Groups[1].Value}-{long.Parse(m.Groups[2].ValueSpan, CultureInfo.InvariantCulture) + 5_000_000 + later:0000000}");
    }

    [GeneratedRegex("2026-11-2[01]")]
    private static partial Regex Dates();

    [GeneratedRegex(@"\b([A-Z][A-Z0-9]{1,2})-(\d{6})\b")]
    private static partial Regex Numbers();
}
