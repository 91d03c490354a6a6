using Fondo.Core.SetUp;
using Fondo.Store.Model;
using Fondo.Store.People;
using Fondo.Store.SetUp;
using Fondo.Web.Hosting;
using Fondo.Web.Text;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Fondo.Web.Pages;

/// <summary>A person's own matters: the PIN, changed with the old one, and how the single-letter keys are pressed.</summary>
public sealed class PinModel(PeopleRegister people, PinSignIn pins, SetupBook book, IServiceProvider services) : PageModel
{
    [TempData]
    public string? Notice { get; set; }

    public string? Objection { get; private set; }

    /// <summary>The field that the objection is about.</summary>
    public string? Field { get; private set; }

    public bool MustChoose => User.HasClaim(c => c.Type == Me.MustChoosePinClaim);

    public PlainKeys Keys { get; private set; }

    /// <summary>The person's own sessions.</summary>
    public IReadOnlyList<SessionRow> Sessions { get; private set; } = [];

    /// <summary>The one of this page.</summary>
    public string? Own => PersonSessions.Of(HttpContext)?.Hash;

    private Core.SetUp.Setup? _setup;

    public string Moment(DateTimeOffset at) => _setup is null ? $"{at:yyyy-MM-dd HH:mm} UTC" : Say.Moment(at, _setup);

    public Task OnGet() => Load();

    private async Task Load()
    {
        Keys = await people.KeysOf(Me.From(User).Id);
        Sessions = await services.GetRequiredService<PersonSessions>().OfPerson(Me.From(User).Id.Value);
        _setup = (await book.Now())?.Setup;
    }

    /// <summary>Ends another session of the person's own.</summary>
    [Does(ActKind.OwnMatters)]
    public async Task<IActionResult> OnPostEnd(string? session)
    {
        var sessions = services.GetRequiredService<PersonSessions>();
        if (session?.Length == 16 && (await sessions.OfPerson(Me.From(User).Id.Value))
            .FirstOrDefault(s => s.Hash.StartsWith(session, StringComparison.Ordinal)) is { } own)
        {
            await sessions.End(own.Hash);
        }

        Notice = "That session is signed out.";
        return Redirect("/pin");
    }

    [Does(ActKind.OwnMatters)]
    public async Task<IActionResult> OnPost(string? old, string? pin, string? again)
    {
        var me = Me.From(User);
        var (person, objection) = await pins.Prove(me.Id.Value, old, MustChoose ? PinDoor.SignIn : PinDoor.Again);
        (Objection, Field) = person is null ? (objection, "old")
            : pin != again ? ("The two PINs differ. Type the new PIN twice.", "again")
            : (null, null);
        if (Objection is null)
        {
            (Objection, Field) = ((await people.ChoosePin(me.Id, pin ?? "", PersonSessions.Of(HttpContext)?.Hash)).Objection, "pin");
        }

        if (Objection is not null)
        {
            await Load();
            return Page();
        }

        person!.MustChoosePin = false;
        await Me.SignIn(HttpContext, person);
        Notice = "Your PIN is changed. You are signed out on other machines.";
        return Redirect("/pin");
    }

    [Does(ActKind.OwnMatters)]
    public async Task<IActionResult> OnPostKeys(PlainKeys keys)
    {
        await people.SetKeys(Me.From(User).Id, keys);
        Notice = "Saved.";
        return Redirect("/pin");
    }
}
