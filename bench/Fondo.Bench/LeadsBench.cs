using System.Diagnostics;
using System.Globalization;
using System.Text;
using Fondo.Core.Cells;
using Fondo.Core.Days;
using Fondo.Core.Leads;
using Fondo.Core.Reconciling;
using Fondo.Files;
using Fondo.Files.Reading;
using Fondo.Standins.Days;

namespace Fondo.Bench;

/// <summary>How often the lead that is shown first is the fault that was planted, and how honest the chances are.</summary>
internal static class LeadsBench
{
    private static readonly double[] _bands = [0.001, 0.01, 0.05, 0.1, 0.3, 0.6, 1];

    /// <summary>The weights were set while looking at lower seeds.</summary>
    public const int FirstSeed = 1001;

    private static int _first = FirstSeed;

    private sealed class Score
    {
        public int Planted, First, Three, KindFirst, Shown, Wrong;
        public double Chance;
    }

    /// <param name="seeds">How many days of each mix.</param>
    /// <param name="first">The first seed.</param>
    public static int Run(TextWriter to, int seeds, int first)
    {
        _first = first;
        Mix(to, "6 registers, 900 tickets, 8 faults", seeds, 6, 900, 8, overlap: false);
        Mix(to, "6 registers, 900 tickets, 8 faults, several in one cell", seeds, 6, 900, 8, overlap: true);
        Mix(to, "6 registers, 900 tickets of few prices, 8 faults", seeds, 6, 900, 8, overlap: false, Prices.Few);
        Mix(to, "6 registers, 900 tickets of any price, 8 faults", seeds, 6, 900, 8, overlap: false, Prices.Any);
        Mix(to, "20 registers, 6,000 tickets, 25 faults", seeds, 20, 6000, 25, overlap: false);
        Mix(to, "20 registers, 6,000 tickets, 25 faults, several in one cell", seeds, 20, 6000, 25, overlap: true);
        Mix(to, "6 registers, 900 tickets, 8 faults of hands", seeds, seed => DayMaker.MakeByHand(seed, 6, 900, 8, overlap: false));
        Mix(to, "6 registers, 900 tickets, 8 faults of hands, several in one cell", seeds,
            seed => DayMaker.MakeByHand(seed, 6, 900, 8, overlap: true));
        Mix(to, "4 registers, 240 tickets, 5 faults of hands", seeds, seed => DayMaker.MakeByHand(seed, 4, 240, 5, overlap: false));
        return RunCrowded(to);
    }

    /// <summary>How long it takes where much is open at once.</summary>
    public static int RunCrowded(TextWriter to)
    {
        Fast(to);
        Crowded(to);
        return 0;
    }

    /// <summary>A large day with many variances, and the subset search where it finds nothing.</summary>
    private static void Fast(TextWriter to)
    {
        var result = Reconciliation.Of(Read(DayMaker.MakeFaulty(1, 40, 28_000, 60, overlap: true)));
        var random = new Random(1);
        var amounts = Enumerable.Range(0, 200).Select(_ => random.NextInt64(1_00, 500_00) * 2).ToArray();
        to.WriteLine();
        to.WriteLine(string.Create(CultureInfo.InvariantCulture,
            $"40 registers, 28,000 tickets, {result.Cells.Count(c => c.State == CellState.Off)} variances: "
                + $"{Best(() => LeadFinder.Of(result).Leads):0} ms"));
        to.WriteLine(string.Create(CultureInfo.InvariantCulture,
            $"no subset of 200 items up to six: {Best(() => SmallestSubset.Of(amounts, 99_999_99)):0} ms"));
    }

    /// <summary>Afternoons: cards that no batch has yet, drawers that are off. On one core, as everything here.</summary>
    private static void Crowded(TextWriter to)
    {
        to.WriteLine();
        foreach (var (registers, sessions, open) in new[] { (4, 1, 20), (4, 1, 60), (4, 1, 120), (8, 2, 60), (40, 1, 50), (40, 5, 50) })
        {
            var result = Reconciliation.Of(CrowdedDay.Make(registers, sessions, open));
            var found = LeadFinder.Of(result);
            to.WriteLine(string.Create(CultureInfo.InvariantCulture,
                $"{registers} registers, {result.Cells.Count(c => c.State == CellState.Off && c.Key.Drawer is not null)} drawers off, "
                    + $"{result.OpenItems.Length} open items: {Best(() => LeadFinder.Of(result)):0} ms, {found.Leads.Length} "
                    + $"leads{(found.StoppedEarly ? ", stopped early" : "")}"));
        }
    }

    private static double Best<T>(Func<T> run) => Enumerable.Range(0, 5).Min(_ =>
    {
        var clock = Stopwatch.StartNew();
        run();
        return clock.Elapsed.TotalMilliseconds;
    });

    private static void Mix(TextWriter to, string what, int seeds, int registers, int tickets, int faults, bool overlap,
        Prices prices = Prices.Mixed) =>
        Mix(to, what, seeds, seed => DayMaker.MakeFaulty(seed, registers, tickets, faults, overlap, prices));

    private static void Mix(TextWriter to, string what, int seeds, Func<int, MadeDay> make)
    {
        var (kinds, shown) = (new SortedDictionary<string, Score>(StringComparer.Ordinal), new List<(double Chance, bool Right)>());
        var (onProved, slowest) = (0, TimeSpan.Zero);
        for (var seed = _first; seed < _first + seeds; seed++)
        {
            var made = make(seed);
            var result = Reconciliation.Of(Read(made));
            var clock = Stopwatch.StartNew();
            var leads = LeadFinder.Of(result).Leads;
            slowest = clock.Elapsed > slowest ? clock.Elapsed : slowest;
            onProved += leads.Count(l => result.Cells.Single(c => c.Key == l.Cell).State == CellState.Proved);
            foreach (var trouble in made.Troubles)
            {
                var score = kinds.TryGetValue(trouble.Kind, out var known) ? known : kinds[trouble.Kind] = new();
                score.Planted++;
                var ofCells = leads.Where(l => trouble.Cells.Any(c => Is(l.Cell, c))).ToList();
                var rank = ofCells.Where(l => IsRight(l, trouble)).Select(l => l.Rank).DefaultIfEmpty(99).Min();
                score.First += rank == 1 ? 1 : 0;
                score.Three += rank <= 3 ? 1 : 0;
                score.KindFirst += ofCells.Any(l => l.Rank == 1 && l.Kind.Written() == trouble.Kind) ? 1 : 0;
            }

            foreach (var lead in leads)
            {
                var right = made.Troubles.Any(t => t.Cells.Any(c => Is(lead.Cell, c)) && IsRight(lead, t));
                shown.Add((lead.Chance, right));
                var score = kinds.TryGetValue(lead.Kind.Written(), out var known) ? known : kinds[lead.Kind.Written()] = new();
                score.Shown++;
                score.Chance += lead.Chance;
                score.Wrong += right ? 0 : 1;
            }
        }

        to.WriteLine();
        to.WriteLine($"{what}; {seeds} days");
        to.WriteLine($"{"kind",-22} {"planted",8} {"first",8} {"of three",9} {"kind first",11} {"leads",7} {"chance",8} {"wrong",8}");
        foreach (var (kind, score) in kinds.Append(new("all", Sum(kinds.Values))))
        {
            to.WriteLine(string.Create(CultureInfo.InvariantCulture,
                $"{kind,-22} {score.Planted,8} {(double)score.First / score.Planted,8:P1} {(double)score.Three / score.Planted,9:P1} "
                    + $"{(double)score.KindFirst / score.Planted,11:P1} {score.Shown,7} {score.Chance / score.Shown,8:P1} "
                    + $"{(double)score.Wrong / score.Shown,8:P1}"));
        }

        to.WriteLine($"{"chance up to",-22} {"leads",8} {"mean",8} {"wrong",9}");
        foreach (var (from, up) in _bands.Prepend(0).Zip(_bands))
        {
            var band = shown.Where(s => s.Chance > from && s.Chance <= up).ToList();
            if (band.Count > 0)
            {
                to.WriteLine(string.Create(CultureInfo.InvariantCulture,
                    $"{up,-22} {band.Count,8} {band.Average(s => s.Chance),8:0.0000} {band.Average(s => s.Right ? 0.0 : 1.0),9:P2}"));
            }
        }

        to.WriteLine(string.Create(CultureInfo.InvariantCulture,
            $"Brier score {shown.Average(s => Math.Pow(s.Chance - (s.Right ? 0 : 1), 2)):0.0000}; leads on proved cells {onProved}; "
                + $"slowest day {slowest.TotalMilliseconds:0} ms"));
    }

    private static Score Sum(IEnumerable<Score> scores) =>
        scores.Aggregate(new Score(), (a, b) => new()
        {
            Planted = a.Planted + b.Planted,
            First = a.First + b.First,
            Three = a.Three + b.Three,
            KindFirst = a.KindFirst + b.KindFirst,
            Shown = a.Shown + b.Shown,
            Wrong = a.Wrong + b.Wrong,
            Chance = a.Chance + b.Chance
        });

    private static bool Is(CellKey cell, (string Register, string? Drawer, string Tender, long Variance) c) =>
        cell.Written == new CellName(c.Register, c.Drawer, c.Tender);

    private static bool IsRight(Lead lead, Trouble trouble) =>
        lead.Kind.Written() == trouble.Kind && lead.Keys.Any(k => trouble.Keys.Any(t => Ticket(t) == Ticket(k)));

    private static string Ticket(string key) => key.Split('#')[0];

    private static Day Read(MadeDay made)
    {
        var builder = new DayBuilder();
        foreach (var name in DayFiles.All.Where(made.Files.ContainsKey))
        {
            builder.Take(name, new MemoryStream(Encoding.UTF8.GetBytes(made.Files[name])));
        }

        var reading = builder.Build();
        return reading.Day ?? throw new InvalidOperationException(reading.Findings[0].ToString());
    }
}
