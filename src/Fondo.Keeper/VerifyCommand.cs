using Fondo.Cli;
using Fondo.Store;
using Fondo.Store.Keeping;
using Fondo.Store.Trails;
using Microsoft.Extensions.DependencyInjection;

namespace Fondo.Keeper;

/// <summary><c>verify --data DIR [--second DIR] [--head HASH]</c>: walks the trail and all that it refers to, and works the closed days out
/// again.
/// The trail must hold every hash that close documents and notes of backups carry, in the store's folders and in the second one.
/// Exit status 0 everything is as it was written, 1 something is not, 2 it cannot be looked at.</summary>
public static class VerifyCommand
{
    public static async Task<int> Run(IReadOnlyList<string> args, TextWriter output, TextWriter error)
    {
        if (Words.Of(args, "--data", "--head", "--second") is not { } words || !words.TryGetValue("--data", out var folder))
        {
            return Usage.Fail(error, "verify --data DIR [--second DIR] [--head HASH]");
        }

        if (DatabaseFile.In(folder, error) is not { } database)
        {
            return Usage.Refused;
        }

        if (await Backup.Objection(database) is { } objection)
        {
            await error.WriteLineAsync($"fondo: {objection}");
            return Usage.Refused;
        }

        await using var services = new ServiceCollection().AddLogging()
            .AddFondoStore($"Data Source={database};Default Timeout=120;Pooling=False").BuildServiceProvider();
        await using var scope = services.CreateAsyncScope();
        var verified = await scope.ServiceProvider.GetRequiredService<Verification>()
            .Run(words.GetValueOrDefault("--head")?.ToLowerInvariant(), KeptHeads.In(folder, words.GetValueOrDefault("--second")));
        if (verified.Break is { } broken)
        {
            await error.WriteLineAsync($"fondo: {broken}");
            return 1;
        }

        await output.WriteLineAsync(
            $"Everything is as it was written. Checked: {verified.Lines} lines of the audit trail, {verified.Records} records, "
                + $"{verified.Closes} closed days worked out again.");
        await output.WriteLineAsync($"The last line's hash is {verified.Head}");
        return 0;
    }
}
