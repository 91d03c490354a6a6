using System.Diagnostics;

namespace Fondo.Soak;

/// <summary>Kills the server at random moments while several clients work, and looks whether anything was lost or doubled. The seed decides
/// what is done and when.</summary>
public static class SoakRun
{
    /// <returns>What is wrong, as sentences.</returns>
    public static async Task<IReadOnlyList<string>> Run(Options options, TextWriter output)
    {
        // On a disk of its own where that may be made, so that it can be filled.
        var data = Directory.CreateTempSubdirectory("fondo-soak-").FullName;
        using var disk = new SmallDisk(data);
        var random = new Random(options.Seed);
        var server = new Server(options.Program, data);
        var evening = new Evening(server, options.Seed);
        // Mostly a little, so that sessions outlive it; now and then by hours.
        int Jump() => random.Next(8) == 0 ? random.Next(-120, 120) : random.Next(-15, 15);
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
            server.Start(Now(Jump()));
            while (random.Next(5) == 0 && kills < options.Kills)
            {
                await Task.Delay(random.Next(0, 2_000));
                server.Kill();
                (kills, duringStart) = (kills + 1, duringStart + 1);
                server.Start(Now(Jump()));
            }

            try
            {
                await server.Ready();
            }
            catch (InvalidOperationException e)
            {
                disk.Keep();
                return [$"seed {options.Seed}, after {kills} kills: {e.Message}"];
            }

            if (kills % 25 < 2)
            {
                await output.WriteLineAsync(
                    $"{kills} kills, {duringStart} of them during start, {full} full disks; {evening.Events.Count} events, "
                        + $"{evening.Counts.Count} counts, {evening.Entries.Count} entries, "
                        + $"{evening.Closed.Count} closes answered as done");
            }
        }

        server.Kill();
        return await Tell(output, options, evening, data, disk, $"{kills} kills, {duringStart} of them during start, {full} full disks");
    }

    /// <returns>What is wrong, as sentences.</returns>
    private static async Task<IReadOnlyList<string>> Tell(TextWriter output, Options options, Evening evening, string data, SmallDisk disk,
        string done)
    {
        var wrong = await Afterwards.Wrong(data, evening);
        foreach (var sentence in wrong.Take(20))
        {
            await output.WriteLineAsync($"seed {options.Seed}: {sentence}");
        }

        await output.WriteLineAsync(
            $"Seed {options.Seed}: {done}; {evening.Events.Count} events, "
            + $"{evening.Counts.Count} counts, {evening.Entries.Count} entries, {evening.TakenIn.Count} days, {evening.Closed.Count} "
            + "closes "
            + (wrong.Count == 0
                ? "are there exactly once, and the trail verifies."
                : $"were answered as done; {wrong.Count} things are wrong."));
        if (wrong.Count > 0)
        {
            await output.WriteLineAsync($"What is left lies in {data}.");
            disk.Keep();
        }

        return wrong;
    }
}
