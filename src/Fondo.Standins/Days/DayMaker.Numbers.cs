using System.Globalization;
using System.Text;
using System.Text.RegularExpressions;

namespace Fondo.Standins.Days;

/// <summary>A register numbers its events in order of time, without a gap; what was planted afterwards into an earlier hour takes its
/// number there.</summary>
public sealed partial class DayMaker
{
    private const int FirstNumber = 1000, DemoNumber = 6000;

    private string NextId(string register) =>
        Id(register, _numbers[register] = _numbers.GetValueOrDefault(register, _isDemo ? DemoNumber : FirstNumber) + 1);

    /// <summary>Twelve digits: the year's last, the day of the year, the hour, and a number that goes on in hours no clock has once it is
    /// past a million.</summary>
    private string Reference(double hour, int number) =>
        string.Create(CultureInfo.InvariantCulture,
            $"6{_date.DayOfYear:000}{(int)hour + (24 * (number / 1_000_000)):00}{number % 1_000_000:000000}");

    private static string Id(string register, int number) => string.Create(CultureInfo.InvariantCulture, $"{register}-{number:000000}");

    private void NumberByTime()
    {
        var renamed = new Dictionary<string, string>();
        foreach (var events in _events.Index().GroupBy(e => RegisterOfEvent(e.Item.Line)))
        {
            var all = events.ToList();
            if (!IsQuiet && all.Zip(all.Skip(1)).All(p => p.First.Item.At <= p.Second.Item.At))
            {
                continue;
            }

            var number = IsQuiet ? _before![events.Key] - all.Count - 1 : _isDemo ? DemoNumber : FirstNumber;
            if (IsQuiet)
            {
                _before![events.Key] -= all.Count;
            }

            foreach (var e in all.OrderBy(e => e.Item.At).ThenBy(e => e.Index))
            {
                renamed[IdOf(e.Item.Line)] = Id(events.Key, ++number);
            }

            foreach (var (place, (at, line)) in all)
            {
                _events[place] = (at, Encoding.UTF8.GetBytes(Renamed(Encoding.UTF8.GetString(line), renamed)));
            }
        }

        foreach (var row in _rows.Where(r => r.Tender is not null))
        {
            row.Tender = Renamed(row.Tender!, renamed);
        }

        for (var i = 0; i < _troubles.Count; i++)
        {
            _troubles[i] = _troubles[i] with { Keys = [.. _troubles[i].Keys.Select(k => Renamed(k, renamed))] };
        }

        for (var i = 0; i < _planted.Count; i++)
        {
            var planted = _planted[i];
            _planted[i] = planted with { Keys = Named(planted.Keys), Open = planted.Open is { } open ? Named(open) : null };
        }

        object[] Named(IReadOnlyList<object> keys) => [.. keys.Select(k => k is string text ? Renamed(text, renamed) : k)];
    }

    private static string IdOf(byte[] line)
    {
        const string before = "{\"id\":\"";
        return Encoding.UTF8.GetString(line.AsSpan(before.Length, line.AsSpan(before.Length).IndexOf((byte)'"')));
    }

    private static string RegisterOfEvent(byte[] line) => IdOf(line).Split('-')[0];

    private static string Renamed(string text, Dictionary<string, string> renamed) =>
        renamed.Count == 0 ? text : Numbered().Replace(text, m => renamed.GetValueOrDefault(m.Value, m.Value));

    [GeneratedRegex(@"\b[A-Z][A-Z0-9]+-\d{6}\b")]
    private static partial Regex Numbered();
}
