using System.Globalization;
using System.Text;
using System.Text.Json.Nodes;
using Fondo.Core.Days;
using Fondo.Files;
using Fondo.Files.Reading;
using Fondo.Store.Days;
using Fondo.Store.Intake;
using Fondo.Store.Model;
using Fondo.Store.SetUp;
using Microsoft.EntityFrameworkCore;

namespace Fondo.Store.Settling;

/// <summary>Takes closed batches in that come over the wire, each into the trading day of its sales, however late it closed.</summary>
public sealed class BatchIntake(StoreContext db, SetupBook book, DayIntake intake, CloseOrder chain, TimeProvider clock)
{
    /// <summary>Who took it in, for the records.</summary>
    public const string By = "processor";

    /// <summary>Whether the batch is there, whole or not. A number that comes round again is another batch: it closed at another
    /// time.</summary>
    public async Task<bool> IsThere(string terminal, string batch, DateTimeOffset closed)
    {
        var (first, again) = ($"{terminal}/{batch}", $"{terminal}/{Again(batch, closed)}");
        var kept = await db.StandingRecords.Where(r => r.Kind == RecordKind.Total && (r.Key == first || r.Key == again))
            .Select(r => r.Json).ToListAsync();
        return kept.Any(json => Closed(json, closed));
    }

    /// <summary>The number under which a batch is kept: its own; where another of its day has that, with the time at which it
    /// closed.</summary>
    /// <param name="lastSale">As in <see cref="Take"/>.</param>
    public async Task<string> NumberOf(string terminal, string batch, DateTimeOffset closed, DateTimeOffset lastSale)
    {
        var (day, key) = (await DayOf(lastSale), $"{terminal}/{batch}");
        var there = await db.StandingRecords.Where(r => r.Kind == RecordKind.Total && r.Key == key && r.Day == day)
            .Select(r => r.Json).ToListAsync();
        return there.TrueForAll(json => Closed(json, closed)) ? batch : Again(batch, closed);
    }

    private static string Again(string batch, DateTimeOffset closed) =>
        string.Create(CultureInfo.InvariantCulture, $"{batch}.{closed.UtcDateTime:HHmmss}");

    private static bool Closed(string json, DateTimeOffset closed) => JsonNode.Parse(json)?["closed"] is { } at
        && DateTimeOffset.Parse((string)at!, CultureInfo.InvariantCulture) is var there
        && (there - closed).Duration() < TimeSpan.FromSeconds(1);

    /// <summary>When a batch came over the wire last; null where none ever did.</summary>
    public async Task<DateTimeOffset?> LastTaken() =>
        await db.Records.Where(r => r.Kind == RecordKind.Total && r.TakenBy == By).MaxAsync(r => (DateTimeOffset?)r.TakenAt);

    /// <param name="rows">As batches.csv.</param>
    /// <param name="totals">As batch-totals.csv.</param>
    /// <param name="lastSale">The time of its last row; of an empty batch, when it closed.</param>
    /// <returns>The day that has it now; or why none has.</returns>
    public async Task<(DateOnly? Day, string? Objection)> Take(string rows, string totals, DateTimeOffset lastSale)
    {
        if (await DayOf(lastSale) is not { } day)
        {
            return (null, "Its day is closed. Fondo imports it into the next trading day.");
        }

        var taken = await intake.Take([Text(DayFiles.Rows, rows), Text(DayFiles.Totals, totals)], day, By);
        return taken.IsTaken ? (day, null) : (null, taken.Findings.Count > 0 ? taken.Findings[0].ToString() : taken.Objection);
    }

    /// <summary>The trading day of that time; where it is closed, the first open one behind it. A batch of a closed day begins
    /// none.</summary>
    private async Task<DateOnly?> DayOf(DateTimeOffset lastSale)
    {
        if (await book.For(DateOnly.FromDateTime(clock.GetUtcNow().DateTime)) is not { Setup: var setup })
        {
            return null;
        }

        var day = Placement.ByClock(lastSale, setup).Date;
        return await db.StandingCloses.AnyAsync(c => c.Day == day) ? await chain.FirstOpenAfter(day) : day;
    }

    private static OfferedFile Text(string name, string text) => new(name, () => new MemoryStream(Encoding.UTF8.GetBytes(text)));
}
