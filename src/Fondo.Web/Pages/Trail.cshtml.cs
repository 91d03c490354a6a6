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

    [BindProperty(SupportsGet = true)]
    public string? Register { get; set; }

    [BindProperty(SupportsGet = true)]
    public DateOnly? Day { get; set; }

    public IReadOnlyDictionary<long, EntryRow> Entries { get; private set; } = new Dictionary<long, EntryRow>();

    public Setup? Setup { get; private set; }

    public IReadOnlyList<TrailRow> Lines { get; private set; } = [];

    public IReadOnlyDictionary<string, string> Names { get; private set; } = new Dictionary<string, string>();

    /// <summary>Where the next page begins; null on the last one.</summary>
    public long? Next => Lines.Count == TrailReading.OnAPage ? Lines[^1].Number : null;

    /// <summary>The last line of all.</summary>
    public (long Number, string Hash) Head { get; private set; }

    public async Task OnGet(long? before)
    {
        Setup = (await book.Now())?.Setup;
        Names = (await people.Listing()).ToDictionary(p => p.Person.Id.Value, p => p.Person.Name);
        Lines = await trail.Lines(before, Act, Who, Register, Day);
        Entries = await trail.Entries(Lines);
        Head = await trail.Last();
    }

    public string NameOf(string by) => Names.GetValueOrDefault(by) ?? by;

    /// <summary>What an entry moved, from which cell to which; the words of the trail for everything else.</summary>
    public string Says(TrailRow line)
    {
        if (Setup is not { } setup || !Entries.TryGetValue(line.Number, out var entry))
        {
            return line.Says;
        }

        var moved = entry.Postings.OrderBy(p => p.Place).Select(p =>
            $"{setup.NameOf(p.Register is { } r ? new Core.Journal.RegisterId(r) : null)} "
                + $"{setup.NameOf(new Core.Journal.TenderId(p.Tender)).ToLowerInvariant()} {Text.Say.Signed(p.Amount, setup.Currency)}");
        return $"{Text.Say.Kind(entry.Kind)}{(entry.Postings.Count > 0 ? $" {string.Join(", ", moved)}" : "")}: “{entry.Reason}”";
    }

    /// <summary>What it was done on, as a person calls it.</summary>
    public string On(TrailRow line) => Entries.TryGetValue(line.Number, out var entry)
        ? entry.Day.ToString("yyyy-MM-dd", System.Globalization.CultureInfo.InvariantCulture)
        : Names.GetValueOrDefault(line.On) ?? (Setup?.Find(new Core.Journal.RegisterId(line.On))?.Name ?? line.On);

    public string At(DateTimeOffset at) => TimeZoneInfo.ConvertTime(at, Setup?.TimeZone ?? TimeZoneInfo.Utc)
        .ToString("d MMM yyyy HH:mm:ss", System.Globalization.CultureInfo.InvariantCulture);
}
