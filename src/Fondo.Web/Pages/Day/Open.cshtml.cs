using Fondo.Core.Amounts;
using Fondo.Core.Days;
using Fondo.Core.Journal;
using Fondo.Store.Days;
using Fondo.Web.Hosting;
using Fondo.Web.Text;
using Microsoft.AspNetCore.Authorization;

namespace Fondo.Web.Pages.Day;

/// <summary>Which registers are open, with whom, and with how much.</summary>
[Authorize(Policies.Count)]
public sealed class OpenModel(DayStore days) : DayPage(days)
{
    /// <param name="Off">What the declared float is more or less than the standard; null without one.</param>
    public sealed record Row(string Name, RegisterId Register, string? Drawer, string Who, string Hours, Money? Float, Money? Off, bool MayOpen);

    protected override string Place => "open";

    public IReadOnlyList<Row> Rows { get; private set; } = [];

    public string Headline => Rows.Count(r => r.Off is { IsZero: false }) is > 0 and var off ? $"{Say.Count(off, "drawer")} did not open with the standard float."
        : Rows.All(r => r.Drawer is null) ? "No drawer is open yet." : "The floats are as they should be.";

    public void OnGet() => Rows = [.. Setup.Registers.SelectMany(Of)];

    private IEnumerable<Row> Of(Register register)
    {
        var sessions = View.Reconciliation.Sessions.Where(s => s.Register == register.Id).ToList();
        var mayOpen = !View.IsClosed && register.Kind != RegisterKind.Online && sessions.All(s => s.Until is not null);
        if (sessions.Count == 0)
        {
            yield return new(register.Name, register.Id, null, register.Kind == RegisterKind.Online ? "opens by itself" : "", "", null, null, mayOpen);
        }

        for (var i = 0; i < sessions.Count; i++)
        {
            var session = sessions[i];
            var declared = View.Day.Journal.OfType<SessionOpen>().Where(o => o.Drawer == session.Drawer).Select(o => (Money?)o.Float).FirstOrDefault();
            yield return new(
                i == 0 ? register.Name : "", register.Id, session.Drawer.Value, Setup.NameOf(session.Cashier), $"{Say.Time(session.From, Setup)} {(session.Until is { } until ? $"to {Say.Time(until, Setup)}" : "on")}",
                declared, declared - register.Float, mayOpen && i == sessions.Count - 1);
        }
    }
}
