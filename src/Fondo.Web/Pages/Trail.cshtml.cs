using Fondo.Core.SetUp;
using Fondo.Store.Model;
using Fondo.Store.People;
using Fondo.Store.SetUp;
using Fondo.Store.Trails;
using Fondo.Web.Hosting;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Fondo.Web.Pages;

/// <summary>Who did what, when, from where: the latest lines of the trail, and those before them.</summary>
[Authorize(Policies.Read)]
public sealed class TrailModel(TrailReading trail, PeopleRegister people, SetupBook book) : PageModel
{
    [BindProperty(SupportsGet = true)]
    public TrailAct? Act { get; set; }

    /// <summary>A person's id.</summary>
    [BindProperty(SupportsGet = true)]
    public string? Who { get; set; }

    public Setup? Setup { get; private set; }

    public IReadOnlyList<TrailRow> Lines { get; private set; } = [];

    public IReadOnlyDictionary<string, string> Names { get; private set; } = new Dictionary<string, string>();

    /// <summary>Where the next page begins; null on the last one.</summary>
    public long? Next => Lines.Count == TrailReading.OnAPage ? Lines[^1].Number : null;

    public async Task OnGet(long? before)
    {
        Setup = (await book.Now())?.Setup;
        Names = (await people.Listing()).ToDictionary(p => p.Person.Id.Value, p => p.Person.Name);
        Lines = await trail.Lines(before, Act, Who);
    }

    public string NameOf(string by) => Names.GetValueOrDefault(by) ?? by;

    public string At(DateTimeOffset at) => TimeZoneInfo.ConvertTime(at, Setup?.TimeZone ?? TimeZoneInfo.Utc).ToString("d MMM yyyy HH:mm:ss", System.Globalization.CultureInfo.InvariantCulture);
}
