namespace Fondo.Standins.Days;

/// <summary>The weeks before the demo's Saturday: days on which nothing happened but a few cents over or short.</summary>
public sealed partial class DayMaker
{
    /// <summary>A drawer is never off by more than this without a reason.</summary>
    private const int MostCents = 180;

    private readonly DateOnly _date = Scene.Date;

    private readonly TimeSpan _offset = Scene.OffsetOn(Scene.Date);

    /// <summary>The number that each register gives the first event after this day; null where that day comes after nothing.</summary>
    private readonly Dictionary<string, int>? _before;

    private bool IsQuiet => _before is not null;

    private DayMaker(int seed, DateOnly date, Dictionary<string, int> before)
        : this(seed, Scene.Registers, isDemo: true) => (_date, _offset, _before) = (date, Scene.OffsetOn(date), before);

    /// <summary>The days just before the demo's, in order of time: their events are numbered up to the Saturday's.</summary>
    public static IReadOnlyList<(DateOnly Date, MadeDay Day)> MakeHistory(int seed, int days)
    {
        var before = Scene.Registers.ToDictionary(r => r.Id, _ => DemoNumber + 1);
        var made = new List<(DateOnly, MadeDay)>();
        for (var back = 1; back <= days; back++)
        {
            var date = Scene.Date.AddDays(-back);
            made.Add((date, new DayMaker(seed + (back * 1000), date, before).Play(seed - (back * 10))));
        }

        made.Reverse();
        return made;
    }

    /// <summary>Two drawers in five are a little over or short.</summary>
    private void MiscountCents()
    {
        foreach (var till in _tills.Values.Where(_ => _random.Next(5) < 2))
        {
            till.Cash += _random.Next(-MostCents, MostCents);
        }
    }
}
