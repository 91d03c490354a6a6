using Fondo.Core.Amounts;
using Fondo.Core.Cash;
using Fondo.Core.Cells;
using Fondo.Core.Checks;
using Fondo.Core.Closing;
using Fondo.Core.Days;
using Fondo.Core.Entries;
using Fondo.Core.Journal;
using Fondo.Core.Leads;
using Fondo.Core.Matching;
using Fondo.Core.Proof;
using Fondo.Core.Reconciling;
using Fondo.Core.SetUp;
using Fondo.Core.Sheets;
using Fondo.Store.Intake;

namespace Fondo.Web.Pages;

/// <summary>The form that takes files in, and what became of the last ones.</summary>
public sealed record TakeInForm(string Action, IntakeResult? Result)
{
    /// <summary>By which the browser asks how far it has come.</summary>
    public Guid Upload { get; } = Guid.NewGuid();
}
