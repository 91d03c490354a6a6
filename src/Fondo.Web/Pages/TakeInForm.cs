using Fondo.Store.Intake;

namespace Fondo.Web.Pages;

/// <summary>The form that takes files in, and what became of the last ones.</summary>
public sealed record TakeInForm(string Action, IntakeResult? Result);

/// <summary>What a browser offers, as the store takes it.</summary>
internal static class Uploads
{
    /// <summary>The files; a single zip is opened.</summary>
    public static (IReadOnlyList<OfferedFile> Files, string? Objection) Of(IFormFileCollection files) =>
        files.Count == 0 ? ([], "Choose the files first.")
        : files is [var only] && only.FileName.EndsWith(".zip", StringComparison.OrdinalIgnoreCase) ? ZipFiles.Open(only.OpenReadStream(), Path.GetFileName(only.FileName))
        : ([.. files.Select(f => new OfferedFile(Path.GetFileName(f.FileName), f.OpenReadStream))], null);

    public static async Task<IntakeResult> Take(this DayIntake intake, IFormFileCollection files, DateOnly? day, string by)
    {
        var (offered, objection) = Of(files);
        return objection is null ? await intake.Take(offered, day, by) : new(null, 0, [], [], objection);
    }
}
