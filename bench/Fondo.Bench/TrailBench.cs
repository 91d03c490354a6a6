using System.Diagnostics;
using Fondo.Store;
using Fondo.Store.Model;
using Fondo.Store.Trails;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;

namespace Fondo.Bench;

/// <summary>How long it takes to verify a long trail, beside reading it once.</summary>
internal static class TrailBench
{
    private const int Batch = 20_000;

    public static async Task<int> Run(TextWriter output, int lines)
    {
        var folder = Directory.CreateTempSubdirectory("fondo-trail-").FullName;
        try
        {
            await using var services = new ServiceCollection().AddLogging()
                .AddFondoStore($"Data Source={Path.Combine(folder, "fondo.db")};Pooling=False").BuildServiceProvider();
            await using var scope = services.CreateAsyncScope();
            var db = scope.ServiceProvider.GetRequiredService<StoreContext>();
            await db.Database.MigrateAsync();
            var began = Stopwatch.GetTimestamp();
            for (var written = 0; written < lines; written += Batch)
            {
                await db.Note([.. Enumerable.Range(written, Math.Min(Batch, lines - written))
                    .Select(n => new Act(TrailAct.SignIn, $"p{n % 40:00}", $"p{n % 40:00}", "signed in at the desk"))]);
            }

            output.WriteLine($"{lines:N0} lines written in {Stopwatch.GetElapsedTime(began).TotalSeconds:0.0} s");
            began = Stopwatch.GetTimestamp();
            await db.Database.SqlQuery<long>($"SELECT SUM(length(Hash) + length(Says)) AS Value FROM Trail").SingleAsync();
            var read = Stopwatch.GetElapsedTime(began);
            began = Stopwatch.GetTimestamp();
            var verified = await scope.ServiceProvider.GetRequiredService<Verification>().Run();
            var took = Stopwatch.GetElapsedTime(began);
            output.WriteLine(
                $"{verified.Lines:N0} lines verified in {took.TotalSeconds:0.0} s "
                    + $"({(verified.Break is null ? "whole" : verified.Break)}); read once by SQLite in {read.TotalSeconds:0.0} s, "
                    + $"{took / read:0.0} times; peak memory {Process.GetCurrentProcess().PeakWorkingSet64 >> 20} MB");
            return verified.Break is null ? 0 : 1;
        }
        finally
        {
            Directory.Delete(folder, recursive: true);
        }
    }
}
