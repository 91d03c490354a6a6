using Fondo.Core.Amounts;
using Fondo.Core.Checks;
using Fondo.Core.Journal;
using Fondo.Core.SetUp;
using Fondo.Core.Sheets;
using Fondo.Store.Days;
using Fondo.Web.Hosting;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.WebUtilities;

using EventId = Fondo.Core.Journal.EventId;

namespace Fondo.Web.Pages.Day;

/// <summary>Which events of a day somebody wants to see.</summary>
public sealed record JournalAsked(string? Register, string? Cashier, string? Kind, string? Tender, string? Least, string? Most, bool Note,
    bool Finding)
{
    public bool IsWhole => this is
    {
        Register: null or "", Cashier: null or "", Kind: null or "", Tender: null or "", Least: null or "",
        Most: null or "", Note: false, Finding: false
    };
}

/// <summary>Everything that the registers said of a day, in order of time.</summary>
[Authorize(Policies.Read)]
public sealed class JournalModel(DayStore days) : DayPage(days)
{
    private const int PageLength = 200;

    protected override string Place => "journal";

    public JournalAsked Asked { get; private set; } = null!;

    public IReadOnlyList<JournalEvent> All { get; private set; } = [];

    public IReadOnlyList<JournalEvent> Shown { get; private set; } = [];

    public ILookup<EventId, TicketFinding> Findings { get; private set; } = null!;

    public ILookup<EventId, Disagreement> Otherwise { get; private set; } = null!;

    public int Number { get; private set; }

    public int Pages => (All.Count + PageLength - 1) / PageLength;

    public string? Objection { get; private set; }

    public IEnumerable<PersonId> Cashiers => View.Day.Journal.Where(e => e.Head.Cashier is not null).Select(e => e.Head.Cashier!.Value)
        .Distinct().OrderBy(c => Setup.NameOf(c), StringComparer.Ordinal);

    public IEnumerable<TenderId> Tenders =>
        Setup.Tenders.Select(t => t.Id).Where(t => View.Reconciliation.Cells.Any(c => c.Key.OfTender == t));

    public void OnGet([FromQuery] JournalAsked asked, int number = 1)
    {
        Asked = asked;
        Findings = View.Reconciliation.TicketFindings.ToLookup(f => f.Ticket);
        Otherwise = View.Overview.Disagreements.ToLookup(d => d.Event.Id);
        var (least, most) = (Typed(asked.Least), Typed(asked.Most));
        All = [.. View.Day.Journal.Where(e => Fits(e, least, most)).OrderBy(e => e.At).ThenBy(e => e.Id.Value, StringComparer.Ordinal)];
        Number = Math.Clamp(number, 1, Math.Max(1, Pages));
        Shown = [.. All.Skip((Number - 1) * PageLength).Take(PageLength)];
    }

    public string Link(int number) => QueryHelpers.AddQueryString($"/{Setup.TradingDay}/journal",
        Request.Query.Where(q => q.Key != "number").ToDictionary(q => q.Key, q => (string?)q.Value.ToString())
            .Append(new("number", $"{number}")));

    internal static string Remark(JournalEvent e) => e switch
    {
        Ticket { Note: { Length: > 0 } note } => $"“{note}”",
        CashMovement { Bag: { } bag } => $"bag {bag}",
        CashMovement { Reason: { } reason } => reason,
        _ => EventOriginal.Of(e) is { } original ? $"of {original}" : "",
    };

    internal string TendersOf(JournalEvent e) => e is Ticket t
        ? string.Join(", ", t.Tenders.Select(x =>
            Setup.NameOf(x.Type).ToLowerInvariant() + (x.Counts ? "" : $" ({x.Result.ToString().ToLowerInvariant()})")))
        : "";

    private Money? Typed(string? amount)
    {
        if (string.IsNullOrWhiteSpace(amount))
        {
            return null;
        }

        var typed = TypedAmount.Read(amount, Setup.Currency);
        Objection ??= typed is null ? $"“{amount}” is not an amount; type it like {Setup.Currency.Typed(new(1293))}." : null;
        return typed;
    }

    private bool Fits(JournalEvent e, Money? least, Money? most) =>
        (string.IsNullOrEmpty(Asked.Register) || e.Register.Value == Asked.Register)
        && (string.IsNullOrEmpty(Asked.Cashier) || e.Head.Cashier?.Value == Asked.Cashier)
        && (string.IsNullOrEmpty(Asked.Kind) || e.Kind.Written() == Asked.Kind)
        && (string.IsNullOrEmpty(Asked.Tender) || (e is Ticket t && t.Tenders.Any(x => x.Type.Value == Asked.Tender)))
        && (least is null || EventAmount.Of(e)?.Abs() >= least)
        && (most is null || EventAmount.Of(e)?.Abs() <= most)
        && (!Asked.Note || e is Ticket { Note.Length: > 0 })
        && (!Asked.Finding || Findings.Contains(e.Id) || Otherwise.Contains(e.Id));
}
