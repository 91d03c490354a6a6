using Fondo.Store.Model;
using Fondo.Store.People;
using Fondo.Web.Hosting;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Fondo.Web.Pages;

/// <summary>A person's own matters: the PIN, changed with the old one, and how the single-letter keys are pressed.</summary>
public sealed class PinModel(PeopleRegister people, PinSignIn pins) : PageModel
{
    [TempData]
    public string? Notice { get; set; }

    public string? Objection { get; private set; }

    /// <summary>The field that the objection is about.</summary>
    public string? Field { get; private set; }

    public bool MustChoose => User.HasClaim(c => c.Type == Me.MustChoosePinClaim);

    public PlainKeys Keys { get; private set; }

    public async Task OnGet() => Keys = await people.KeysOf(Me.From(User).Id);

    public async Task<IActionResult> OnPost(string? old, string? pin, string? again)
    {
        var me = Me.From(User);
        var (person, objection) = await pins.Prove(me.Id.Value, old, MustChoose ? PinDoor.SignIn : PinDoor.Again);
        (Objection, Field) = person is null ? (objection, "old") : pin != again ? ("The two are not the same. Type the new PIN twice.", "again") : (null, null);
        if (Objection is null)
        {
            (Objection, Field) = ((await people.ChoosePin(me.Id, pin ?? "", PersonSessions.Of(HttpContext)?.Hash)).Objection, "pin");
        }

        if (Objection is not null)
        {
            Keys = await people.KeysOf(me.Id);
            return Page();
        }

        person!.MustChoosePin = false;
        await Me.SignIn(HttpContext, person);
        Notice = "Your PIN is changed. Elsewhere you are signed out.";
        return Redirect("/pin");
    }

    public async Task<IActionResult> OnPostKeys(PlainKeys keys)
    {
        await people.SetKeys(Me.From(User).Id, keys);
        Notice = "Saved.";
        return Redirect("/pin");
    }
}
