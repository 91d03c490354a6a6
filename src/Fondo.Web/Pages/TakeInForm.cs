using Fondo.Store.Intake;

namespace Fondo.Web.Pages;

/// <summary>The form that takes files in, and what became of the last ones.</summary>
/// <param name="Day">The day that files without day.json belong to; null: none is chosen.</param>
public sealed record TakeInForm(string? Day, IntakeResult? Result)
{
    public string Action => Intake.UploadDoor.Path + (Day is null ? "" : $"?day={Day}");

    /// <summary>By which the browser asks how far it has come.</summary>
    public Guid Upload { get; } = Guid.NewGuid();
}
