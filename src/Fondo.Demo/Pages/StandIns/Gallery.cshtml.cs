using System.Text.Json.Nodes;
using Fondo.Core;
using Fondo.Core.SetUp;
using Fondo.Files.Mapping;
using Fondo.Web.Hosting;
using Fondo.Web.Mappings;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Fondo.Demo.Pages.StandIns;

/// <summary>A file of the gallery.</summary>
/// <param name="IsRight">Whether the first guess reads it; else something is asked.</param>
public sealed record GalleryFile(string File, string Says, string Kind, bool IsRight);

/// <summary>Files of shapes that were made up, to try mappings on.</summary>
[Authorize(Policies.Supervise)]
public sealed class GalleryModel(IWebHostEnvironment host, Examples examples) : PageModel
{
    private const string Folder = "gallery";

    public IReadOnlyList<GalleryFile> Files { get; private set; } = [];

    public void OnGet() => Files = All();

    /// <summary>Shows a file as though its bearer had chosen it.</summary>
    [Does(ActKind.PlayStandIn)]
    public async Task<IActionResult> OnPost(string file)
    {
        if (All().FirstOrDefault(f => f.File == file) is not { } known)
        {
            return Redirect("/stand-ins/files");
        }

        var bytes = await System.IO.File.ReadAllBytesAsync(host.WebRootFileProvider.GetFileInfo($"{Folder}/{known.File}").PhysicalPath!);
        return Redirect($"/mappings?example={examples.Keep(Me.From(User).Id.Value, known.File, bytes)}");
    }

    private List<GalleryFile> All()
    {
        using var text = host.WebRootFileProvider.GetFileInfo($"{Folder}/gallery.json").CreateReadStream();
        string Of(JsonNode file, string name) => (string)file[name]!;
        return [.. JsonNode.Parse(text)!.AsArray().Select(f => new GalleryFile(Of(f!, "file"), Of(f!, "says"),
            MappingForm.Says(WrittenNames.Read<MappedKind>(Of(f!, "kind"))!.Value),
            Of(f!, "guess") == "right"))];
    }
}
