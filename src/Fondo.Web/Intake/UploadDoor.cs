using Fondo.Core.SetUp;
using Fondo.Store;
using Fondo.Store.Intake;
using Fondo.Web.Hosting;
using Microsoft.AspNetCore.Antiforgery;
using Microsoft.AspNetCore.WebUtilities;
using Microsoft.Net.Http.Headers;

namespace Fondo.Web.Intake;

/// <summary>Where the browser sends files: read part by part into the spool, by those who may take in, and never held in memory.</summary>
internal static class UploadDoor
{
    public const string Path = "/take-in/files";

    public const long Largest = Limits.LargestUpload;

    /// <summary>Bytes of a field beside the files.</summary>
    private const int LongestField = 4096;

    private const int MostFiles = 20;

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
    private static async Task<IResult> Take(HttpContext context, string? day, Spool spool, Uploads uploads, IAntiforgery antiforgery)
    {
        if (!MediaTypeHeaderValue.TryParse(context.Request.ContentType, out var type)
            || HeaderUtilities.RemoveQuotes(type.Boundary).ToString() is not { Length: > 0 and <= 100 } boundary)
        {
            return Results.StatusCode(StatusCodes.Status400BadRequest);
        }

        DateOnly? date = TradingDay.TryParse(day, out var known) ? known.Date : null;
        var files = new List<SpooledFile>();
        try
        {
            var (upload, objection, isOurs) = (Guid.NewGuid(), (string?)null,
                context.Request.Headers.ContainsKey(Token) && await antiforgery.IsRequestValidAsync(context));
            var reader = new MultipartReader(boundary, context.Request.Body);
            while (await reader.ReadNextSectionAsync(context.RequestAborted) is { } section)
            {
                if (!ContentDispositionHeaderValue.TryParse(section.ContentDisposition, out var disposition))
                {
                    continue;
                }

                var name = HeaderUtilities.RemoveQuotes(disposition.Name).ToString();
                if (!disposition.IsFileDisposition())
                {
                    var text = await Field(section.Body, context.RequestAborted);
                    if (name == "upload" && Guid.TryParse(text, out var given))
                    {
                        upload = given;
                    }
                    else if (name == "__RequestVerificationToken")
                    {
                        // As the header, so that nobody reads the body to find it.
                        context.Request.Headers[Token] = text;
                        isOurs = await antiforgery.IsRequestValidAsync(context);
                    }

                    continue;
                }

                if (!isOurs)
                {
                    return Results.StatusCode(StatusCodes.Status400BadRequest);
                }

                var fileName = System.IO.Path.GetFileName(HeaderUtilities.RemoveQuotes(disposition.FileNameStar.HasValue
                    ? disposition.FileNameStar
                    : disposition.FileName).ToString());
                if (fileName.Length == 0 || objection is not null)
                {
                    continue;
                }

                if (files.Count == MostFiles)
                {
                    objection = $"That is more than {MostFiles} files. Nothing was imported.";
                    continue;
                }

                var (file, why) = await spool.Take(fileName, section.Body, context.RequestAborted);
                objection = why;
                if (file is not null)
                {
                    files.Add(file);
                }
            }

            if (!isOurs)
            {
                return Results.StatusCode(StatusCodes.Status400BadRequest);
            }

            await uploads.Take(upload, objection is null
                ? [.. files.Select(f => new OfferedFile(f.Name, () => File.OpenRead(f.Path)))]
                : [], objection, date, Me.From(context.User).Id);
            return Results.Redirect($"{(date is { } shown ? $"/{shown:yyyy-MM-dd}" : "")}/take-in?upload={upload}");
        }
        catch (Exception e) when (DiskFull.Is(e) || e is IOException { HResult: NoSpace })
        {
            return Results.Redirect("/trouble?status=507");
        }
        finally
        {
            files.ForEach(f => Spool.Shred(f.Path));
        }
    }

    /// <summary>ENOSPC, as .NET says it.</summary>
    private const int NoSpace = 28;

    private static async Task<string> Field(Stream body, CancellationToken cancel)
    {
        var (buffer, length) = (new byte[LongestField], 0);
        while (length < buffer.Length && await body.ReadAsync(buffer.AsMemory(length), cancel) is > 0 and var read)
        {
            length += read;
        }

        return System.Text.Encoding.UTF8.GetString(buffer, 0, length);
    }
}
