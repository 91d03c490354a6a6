using Fondo.Core.SetUp;
using Fondo.Store.Model;
using Fondo.Store.SetUp;
using Fondo.Web.Hosting;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.EntityFrameworkCore;

namespace Fondo.Web.Pages;

/// <summary>Who did what, when, from where: the latest lines of the trail, and those before them.</summary>
[Authorize(Policies.Read)]
public sealed class TrailModel(StoreContext db, SetupBook book) : PageModel
{
    private const int OnAPage = 100;

    [BindProperty(SupportsGet = true)]
    public TrailAct? Act { get; set; }

    /// <summary>A person's id.</summary>
    [BindProperty(SupportsGet = true)]
    public string? Who { get; set; }

    public Setup? Setup { get; private set; }

    public IReadOnlyList<TrailRow> Lines { get; private set; } = [];

    public IReadOnlyDictionary<string, string> Names { get; private set; } = new Dictionary<string, string>();

    /// <summary>Where the next page begins; null on the last one.</summary>
    public long? Next => Lines.Count == OnAPage ? Lines[^1].Number : null;

    public async Task OnGet(long? before)
    {
        Setup = (await book.Now())?.Setup;
        Names = await db.Users.AsNoTracking().ToDictionaryAsync(p => p.PersonId, p => p.Name);
        var lines = db.Trail.AsNoTracking().Where(t => before == null || t.Number < before);
        lines = Act is { } act ? lines.Where(t => t.Act == act) : lines;
        lines = string.IsNullOrEmpty(Who) ? lines : lines.Where(t => t.By == Who);
        Lines = await lines.OrderByDescending(t => t.Number).Take(OnAPage).ToListAsync();
    }

    public string NameOf(string by) => Names.GetValueOrDefault(by) ?? by;

    public string At(DateTimeOffset at) => TimeZoneInfo.ConvertTime(at, Setup?.TimeZone ?? TimeZoneInfo.Utc).ToString("d MMM yyyy HH:mm:ss", System.Globalization.CultureInfo.InvariantCulture);
}
