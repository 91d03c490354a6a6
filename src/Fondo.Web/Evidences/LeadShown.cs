using System.Globalization;
using System.Security.Cryptography;
using System.Text;
using Fondo.Core.Entries;
using Fondo.Core.Evidence;
using Fondo.Core.Journal;
using Fondo.Core.Leads;
using Fondo.Core.SetUp;
using Fondo.Core.Sheets;
using Fondo.Store.Days;

namespace Fondo.Web.Evidences;

/// <summary>A lead as it is laid before a person: what it says, the things that it rests on, and the entry that it asks for.</summary>
/// <param name="Proposal">As the core would make it.</param>
/// <param name="NeedsApproval">Whether a second person would look at it.</param>
public sealed record LeadShown(Lead Lead, IReadOnlyList<Exhibit> Exhibits, Proposal Proposal, bool NeedsApproval, Setup Setup,
    Overview Overview)
{
    public static LeadShown Of(Lead lead, DayView view, Person me)
    {
        var proposal = lead.Proposal(view.Reconciliation, me.Id, lead.Says(view.Setup));
        return new(lead, view.Known.Once((nameof(Exhibit), lead), () => Exhibit.Of(lead, view.Overview)), proposal,
            EntryRules.NeedsApproval(proposal.Kind, proposal.Postings, view.Setup.Policy, view.Bridges), view.Setup, view.Overview);
    }

    /// <summary>Names a lead on a page: the same explanation has the same mark, another one another.</summary>
    public static string MarkOf(Lead lead)
    {
        var entry = lead.Entry.OrderBy(p => p.Cell).Select(p => string.Create(CultureInfo.InvariantCulture, $"{p.Cell}={p.Amount.Minor}"));
        var content = $"{lead.Kind.Written()}|{string.Join(' ', lead.Keys)}|{string.Join(' ', entry)}";
        return Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes(content)))[..20];
    }

    public string Mark => MarkOf(Lead);

    /// <summary>What the button does, as a verb.</summary>
    public string Verb => Proposal switch
    {
        { Kind: EntryKind.Reclassify } => "Reclassify it",
        { Detail: EntryDetail.Moved { What: MovementKind.Drop } } => "Record the drop",
        { Detail: EntryDetail.Moved { What: MovementKind.Void } } => "Record the void",
        { Detail: EntryDetail.Moved { What: MovementKind.Arrival } } => "It has come",
        { Kind: EntryKind.Record } => "Record it",
        { Kind: EntryKind.Recount } => "Correct the count",
        { Kind: EntryKind.Carry } => "Carry it",
        { Kind: EntryKind.Claim } => "Claim it",
        _ => "Accept it",
    };

    /// <summary>What its kind says besides, in words.</summary>
    public string? Says => Proposal.Detail is { } detail ? EntryText.Of(detail, Setup, id => Setup.NameOf(id)) : null;

    public IEnumerable<Exhibit.OfTender> Tenders => Exhibits.OfType<Exhibit.OfTender>();

    public IEnumerable<Exhibit.OfRow> Rows => Exhibits.OfType<Exhibit.OfRow>();

    public Exhibit.OfCount? Count => Exhibits.OfType<Exhibit.OfCount>().FirstOrDefault();

    public Exhibit.OfBag? Bag => Exhibits.OfType<Exhibit.OfBag>().FirstOrDefault();

    public IReadOnlyList<Exhibit.OfDrawer> Drawers => [.. Exhibits.OfType<Exhibit.OfDrawer>()];

    /// <summary>The drawer of the cell in question.</summary>
    public DrawerDay? OwnDrawer => Lead.Entry.Select(p => p.Cell.Drawer).OfType<DrawerId>()
        .Select(d => Overview.Drawers.FirstOrDefault(x => x.Session.Drawer == d))
        .FirstOrDefault(d => d is not null && (d.Session.Drawer == Lead.Cell.Drawer
            || (Lead.Cell.Drawer is null && Lead.Cell is not Core.Days.CellKey.Bag)));

    /// <summary>Ticket and settled row: as they were paired, or as the codes of a lone row name a tender that does not
    /// count.</summary>
    public (Exhibit.OfTender Tender, Exhibit.OfRow Row)? Pair =>
        (Tenders.ToList(), Rows.ToList()) switch
        {
            ([var tender], [var row]) => (tender, row),
            ([], [var row]) when Lead.Kind != LeadKind.ChargedTwice && Named(row) is { } named => (named, row),
            _ => null,
        };

    private Exhibit.OfTender? Named(Exhibit.OfRow row)
    {
        var card = row.Row.Card;
        bool Names(CardSlip? slip) => slip is not null
            && ((slip.Rrn is { } rrn && rrn == card.Rrn)
                || (slip.Approval is { } code && code == card.Approval && slip.LastFour == card.LastFour));
        var day = Overview.Result.Day;
        return day.Journal.OfType<Ticket>().Concat(day.Waiting)
            .SelectMany(t => Enumerable.Range(1, t.Tenders.Length).Where(p => Names(t.Tenders[p - 1].Card))
                .Select(p => new Exhibit.OfTender(new(t, p), null))).FirstOrDefault();
    }

    /// <summary>Of a card that was charged twice: the other charge, which has its tender.</summary>
    public Exhibit.OfRow? Twin => Lead.Kind == LeadKind.ChargedTwice && Rows.FirstOrDefault() is { } own
        ? Overview.Result.Matches.SelectMany(m => m.Rows)
            .Where(r => r.Row is { } row && row.Key != own.Row.Key && row.Key.Terminal == own.Row.Key.Terminal
                && row.Amount == own.Row.Amount && row.Card.LastFour == own.Row.Card.LastFour)
            .OrderBy(r => (r.At - own.Row.At).Duration()).Select(r => new Exhibit.OfRow(r.Row!, r.Cell, r.CarriedFrom)).FirstOrDefault()
        : null;
}
