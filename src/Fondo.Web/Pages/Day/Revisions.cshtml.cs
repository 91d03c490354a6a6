using Fondo.Core.Closing;
using Fondo.Store.Days;
using Fondo.Store.Model;
using Fondo.Web.Hosting;
using Microsoft.AspNetCore.Authorization;

namespace Fondo.Web.Pages.Day;

/// <summary>The closes of one day side by side: what each says otherwise than the one before it, and why it was opened again.</summary>
[Authorize(Policies.Read)]
public sealed class RevisionsModel(DayStore days) : DayPage(days)
{
    public sealed record Revision(CloseDocument Document, ReopeningRow? Reopened, IReadOnlyList<CloseDifference> Differences);

    protected override string Place => "close";

    public IReadOnlyList<Revision> All { get; private set; } = [];

    public async Task OnGet()
    {
        var closes = await Days.Revisions(Date);
        var documents = closes.Select(c => ClosingDesk.Read(c.Close)).ToList();
        All = [.. closes.Select((c, i) =>
            new Revision(documents[i], c.Reopened, i == 0 ? [] : [.. documents[i - 1].Differences(documents[i])]))];
    }
}
