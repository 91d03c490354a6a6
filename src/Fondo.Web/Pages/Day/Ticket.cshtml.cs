using Fondo.Core.Checks;
using Fondo.Core.Days;
using Fondo.Core.Journal;
using Fondo.Core.SetUp;
using Fondo.Store.Days;
using Fondo.Store.Model;
using Fondo.Store.Search;
using Fondo.Web.Hosting;
using Fondo.Web.Text;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

using EventId = Fondo.Core.Journal.EventId;

namespace Fondo.Web.Pages.Day;

/// <summary>One event as a receipt: its tenders, what settled them, what was found, what refers to it.</summary>
[Authorize(Policies.Read)]
public sealed class TicketModel(DayStore days, Referrals referrals, Mail.MailOffice mail) : DayPage(days)
{
    protected override string Place => "journal";

    public JournalEvent Event { get; private set; } = null!;

    public IReadOnlyList<TicketFinding> Findings { get; private set; } = [];

    public IReadOnlyList<EventRow> Referring { get; private set; } = [];

    public string? Objection { get; private set; }

    /// <summary>Null where no mail server is set up.</summary>
    public Mail.MailServer? MailServer { get; private set; }

    public EventOrigin? Origin { get; private set; }

    /// <summary>Where it counts, when that is not the day of its time.</summary>
    public string? Late =>
        Event.Head.LateFrom is { } from ? $"Rung after the close of {Say.LongDate(from)}. It counts here, in drawer {Event.Drawer}."
        : Event.Head.MovedTo is { } to ? $"Rung after the close. It was counted on {Say.LongDate(to)}."
        : View.Day.Waiting.Any(t =>
            t.Id == Event.Id) ? "Rung after a close. It counts nowhere until the register opens its next session."
        : Event is Ticket ticket && new Standing(View.Day)
            .IsAfterClose(ticket) ? "Rung after its drawer was closed. It counts in the register’s next session."
        : null;

    public EventId? Original => EventOriginal.Of(Event);

    public string? OriginalHref { get; private set; }

    public bool IsVoided => Referring.Any(r => r.Kind == EventKind.Void);

    public DateOnly LocalDate => DateOnly.FromDateTime(TimeZoneInfo.ConvertTime(Event.At, Setup.TimeZone).DateTime);

    public string Headline => Event is Ticket t
        ? $"{(t.Kind == EventKind.Sale ? "A sale" : "A refund")} of {Amount(t.Total.Abs())}{(IsVoided ? ", voided" : "")}"
        : $"{Capital(Say.Event(Event.Kind))} at {Setup.NameOf(Event.Register)}";

    public async Task<IActionResult> OnGet(string key) => await Load(key) ? Page() : NotFound();

    [Does(ActKind.MailDocument)]
    public async Task<IActionResult> OnPost(string key, string? to)
    {
        if (!await Load(key))
        {
            return NotFound();
        }

        Objection = await mail.Post(to, $"{Setup.Store}: {Say.Event(Event.Kind)} {Event.Id}", ReceiptText.Of(Event, Setup),
            $"receipt of {Event.Id}", copy: MailServer?.ReceiptTo);
        if (Objection is not null)
        {
            return Page();
        }

        Notice = $"Sent to {to}.";
        return RedirectToPage();
    }

    /// <summary>For each tender, what settled it, or that nothing did yet.</summary>
    public IEnumerable<(string Tender, string Says, string? Href)> Proofs
    {
        get
        {
            var ticket = (Ticket)Event;
            for (var place = 1; place <= ticket.Tenders.Length; place++)
            {
                var tender = ticket.Tenders[place - 1];
                var name = $"{Setup.NameOf(tender.Type)} {Amount(tender.Amount)}";
                if (!tender.Counts)
                {
                    yield return (name, tender.Result == TenderResult.Declined
                        ? "declined, so it should not settle"
                        : "reversed, so it should not settle", null);
                    continue;
                }

                yield return (name, Proof(ticket.KeyOf(place).ToString(), tender, ticket), CellOf(tender, ticket));
            }
        }
    }

    private string Proof(string key, Tender tender, Ticket ticket)
    {
        if (View.Reconciliation.Matches.FirstOrDefault(m => m.Journal.Any(j => j.Key == key)) is { } match)
        {
            return $"settled as {string.Join(", ", match.Rows.Select(r => r.Key))}, "
                + $"{Say.Of(match.Rule)}{(match.Difference.IsZero ? "" : $", {Signed(match.Difference)} apart")}";
        }

        return View.Reconciliation.OpenItems.FirstOrDefault(o => o.Item.Key == key) is { } open ? Say.Of(open.Cause)
            : Setup.Find(tender.Type)?.Proof switch
            {
                ProofKind.Count => $"counted in drawer {ticket.Drawer}",
                ProofKind.Ledger => "proved against the store’s own books",
                _ => "not settled yet",
            };
    }

    private string? CellOf(Tender tender, Ticket ticket)
    {
        var counted = Setup.Find(tender.Type)?.Proof == ProofKind.Count;
        var key = new CellKey.Takings(ticket.Register, counted ? ticket.Drawer : null, tender.Type);
        return View.Bridges.ContainsKey(key) ? CellModel.Href(Setup.TradingDay, key) : null;
    }

    private async Task<bool> Load(string key)
    {
        if (Named(key) is not { } found)
        {
            // It may have come this moment.
            await Reload();
            if ((found = Named(key)) is null)
            {
                return false;
            }
        }

        (Event, MailServer) = (found, await mail.Server());
        Findings = [.. View.Reconciliation.TicketFindings.Where(f => f.Ticket == found.Id)];
        (Referring, Origin) = (await referrals.To(key), await referrals.OriginOf(key));
        OriginalHref = Original is { } original && await referrals.DayOf(original.Value) is { } day
            ? $"/{new TradingDay(day)}/ticket/{original}"
            : null;
        return true;
    }

    private JournalEvent? Named(string key) =>
        View.Day.Journal.FirstOrDefault(e => e.Id.Value == key) ?? View.Day.Waiting.FirstOrDefault(t => t.Id.Value == key);

    private static string Capital(string text) => char.ToUpperInvariant(text[0]) + text[1..];
}
