using Fondo.Files.Mapping;
using Fondo.Store.Intake;
using Fondo.Store.Mappings;
using Microsoft.AspNetCore.Antiforgery;
using Microsoft.AspNetCore.WebUtilities;
using Microsoft.Net.Http.Headers;

namespace Fondo.Web.Intake;

/// <summary>A form with files as it comes in, part by part: files go into the spool, and none before the page's token came.</summary>
internal sealed class UploadForm(HttpContext context, Spool spool, MappingBook mappings, IAntiforgery antiforgery)
{
    /// <summary>Bytes of a field beside the files.</summary>
    private const int LongestField = 4096;

    private const int MostFiles = 20;

    private readonly List<SpooledFile> _files = [];
    private bool _isOurs;
    private ReportFigures _report = new("", "");

    /// <summary>Names this upload; the page may have made it.</summary>
    public Guid Upload { get; private set; } = Guid.NewGuid();

    /// <summary>Why none of the files is taken.</summary>
    public string? Objection { get; private set; }

    public IReadOnlyList<OfferedFile> Offered =>
        Objection is null
            ? [.. _files.Select(f => new OfferedFile(f.Name, () => File.OpenRead(f.Path)) { Report = _report.IsTyped ? _report : null })]
            : [];

    /// <returns>Whether the form is one of our pages'.</returns>
    public async Task<bool> Read(string boundary)
    {
        _isOurs = context.Request.Headers.ContainsKey(UploadDoor.Token) && await antiforgery.IsRequestValidAsync(context);
        var reader = new MultipartReader(boundary, context.Request.Body);
        while (await reader.ReadNextSectionAsync(context.RequestAborted) is { } section)
        {
            if (!ContentDispositionHeaderValue.TryParse(section.ContentDisposition, out var disposition))
            {
                continue;
            }

            if (!disposition.IsFileDisposition())
            {
                await TakeField(HeaderUtilities.RemoveQuotes(disposition.Name).ToString(), section.Body);
            }
            else if (!_isOurs)
            {
                return false;
            }
            else
            {
                await TakeFile(disposition, section.Body);
            }
        }

        return _isOurs;
    }

    /// <summary>Takes the files out of the spool.</summary>
    public void Shred() => _files.ForEach(f => Spool.Shred(f.Path));

    private async Task TakeField(string name, Stream body)
    {
        var text = await Field(body, context.RequestAborted);
        if (name == "upload" && Guid.TryParse(text, out var given))
        {
            Upload = given;
        }
        else if (name == "reportTotal")
        {
            _report = _report with { Total = text };
        }
        else if (name == "reportRows")
        {
            _report = _report with { Rows = text };
        }
        else if (name == "__RequestVerificationToken")
        {
            // As the header, so that nobody reads the body to find it.
            context.Request.Headers[UploadDoor.Token] = text;
            _isOurs = await antiforgery.IsRequestValidAsync(context);
        }
    }

    private async Task TakeFile(ContentDispositionHeaderValue disposition, Stream body)
    {
        var name = Path.GetFileName(HeaderUtilities.RemoveQuotes(disposition.FileNameStar.HasValue
            ? disposition.FileNameStar
            : disposition.FileName).ToString());
        if (name.Length == 0 || Objection is not null)
        {
            return;
        }

        if (_files.Count == MostFiles)
        {
            Objection = $"That is more than {MostFiles} files. Nothing was imported.";
            return;
        }

        var (file, why) = await spool.Take(name, body, await mappings.For(name), context.RequestAborted);
        Objection = why;
        if (file is not null)
        {
            _files.Add(file);
        }
    }

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
