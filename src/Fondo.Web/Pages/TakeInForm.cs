using Fondo.Store.Intake;

namespace Fondo.Web.Pages;

/// <summary>The form that takes files in, and what became of the last ones.</summary>
public sealed record TakeInForm(string Action, IntakeResult? Result)
{
    /// <summary>By which the browser asks how far it has come.</summary>
    public Guid Upload { get; } = Guid.NewGuid();
}
