using Fondo.Core.Amounts;
using Fondo.Core.Custody;
using Fondo.Core.Journal;
using Fondo.Core.SetUp;
using Fondo.Core.Sheets;
using Fondo.Store.Days;
using Fondo.Web.Hosting;
using Fondo.Web.Text;
using Microsoft.AspNetCore.Authorization;

namespace Fondo.Web.Pages.Day;

/// <summary>Which registers are open, with whom, and with how much.</summary>
[Authorize(Policies.Count)]
public sealed class OpenModel(DayStore days) : DayPage(days)
{
    /// <param name="Difference">Where the declared float is not as it was left; null where it is, and without one.</param>
    public sealed record Row(string Name, RegisterId Register, string? Drawer, string Who, string Hours, Money? Float,
        FloatDifference? Difference, bool MayOpen);

    private ILookup<DrawerId, FloatDifference> _differences = null!;

    protected override string Place => "open";

    public IReadOnlyList<Row> Rows { get; private set; } = [];

    /// <summary>Nobody has said yet what the safe holds: so it is on the store's first day.</summary>
    public bool AsksForSafe => !View.IsClosed && MySelf.May(Right.Supervise) && View.Money.Custody is { Start.Loose: null, Count: null }
        && View.Money.Acts.Movements.All(m => m.Kind != SafeMovementKind.Opening);

    public string Headline => Rows.Count(r => r.Difference is not null) is > 0
        and var off ? $"{Say.Count(off, "drawer")} opened with a different float than was left."
        : Rows.All(r => r.Drawer is null) ? "No drawer is open yet." : "All floats are right.";

    public void OnGet()
    {
        _differences = View.Floats.Differences().ToLookup(d => d.Session.Drawer);
        Rows = [.. Setup.Registers.SelectMany(Of)];
    }

    private IEnumerable<Row> Of(Register register)
    {
        var sessions = View.Overview.Sessions.Where(s => s.Register == register.Id).ToList();
        var mayOpen = !View.IsClosed && register.Kind != RegisterKind.Online && sessions.All(s => s.Until is not null);
        if (sessions.Count == 0)
        {
            yield return new(register.Name, register.Id, null, register.Kind == RegisterKind.Online ? "opens by itself" : "", "", null,
                null, mayOpen);
        }

        for (var i = 0; i < sessions.Count; i++)
        {
            var session = sessions[i];
            var declared = View.Day.Journal.OfType<SessionOpen>().Where(o => o.Drawer == session.Drawer).Select(o => (Money?)o.Float)
                .FirstOrDefault();
            yield return new(
                i == 0 ? register.Name : "", register.Id, session.Drawer.Value, Setup.NameOf(session.Cashier),
                $"{Say.Time(session.From, Setup)} {(session.Until is { } until ? $"to {Say.Time(until, Setup)}" : "on")}",
                declared, _differences[session.Drawer].FirstOrDefault(), mayOpen && i == sessions.Count - 1);
        }
    }
}
