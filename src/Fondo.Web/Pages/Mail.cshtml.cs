using Fondo.Core.SetUp;
using Fondo.Store;
using Fondo.Store.Model;
using Fondo.Store.SetUp;
using Fondo.Web.Hosting;
using Fondo.Web.Mail;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace Fondo.Web.Pages;

/// <summary>The mail server, a test mail, and what waits to be sent.</summary>
[Authorize(Policies.Manage)]
public sealed class MailModel(MailOffice office, SetupBook setups) : SensitivePage
{
    [BindProperty]
    public MailServerForm Form { get; set; } = new(null, null, MailSecurity.StartTls, null, null, null, null, null);

    public MailServer? Server { get; private set; }

    public IReadOnlyList<(MailRow Mail, MailAttemptRow? Last, int Attempts)> Waiting { get; private set; } = [];

    public IReadOnlyList<Objection> Objections { get; private set; } = [];

    [TempData]
    public string? Notice { get; set; }

    public string? TestObjection { get; private set; }

    public string? TestTo { get; private set; }

    public string Headline => Server is null ? "Mail is off."
        : Waiting.Count == 0 ? $"Mail goes through {Server.Host}."
        : $"{Text.Say.Capital(Text.Say.Count(Waiting.Count, "mail"))} waiting to be sent.";

    public async Task OnGet()
    {
        await Load();
        if (Server is { IsStandIn: false } server)
        {
            Form = new(server.Host, server.Port, server.Security, server.User, null, server.Sender, server.CloseTo, server.ReceiptTo);
        }
    }

    [Does(ActKind.ChangeMailServer)]
    public async Task<IActionResult> OnPost()
    {
        Objections = (await office.Save(Form, Me.From(User))).Objections;
        if (Objections.Count > 0)
        {
            return await Again();
        }

        Notice = string.IsNullOrWhiteSpace(Form.Host)
            ? "Mail is switched off. Closes are kept in the folder."
            : "The mail server is saved. Send a test mail to try it.";
        return Redirect("/mail");
    }

    [Does(ActKind.ChangeMailServer)]
    public async Task<IActionResult> OnPostTest(string? to)
    {
        TestTo = Files.Text.CardNumbers.Contains(to) ? null : to;
        TestObjection =
            await office.Post(to, "A test mail from Fondo", "This mail tests the mail server. Nothing needs to be done.", "test mail");
        if (TestObjection is not null)
        {
            await OnGet();
            return Page();
        }

        Notice = $"The mail server took the test mail for {to}.";
        return Redirect("/mail");
    }

    [Does(ActKind.ChangeMailServer)]
    public async Task<IActionResult> OnPostNow()
    {
        await office.SendWaiting(isAll: true);
        return Redirect("/mail");
    }

    protected override async Task<IActionResult> Again()
    {
        await Load();
        return Page();
    }

    /// <summary>A moment in the store's zone.</summary>
    public string At(DateTimeOffset at) =>
        TimeZoneInfo.ConvertTime(at, _zone).ToString("d MMM HH:mm", System.Globalization.CultureInfo.InvariantCulture);

    private TimeZoneInfo _zone = TimeZoneInfo.Utc;

    private async Task Load() => (Server, Waiting, _zone) =
        (await office.Server(), await office.Waiting(), (await setups.Now())?.Setup.TimeZone ?? TimeZoneInfo.Utc);
}
