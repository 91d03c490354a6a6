using System.Security.Claims;
using Fondo.Core.SetUp;
using Fondo.Store;
using Fondo.Store.Intake;
using Fondo.Web.Hosting;
using Microsoft.AspNetCore.Http.HttpResults;

namespace Fondo.Web.Intake;

/// <summary>What became of a part that a register sent.</summary>
/// <param name="Taken">How many events were new.</param>
/// <param name="Known">How many were there already, alike: sending a part again changes nothing.</param>
/// <param name="Aside">Lines that wait for a person, or that could not be kept.</param>
/// <param name="Missing">Numbers of this register just before or among the new events that have not come yet.</param>
public sealed record PartAnswer(int Taken, int Known, IReadOnlyList<AsideAnswer> Aside, IReadOnlyList<MissingAnswer> Missing);

/// <param name="Line">From 1.</param>
/// <param name="Kept">True: it waits for a person and need not be sent again. False: it holds what must not be kept, or cannot be
/// read.</param>
public sealed record AsideAnswer(int Line, string? Id, string Why, bool Kept);

/// <param name="First">The first missing id; <paramref name="Last"/> the last.</param>
public sealed record MissingAnswer(string First, string Last);

/// <summary>The door for registers: journals as JSON lines, over HTTP.</summary>
internal static class JournalApi
{
    private const int LargestPart = 32 << 20;

    public static void MapJournalApi(this WebApplication app)
    {
        app.MapPost("/api/registers/{register}/journal", Take).WithMetadata(new DoesAttribute(ActKind.SendJournal))
            .RequireAuthorization(KeyAuthentication.Policy).DisableAntiforgery().WithMetadata(new BodyLimit(LargestPart))
            .WithName("SendJournal").WithTags("Registers")
            .WithSummary("Sends a part of a register's journal.")
            .WithDescription(
                "The body is JSON lines, one event per line, as in journal.jsonl (docs/formats.md). Send the register's key in the "
                    + "Authorization header: Bearer KEY. Parts may arrive late, twice or out of order; events that Fondo already has "
                    + "are counted as known. Lines that contradict earlier ones or the set-up wait for a person. The rest is imported.")
            .Accepts<string>("application/jsonl", "application/x-ndjson", "text/plain")
            .Produces<PartAnswer>()
            .ProducesProblem(StatusCodes.Status401Unauthorized).ProducesProblem(StatusCodes.Status403Forbidden)
            .ProducesProblem(StatusCodes.Status409Conflict).ProducesProblem(StatusCodes.Status413PayloadTooLarge)
            .ProducesProblem(StatusCodes.Status503ServiceUnavailable).ProducesProblem(StatusCodes.Status507InsufficientStorage);
        app.MapOpenApi().AllowAnonymous();
    }

    private static async Task<Results<Ok<PartAnswer>, ProblemHttpResult>> Take(
        string register, HttpRequest request, ClaimsPrincipal shown, JournalIntake intake, Numbering numbering, ILogger<PartAnswer> log)
    {
        if (KeyAuthentication.HolderOf(shown) is var holder && holder != register)
        {
            return Problem(StatusCodes.Status403Forbidden, $"This key is of {holder}, not of {register}.");
        }

        // Read whole before anything is written, so that a slow line never holds up other writers.
        using var body = new MemoryStream();
        try
        {
            await request.Body.CopyToAsync(body, request.HttpContext.RequestAborted);
        }
        catch (BadHttpRequestException e) when (e.StatusCode == StatusCodes.Status413PayloadTooLarge)
        {
            return Problem(StatusCodes.Status413PayloadTooLarge, "This part is larger than 32 MB. Send it in smaller parts.");
        }

        body.Position = 0;
        try
        {
            var part = await intake.TakePart(body, register);
            if (part.Refusal is { } refusal)
            {
                return Problem(part.IsLater ? StatusCodes.Status503ServiceUnavailable : StatusCodes.Status409Conflict, refusal);
            }

            var missing = await numbering.Around(register, part.Fresh);
            return TypedResults.Ok(new PartAnswer(
                part.Taken, part.Known, [.. part.Aside.Select(a => new AsideAnswer(a.Line, a.Id, a.Why, a.IsKept))],
                [.. missing.Select(m => new MissingAnswer(m.FirstId, m.LastId))]));
        }
        catch (Exception e) when (DiskFull.Is(e))
        {
            log.LogError("The disk is full: a part of {Register} was not taken", register);
            return Problem(StatusCodes.Status507InsufficientStorage,
                "The disk is full. Keep this part and send it again later. Fondo recognizes what it already has.");
        }
    }

    private static ProblemHttpResult Problem(int status, string sentence) => TypedResults.Problem(sentence, statusCode: status);
}
