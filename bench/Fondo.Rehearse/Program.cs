using System.Diagnostics;
using System.Globalization;
using Fondo.Rehearsal;
using Fondo.Rehearse;

// ./fondo rehearse --seed S --days N, or --shops N --days N from a seed on: shops lived through the pages, held against their real money.
// With --keep DIR the stores of shops with a difference stay there, for a look.
int Number(string name, int otherwise) => Array.IndexOf(args, name) is >= 0 and var at && at + 1 < args.Length
    ? int.Parse(args[at + 1], CultureInfo.InvariantCulture)
    : otherwise;

var (seed, shops, days) = (Number("--seed", Environment.TickCount & 0xFFFF), Number("--shops", 1), Number("--days", 10));
var keep = Array.IndexOf(args, "--keep") is >= 0 and var place && place + 1 < args.Length ? args[place + 1] : null;
var (began, played, acts, differences) = (Stopwatch.GetTimestamp(), 0, 0, 0);
await Parallel.ForEachAsync(Enumerable.Range(seed, shops),
    new ParallelOptions { MaxDegreeOfParallelism = shops == 1 ? 1 : Environment.ProcessorCount }, async (number, _) =>
{
    var plan = ShopPlan.Of(number);
    await using var stage = new Stage();
    var result = await Fondo.Rehearsal.Rehearsal.Of(plan, stage, days);
    if (keep is not null && result.Differences.Count > 0)
    {
        stage.Keep(Path.Combine(keep, $"seed-{number}"));
    }

    lock (args)
    {
        (played, acts, differences) = (played + result.Days, acts + result.Acts, differences + result.Differences.Count);
        Console.WriteLine(
            $"seed {number}: {plan.Registers.Count} registers, {plan.Currency}, {plan.TimeZone}, day ends at {plan.DayEndsAt:HH\\:mm}, "
                + $"{result.Days} days, {result.Differences.Count} differences");
        foreach (var difference in result.Differences)
        {
            Console.WriteLine($"  {difference}");
        }
    }
});
Console.WriteLine(string.Create(CultureInfo.InvariantCulture,
    $"{shops} shops, {played} days, {acts} acts, {differences} differences, {Stopwatch.GetElapsedTime(began).TotalSeconds:0} seconds"));
return differences == 0 ? 0 : 1;
