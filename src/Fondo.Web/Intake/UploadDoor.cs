using Fondo.Core.SetUp;
using Fondo.Store;
using Fondo.Store.Mappings;
using Fondo.Web.Hosting;
using Microsoft.AspNetCore.Antiforgery;
using Microsoft.Net.Http.Headers;

namespace Fondo.Web.Intake;

/// <summary>Where the browser sends files: read part by part into the spool, by those who may take in, and never held in memory.</summary>
internal static class UploadDoor
{
    public const string Path = "/take-in/files";

    public const long Largest = Limits.LargestUpload;

    /// <summary>The header that carries the page's token.</summary>
    public const string Token = "X-CSRF-TOKEN";

    public static void MapUploads(this WebApplication app)
    {
        app.MapPost(Path, Take).WithMetadata(new DoesAttribute(ActKind.BringFiles)).RequireAuthorization(Policies.Supervise)
            .DisableAntiforgery().WithMetadata(new BodyLimit(Largest)).ExcludeFromDescription();
        app.MapGet("/take-in/progress/{upload:guid}", (Guid upload, Uploads uploads) =>
            uploads.Find(upload)?.Now is { } now ? Results.Ok(new { says = now.Says, part = now.Part }) : Results.NoContent())
            .RequireAuthorization(Policies.Supervise).ExcludeFromDescription();
    }

    /// <summary>Leads back to the page that the form stood on, which shows what became of it.</summary>
    private static async Task<IResult> Take(HttpContext context, string? day, Spool spool, MappingBook mappings, Uploads uploads,
        IAntiforgery antiforgery)
    {
        if (!MediaTypeHeaderValue.TryParse(context.Request.ContentType, out var type)
            || HeaderUtilities.RemoveQuotes(type.Boundary).ToString() is not { Length: > 0 and <= 100 } boundary)
        {
            return Results.StatusCode(StatusCodes.Status400BadRequest);
        }

        DateOnly? date = TradingDay.TryParse(day, out var known) ? known.Date : null;
        var form = new UploadForm(context, spool, mappings, antiforgery);
        try
        {
            if (!await form.Read(boundary))
            {
                return Results.StatusCode(StatusCodes.Status400BadRequest);
            }

            await uploads.Take(form.Upload, form.Offered, form.Objection, date, Me.From(context.User).Id);
            return Results.Redirect($"{(date is { } shown ? $"/{shown:yyyy-MM-dd}" : "")}/take-in?upload={form.Upload}");
        }
        catch (Exception e) when (DiskFull.Is(e) || e is IOException { HResult: NoSpace })
        {
            return Results.Redirect("/trouble?status=507");
        }
        finally
        {
            form.Shred();
        }
    }

    /// <summary>ENOSPC, as .NET says it.</summary>
    private const int NoSpace = 28;
}
