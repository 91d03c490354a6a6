using Fondo.Core.Amounts;
using Fondo.Core.Days;
using Fondo.Core.Entries;
using Fondo.Core.SetUp;
using Fondo.Store.Days;
using Fondo.Web.Hosting;
using Fondo.Web.Text;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace Fondo.Web.Pages.Day;

/// <summary>What earlier days carried here, what met it, what still waits and for whom; the holds of today; and what goes on to the next
/// day.</summary>
[Authorize(Policies.Read)]
public sealed class CarriedModel(DayStore days, Resolving resolving, TimeProvider clock) : DayPage(days)
{
    /// <summary>One thing that is carried.</summary>
    /// <param name="Met">What met it today; null while it waits.</param>
    public sealed record Line(string Key, string What, Money Amount, string From, Ownership? Owned, string? Met, Entry? Ended, bool IsHold);

    protected override string Place => "resolve";

    public IReadOnlyList<Line> Lines { get; private set; } = [];

    /// <summary>What earlier days carried here and nobody owns yet.</summary>
    public IReadOnlyList<Line> Unowned => [.. Lines.Where(l => l is { Met: null, Ended: null, Owned: null })];

    public IReadOnlyList<Line> Holds { get; private set; } = [];

    public Core.Days.Carried Next { get; private set; } = Core.Days.Carried.Nothing;

    public DateTimeOffset Now => clock.GetUtcNow();

    public string? Objection { get; private set; }

    /// <summary>The key of the item of which a form did not go through, and what was typed.</summary>
    public (string Key, string? Reason)? Typed { get; private set; }

    public bool MayAct => MySelf.May(Right.Supervise) && !View.IsClosed;

    public IEnumerable<Person> Owners =>
        Setup.People.Where(p => p.May(Right.Supervise)).Concat(Setup.People.Where(p => !p.May(Right.Supervise)));

    public string DefaultUntil => EntryForm.Local(clock.GetUtcNow() + Setup.Policy.DisputeTime, Setup);

    public void OnGet() => Load();

    /// <param name="all">Everything that nobody owns is carried on alike.</param>
    [Does(ActKind.CarryItem)]
    public async Task<IActionResult> OnPost(Guid form, string key, EntryKind kind, string? owner, string? until, ClaimParty party,
        bool toStore, string? reason, bool all)
    {
        Load();
        kind = all ? EntryKind.Carry : kind;
        var deadline = EntryForm.TimeOf(until, Setup);
        EntryDetail? detail = kind switch
        {
            EntryKind.Carry when deadline is { } at => new EntryDetail.Awaited(new(owner ?? ""), at, AwaitedProof.LaterBatch),
            EntryKind.Claim when deadline is { } at => new EntryDetail.Owed(party, toStore, new(owner ?? ""), at),
            _ => null,
        };
        Objection = kind is EntryKind.Carry or EntryKind.Claim && detail is null ? "Type the deadline as a date and a time."
            : (await resolving.Add(Date, form,
                [.. (all ? Unowned.Select(l => l.Key) : [key]).Select(k => new Proposal(kind, [], detail, reason ?? "", [k]))],
                MySelf)).Objection;
        if (Objection is null)
        {
            Notice = kind switch
            {
                EntryKind.Carry => "The item is carried and has an owner.",
                EntryKind.Claim => "It is claimed.",
                _ => "The entry is made. A second person must approve it."
            };
            return Redirect($"/{Setup.TradingDay}/carried");
        }

        Typed = (key, Fondo.Files.Text.CardNumbers.Contains(reason) ? "" : reason);
        await Reload();
        Load();
        return Page();
    }

    /// <summary>How long it is carried already, and how long it may be still.</summary>
    public string Age(Line line) => line.Owned is not { } owned ? "no owner yet"
        : owned.Deadline <= Now ? $"overdue since {Say.Moment(owned.Deadline, Setup)}" : $"until {Say.Moment(owned.Deadline, Setup)}";

    private void Load()
    {
        var (result, entries) = (View.Reconciliation, View.Entries);
        var open = Carrying.Open(result, entries).ToDictionary(c => c.Key);
        var owners = Carrying.Owners(entries);
        var met = result.Matches.SelectMany(m => m.Journal.Concat(m.Rows).Where(i => i.CarriedFrom is not null)
            .Select(i => (Carried: i, Other: m.Journal.Concat(m.Rows).First(o => o.Row is null != i.Row is null))))
            .DistinctBy(m => m.Carried.Key).ToDictionary(m => m.Carried.Key, m => m.Other);
        var carried = result.Day.Carried;
        Line Of(string key, string what, Money amount, TradingDay from, Ownership? owned, bool isHold) => new(
            key, what, amount, from.ToString(), open.TryGetValue(key, out var still) ? still.Owned : owned,
            met.TryGetValue(key,
                out var other) ? $"{(other.Row is null ? "rung" : "settled")} {Say.Moment(other.At, Setup)} with {Amount(other.Amount)}"
            : open.ContainsKey(key) ? null
            : "recalled today", open.GetValueOrDefault(key)?.Ended, isHold);
        Lines =
        [
            .. carried.Journal.Select(c => Of(c.Ticket.KeyOf(c.Place).ToString(),
                $"{Setup.NameOf(c.Tender.Type)} {(c.Ticket.IsRefund ? "refund" : "sale")} at {Setup.NameOf(c.Ticket.Register)}, "
                    + $"{Say.Moment(c.Ticket.At, Setup)}", c.Tender.Amount, c.Day, c.Owned, false)),
            .. carried.Rows.Select(c => Of(c.Row.Key.ToString(), $"settled on {c.Row.Key.Terminal}, {Say.Moment(c.Row.At, Setup)}",
                c.Row.Signed, c.Day, c.Owned, false)),
            .. carried.Holds.Select(c => Of(c.Hold.Id.Value,
                $"put on hold at {Setup.NameOf(c.Hold.Register)}, {Say.Moment(c.Hold.At, Setup)}", c.Hold.Total, c.Day, c.Owned, true)),
        ];
        Holds = [.. View.Overview.OpenHolds.Select(h => new Line(h.Id.Value,
            $"put on hold at {Setup.NameOf(h.Register)}, {Say.Time(h.At, Setup)}", h.Total, Setup.TradingDay.ToString(),
            owners.GetValueOrDefault(h.Id.Value), null, null, true))];
        Next = Carrying.Next(result, entries);
    }
}
