using System.Security.Claims;
using Fondo.Core.SetUp;
using Fondo.Store.Days;
using Fondo.Web.Hosting;
using Microsoft.AspNetCore.Http.HttpResults;

namespace Fondo.Web.Intake;

/// <summary>What became of a machine's reading.</summary>
/// <param name="Known">True: it was there already, alike; sending it again changes nothing.</param>
public sealed record ReadingAnswer(bool Known);

/// <summary>The door for scales and counting machines.</summary>
internal static class DeviceApi
{
    public static void MapDeviceApi(this WebApplication app) =>
        app.MapPost("/api/devices/{device}/readings", Take).WithMetadata(new DoesAttribute(ActKind.BringReadings))
            .RequireAuthorization(KeyAuthentication.Policy).DisableAntiforgery()
            .WithName("SendReading").WithTags("Scales and counting machines")
            .WithSummary("Sends what a scale or a counting machine counted.")
            .WithDescription(
                "The body is one JSON object: the drawer, bag or safe that was counted, and one row for each denomination with its pieces "
                    + "or grams (docs/formats.md). Send the machine's key in the Authorization header: Bearer KEY. The reading fills in "
                    + "the count sheet and stays marked as the machine's. Sending the same reading again changes nothing. The same "
                    + "number with different contents is refused.")
            .Accepts<string>("application/json")
            .Produces<ReadingAnswer>()
            .ProducesProblem(StatusCodes.Status400BadRequest).ProducesProblem(StatusCodes.Status401Unauthorized)
            .ProducesProblem(StatusCodes.Status403Forbidden).ProducesProblem(StatusCodes.Status409Conflict);

    private static async Task<Results<Ok<ReadingAnswer>, ProblemHttpResult>> Take(string device, HttpRequest request,
        ClaimsPrincipal shown, MachineDesk desk)
    {
        var holder = KeyAuthentication.HolderOf(shown);
        if (MachineDesk.DeviceOf(holder) != device)
        {
            return TypedResults.Problem($"This key is of {MachineDesk.DeviceOf(holder) ?? holder}, not of {device}.",
                statusCode: StatusCodes.Status403Forbidden);
        }

        var taken = await desk.Take("reading", request.Body, device, holder);
        return taken.Findings.Count == 0 ? TypedResults.Ok(new ReadingAnswer(taken.IsKnown))
            : TypedResults.Problem(string.Join("; ", taken.Findings),
                statusCode: taken.IsConflict ? StatusCodes.Status409Conflict : StatusCodes.Status400BadRequest);
    }
}
