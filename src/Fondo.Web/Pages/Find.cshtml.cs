using Fondo.Core.SetUp;
using Fondo.Store.Search;
using Fondo.Store.SetUp;
using Fondo.Web.Hosting;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Fondo.Web.Pages;

/// <summary>Finds a ticket by what people remember of it.</summary>
[Authorize(Policies.Read)]
public sealed class FindModel(TicketSearch search, SetupBook book) : PageModel
{
    [BindProperty(SupportsGet = true)]
    public string? Q { get; set; }

    [BindProperty(SupportsGet = true)]
    public string? Register { get; set; }

    [BindProperty(SupportsGet = true)]
    public DateOnly? From { get; set; }

    [BindProperty(SupportsGet = true)]
    public DateOnly? Until { get; set; }

    public Setup? Setup { get; private set; }

    public TicketsFound? Found { get; private set; }

    public IEnumerable<Register> Registers => Setup?.Registers ?? [];

    public async Task<IActionResult> OnGet()
    {
        await Look();
        return Page();
    }

    public async Task<IActionResult> OnGetFound()
    {
        await Look();
        return Partial("_Found", this);
    }

    private async Task Look()
    {
        if (await book.Now() is not { Setup: var setup })
        {
            return;
        }

        Setup = setup;
        if (!string.IsNullOrWhiteSpace(Q) || From is not null)
        {
            var query = new TicketQuery(Q, string.IsNullOrEmpty(Register) ? null : Register, From, Until);
            Q = Fondo.Files.Text.CardNumbers.Contains(Q) ? "" : Q; // it is not given back either
            Found = await search.Find(query, setup.TradingDay.Date, setup.TimeZone, setup.Currency.MinorDigits,
                [.. setup.People.Select(p => (p.Id.Value, p.Name))]);
        }
    }
}
