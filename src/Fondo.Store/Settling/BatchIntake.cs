using System.Text;
using Fondo.Core.Days;
using Fondo.Files;
using Fondo.Files.Reading;
using Fondo.Store.Intake;
using Fondo.Store.Model;
using Fondo.Store.SetUp;
using Microsoft.EntityFrameworkCore;

namespace Fondo.Store.Settling;

/// <summary>Takes closed batches in that come over the wire, each into the trading day in which it closed.</summary>
public sealed class BatchIntake(StoreContext db, SetupBook book, DayIntake intake, TimeProvider clock)
{
    /// <summary>Who took it in, for the records.</summary>
    public const string By = "processor";

    /// <summary>So far ahead one looks for a day that is open.</summary>
    private const int MostDays = 31;

    /// <summary>Whether the batch is there, whole or not.</summary>
    public async Task<bool> IsThere(string terminal, string batch) => await db.Records.AnyAsync(r => r.Kind == RecordKind.Total && r.Key == $"{terminal}/{batch}");

    /// <param name="rows">As batches.csv.</param>
    /// <param name="totals">As batch-totals.csv.</param>
    /// <returns>The day that has it now; or why none has.</returns>
    public async Task<(DateOnly? Day, string? Objection)> Take(string rows, string totals, DateTimeOffset closed)
    {
        if (await DayOf(closed) is not { } day)
        {
            return (null, "No day is open that it could belong to.");
        }

        List<OfferedFile> files = [Text(DayFiles.Rows, rows), Text(DayFiles.Totals, totals)];
        if (!await db.Days.AnyAsync(d => d.Date == day))
        {
            // Nothing else has come of this day yet: it begins with the set-up that holds.
            files.Add(Text(DayFiles.Setup, (await book.For(day))!.Json));
        }

        var taken = await intake.Take(files, day, By);
        return taken.IsTaken ? (day, null) : (null, taken.Findings.Count > 0 ? taken.Findings[0].ToString() : taken.Objection);
    }

    /// <summary>The trading day of that time; the next one that is open where it was closed already.</summary>
    private async Task<DateOnly?> DayOf(DateTimeOffset closed)
    {
        if (await book.For(DateOnly.FromDateTime(clock.GetUtcNow().DateTime)) is not { Setup: var setup })
        {
            return null;
        }

        var first = Placement.ByClock(closed, setup).Date;
        var closes = (await db.StandingCloses.Where(c => c.Day >= first).Select(c => c.Day).ToListAsync()).ToHashSet();
        return Enumerable.Range(0, MostDays).Select(first.AddDays).Where(d => !closes.Contains(d)).Select(d => (DateOnly?)d).FirstOrDefault();
    }

    private static OfferedFile Text(string name, string text) => new(name, () => new MemoryStream(Encoding.UTF8.GetBytes(text)));
}
