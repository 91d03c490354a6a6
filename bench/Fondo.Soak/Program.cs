using System.Diagnostics;
using Fondo.Soak;

if (Options.Of(args) is not { } options)
{
    await Console.Error.WriteLineAsync("fondo: soak [--hours N] [--kills N] [--seed S]");
    return 2;
}

// On a disk of its own where that may be made, so that it can be filled.
var data = Directory.CreateTempSubdirectory("fondo-soak-").FullName;
using var disk = new SmallDisk(data);
var random = new Random(options.Seed);
var server = new Server(options.Program, data);
var evening = new Evening(server, options.Seed);
DateTimeOffset Now(int jump) => new DateTimeOffset(Evening.Today, new(21, 0), TimeSpan.FromHours(-5)).AddMinutes(jump);
server.Start(Now(0));
await server.Ready();
await evening.Begin();

var (began, kills, duringStart, full) = (Stopwatch.GetTimestamp(), 0, 0, 0);
while (Stopwatch.GetElapsedTime(began) < options.Time && kills < options.Kills)
{
    using (var stop = new CancellationTokenSource())
    {
        var work = evening.Work(kills, stop.Token);
        await Task.Delay(random.Next(50, 4_000));
        if (random.Next(10) == 0 && disk.Fill())
        {
            full++;
            await Task.Delay(random.Next(200, 800));
        }

        server.Kill();
        kills++;
        disk.Free();
        await stop.CancelAsync();
        await work;
    }

    // The clock may have jumped meanwhile; and one in five starts is killed in its turn.
    server.Start(Now(random.Next(-120, 120)));
    while (random.Next(5) == 0 && kills < options.Kills)
    {
        await Task.Delay(random.Next(0, 2_000));
        server.Kill();
        (kills, duringStart) = (kills + 1, duringStart + 1);
        server.Start(Now(random.Next(-120, 120)));
    }

    try
    {
        await server.Ready();
    }
    catch (InvalidOperationException e)
    {
        await Console.Error.WriteLineAsync($"seed {options.Seed}, after {kills} kills: {e.Message}");
        return 1;
    }

    if (kills % 25 < 2)
    {
        Console.WriteLine($"{kills} kills, {duringStart} of them during start, {full} full disks; {evening.Events.Count} events, {evening.Counts.Count} counts, {evening.Entries.Count} entries, {evening.Closed.Count} closes answered as done");
    }
}

server.Kill();
var wrong = await Afterwards.Wrong(data, evening);
foreach (var sentence in wrong.Take(20))
{
    await Console.Error.WriteLineAsync($"seed {options.Seed}: {sentence}");
}

Console.WriteLine($"Seed {options.Seed}: {kills} kills, {duringStart} of them during start, {full} full disks; {evening.Events.Count} events, {evening.Counts.Count} counts, {evening.Entries.Count} entries, {evening.TakenIn.Count} days, {evening.Closed.Count} closes "
    + (wrong.Count == 0 ? "are there exactly once, and the trail verifies." : $"were answered as done; {wrong.Count} things are wrong."));
if (wrong.Count > 0)
{
    Console.WriteLine($"What is left lies in {data}.");
    disk.Keep();
    return 1;
}

return 0;
