using System.Diagnostics;
using System.Globalization;
using Fondo.Rehearsal;
using Fondo.Rehearse;

// ./fondo rehearse --seed S --days N, or --shops N --days N from a seed on: shops lived through the pages, held against their real money.
int Number(string name, int otherwise) => Array.IndexOf(args, name) is >= 0 and var at && at + 1 < args.Length
    ? int.Parse(args[at + 1], CultureInfo.InvariantCulture)
    : otherwise;

var (seed, shops, days) = (Number("--seed", Environment.TickCount & 0xFFFF), Number("--shops", 1), Number("--days", 10));
var (began, played, acts, differences) = (Stopwatch.GetTimestamp(), 0, 0, 0);
await Parallel.ForEachAsync(Enumerable.Range(seed, shops),
    new ParallelOptions { MaxDegreeOfParallelism = shops == 1 ? 1 : Environment.ProcessorCount }, async (number, _) =>
{
    var plan = ShopPlan.Of(number);
    await using var stage = new Stage();
    var result = await Fondo.Rehearsal.Rehearsal.Of(plan, stage, days);
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
