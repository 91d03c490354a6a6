using Fondo.Core.Journal;
using Fondo.Core.SetUp;
using Fondo.Core.Sheets;
using Fondo.Store;
using Fondo.Store.Days;
using Fondo.Web.Hosting;
using Fondo.Web.Text;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace Fondo.Web.Pages.Day;

/// <summary>Opens one register: the float counted, or the standard accepted.</summary>
[Authorize(Policies.Count)]
public sealed class OpenRegisterModel(DayStore days, Opening opening, TimeProvider clock) : DayPage(days)
{
    protected override string Place => "open";

    public Register Known { get; private set; } = null!;

    public FloatExpected Expected { get; private set; } = null!;

    public string WhoLeftIt => Expected switch
    {
        { LeftBy: null } => "This register was never counted, so it should hold the standard float.",
        { IsKept: true } => $"{Setup.NameOf(Expected.LeftBy)} left it, {Say.Moment(Expected.LeftAt!.Value, Setup)}.",
        _ =>
            $"{Setup.NameOf(Expected.LeftBy)} counted this register last, {Say.Moment(Expected.LeftAt!.Value, Setup)}, but recorded no "
                + "float. It should hold the standard float.",
    };

    public IReadOnlyDictionary<long, string> Typed { get; private set; } = new Dictionary<long, string>();

    public IReadOnlyList<Objection> Objections { get; private set; } = [];

    /// <summary>Made with the page: the same form posted twice is one opening.</summary>
    public Guid Form { get; private set; } = Guid.NewGuid();

    public async Task<IActionResult> OnGet(string register) => await Load(register) ? Page() : NotFound();

    [Does(ActKind.OpenRegister)]
    public async Task<IActionResult> OnPost(string register, Guid form, bool accept)
    {
        if (!await Load(register))
        {
            return NotFound();
        }

        Typed = PiecesSheet.Read(Request.Form);
        Objections = (await opening.Open(Date, Known.Id, form, accept ? null : Typed, MySelf)).Objections;
        if (Objections.Count > 0)
        {
            Form = form;
            return Page();
        }

        await Reload();
        Notice = Said();
        return Redirect($"/{Setup.TradingDay}/open");
    }

    /// <summary>How it was opened; a difference with both people and times.</summary>
    private string Said()
    {
        var session = View.Overview.Sessions.Last(s => s.Register == Known.Id);
        var declared = View.Day.Journal.OfType<SessionOpen>().First(o => o.Drawer == session.Drawer).Float;
        return declared == Expected.Amount
            ? $"{Known.Name} is open with {Amount(declared)}: drawer {session.Drawer}."
            : Say.Float(new(session, declared, Expected), Setup);
    }

    private async Task<bool> Load(string register)
    {
        if (Setup.Find(new RegisterId(register)) is not { } known || known.Kind == RegisterKind.Online)
        {
            return false;
        }

        (Known, Expected) = (known, View.Floats.Expected(known, clock.GetUtcNow()));
        return true;
    }
}
