using System.Globalization;
using Fondo.Core.SetUp;
using Fondo.Standins.Terminals;
using Fondo.Web.Hosting;
using Fondo.Web.Settling;

namespace Fondo.Demo;

/// <summary>The stand-in processor's doors: it answers slowly, refuses, times out and repeats itself when told to.</summary>
internal static class StandInProcessor
{
    public const string Path = "stand-ins/host/", Document = "stand-ins";

    private static readonly TimeSpan _slow = TimeSpan.FromSeconds(2);

    public static void MapStandInProcessor(this WebApplication app)
    {
        var doors = app.MapGroup("/" + Path).WithMetadata(new DoesAttribute(ActKind.PlayStandIn)).AllowAnonymous().DisableAntiforgery()
            .WithGroupName(Document).WithTags("Terminals, their processor and the benefit host");
        doors.MapGet("terminals/{terminal}", async (string terminal, StandInHost standIns, HttpContext context) =>
        {
            await Waits(standIns.Processor, context);
            var (totals, rows) = standIns.Processor.Running(terminal);
            return TypedResults.Ok(new WireRunning(terminal, Of(totals), Of(rows)));
        }).WithName("Running").WithSummary("What a terminal holds and has not settled: its running totals, and the rows behind them.")
            .ProducesProblem(StatusCodes.Status503ServiceUnavailable);
        doors.MapPost("terminals/{terminal}/settlements",
            async (string terminal, WireSettlement settlement, StandInHost standIns, HttpContext context) =>
        {
            var host = standIns.Processor;
            await Waits(host, context);
            if (host.Fault == HostFault.LosesOrders)
            {
                await Breaks(host, context);
            }

            var settled = host.Settle(terminal, settlement.Key);
            if (host.Fault == HostFault.TimesOut)
            {
                await Breaks(host, context);
            }

            return settled.Batch is { } batch
                ? Results.Ok(Of(batch, withRows: false))
                : Results.Problem(settled.Says, statusCode: StatusCodes.Status409Conflict);
        }).WithName("Settle").WithSummary("Closes the terminal's batch, once for a key.").Produces<WireBatch>()
            .ProducesProblem(StatusCodes.Status409Conflict);
        doors.MapGet("settlements/{key:guid}", async (Guid key, StandInHost standIns, HttpContext context) =>
        {
            await Waits(standIns.Processor, context);
            return standIns.Processor.Find(key) is { } batch ? Results.Ok(Of(batch, withRows: false)) : Results.NotFound();
        }).WithName("AskAboutSettlement").WithSummary("What became of a settlement: its batch, or nothing is known of it.")
            .Produces<WireBatch>().Produces(StatusCodes.Status404NotFound);
        doors.MapGet("batches", async (string after, StandInHost standIns, HttpContext context) =>
        {
            await Waits(standIns.Processor, context);
            return Results.Ok(standIns.Processor.Batches(DateTimeOffset.Parse(after, CultureInfo.InvariantCulture))
                .Select(b => Of(b, withRows: false)));
        }).WithName("Batches").WithSummary("The batches that closed after a moment, whoever closed them.").Produces<WireBatch[]>();
        doors.MapGet("batches/{terminal}/{batch}", async (string terminal, string batch, DateTimeOffset? closed,
            StandInHost standIns, HttpContext context) =>
        {
            await Waits(standIns.Processor, context);
            return standIns.Processor.Batch(terminal, batch, closed) is { } found
                ? Results.Ok(Of(found, withRows: true))
                : Results.NotFound();
        }).WithName("Batch").WithSummary("One closed batch with its rows.").Produces<WireBatch>().Produces(StatusCodes.Status404NotFound);
    }

    private static Task Waits(TerminalHost host, HttpContext context) => host.Fault switch
    {
        HostFault.Slow => Task.Delay(_slow, context.RequestAborted),
        HostFault.Silent => Breaks(host, context),
        _ => Task.CompletedTask,
    };

    /// <summary>Says nothing until whoever asks gives up, or the line breaks.</summary>
    private static async Task Breaks(TerminalHost host, HttpContext context)
    {
        await Task.Delay(host.Silence, context.RequestAborted);
        context.Abort();
        context.RequestAborted.ThrowIfCancellationRequested();
        throw new OperationCanceledException();
    }

    private static WireBatch Of(ClosedBatch batch, bool withRows) =>
        new(batch.Terminal, batch.Batch, batch.Closed, Of(batch.Totals), withRows ? Of(batch.Rows) : null);

    private static WireTotals Of(BatchTotals totals) => new(Of(totals.Debits), Of(totals.Credits), Of(totals.Reversals), Amount(totals.Net),
        [.. totals.Brands.Select(b => new WireBrand(b.Brand, b.Benefit, Of(b.Debits), Of(b.Credits)))]);

    private static WireSum Of(Sum sum) => new(sum.Number, Amount(sum.Amount));

    private static WireRow[] Of(IReadOnlyList<HeldRow> rows) =>
    [
        .. rows.Select((r, i) => new WireRow(
            (i + 1).ToString(CultureInfo.InvariantCulture), r.At, r.IsRefund ? "refund" : "sale", Amount(r.Amount), Amount(r.Tip),
            Amount(r.Cashback), r.Brand, r.Card, r.Auth, r.Rrn, r.Entry, r.Benefit)),
    ];

    private static string Amount(long minor) => (minor / 100m).ToString("0.00", CultureInfo.InvariantCulture);
}
