using Fondo.Core.Amounts;
using Fondo.Core.Proof;
using Fondo.Core.SetUp;
using Fondo.Store;
using Fondo.Store.Days;
using Fondo.Web.Hosting;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace Fondo.Web.Pages.Day;

/// <summary>What stays in a counted drawer for the register's next session, piece by piece.</summary>
[Authorize(Policies.Count)]
public sealed class FloatModel(DayStore days, Floats floats) : DrawerPage(days)
{
    /// <summary>The count that stands.</summary>
    public Count Count { get; private set; } = null!;

    public IReadOnlyDictionary<long, string> Typed { get; private set; } = new Dictionary<long, string>();

    public IReadOnlyList<Objection> Objections { get; private set; } = [];

    /// <summary>Made with the page: the same form posted twice is one float.</summary>
    public Guid Form { get; private set; } = Guid.NewGuid();

    public IReadOnlyDictionary<long, int> Counted =>
        Count.Pieces.GroupBy(p => p.Denomination.Minor).ToDictionary(g => g.Key, g => g.Sum(p => p.Number));

    public string Headline => $"{Setup.NameOf(Session.Register)}: the float for the next session";

    public string Explanation
    {
        get
        {
            var standard = Setup.Find(Session.Register)!.Float;
            var proposed = Floats.Proposed(View, Session).Sum(p => p.Worth);
            return proposed == standard
                ? $"The standard float is {Amount(standard)}. These pieces make it, as close to the preferred mix as possible."
                : $"The standard float is {Amount(standard)}. The counted pieces make at most {Amount(proposed)} of it.";
        }
    }

    public IActionResult OnGet()
    {
        if (!Load())
        {
            return Redirect($"/{Setup.TradingDay}/count/{Drawer}");
        }

        Typed = (Floats.Kept(View, Session.Drawer)?.Pieces ?? Floats.Proposed(View, Session))
            .ToDictionary(p => p.Denomination.Minor, p => $"{p.Number}");
        return Page();
    }

    [Does(ActKind.Count)]
    public async Task<IActionResult> OnPost(Guid form)
    {
        if (!Load())
        {
            return Redirect($"/{Setup.TradingDay}/count/{Drawer}");
        }

        Typed = PiecesSheet.Read(Request.Form);
        Objections = (await floats.Keep(Date, Session.Drawer, form, Typed, MySelf)).Objections;
        if (Objections.Count == 0)
        {
            return Redirect($"/{Setup.TradingDay}/count/{Drawer}");
        }

        Form = form;
        return Page();
    }

    private bool Load()
    {
        if (View.CountsOf(Session.Drawer) is not [.., var last])
        {
            return false;
        }

        Count = last;
        return true;
    }
}
