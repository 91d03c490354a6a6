using Fondo.Core.Days;
using Fondo.Core.Journal;
using Fondo.Core.Matching;
using Fondo.Core.SetUp;
using Fondo.Store.Days;
using Fondo.Web.Hosting;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace Fondo.Web.Pages.Day;

/// <summary>Journal and batch side by side, gathered to what is open or paired otherwise than one for one: pair, part, release.</summary>
[Authorize(Policies.Read)]
public sealed class PairingModel(DayStore days, PairingDesk desk) : DayPage(days)
{
    /// <summary>More lines than this nobody looks through.</summary>
    private const int Most = 200;

    /// <summary>One item of a side.</summary>
    /// <param name="Match">The match that it is in; null while it is open.</param>
    public sealed record Line(Item Item, Match? Match, OpenItem? Open);

    protected override string Place => "resolve";

    /// <summary>A register's id; null or empty: all.</summary>
    [BindProperty(SupportsGet = true)]
    public string? Register { get; set; }

    public IReadOnlyList<Line> Journal { get; private set; } = [];

    public IReadOnlyList<Line> Rows { get; private set; } = [];

    public int Hidden { get; private set; }

    public Guid Form { get; private set; } = Guid.NewGuid();

    public string? Objection { get; private set; }

    public string? Reason { get; private set; }

    public IReadOnlyCollection<string> Chosen { get; private set; } = [];

    public bool MayPair => MySelf.May(Right.Supervise) && !View.IsClosed;

    /// <summary>What was said, the last word first.</summary>
    public IEnumerable<Pairing> Said => View.Day.Pairings.Reverse();

    public void OnGet() => Load();

    /// <param name="what">pair, part or release.</param>
    [Does(ActKind.PairRows)]
    public async Task<IActionResult> OnPost(Guid form, PairingKind what, List<string> item, string? reason)
    {
        (Chosen, Objection) = (item, (await desk.Say(Date, form, what, item, reason, MySelf)).Objection);
        if (Objection is null)
        {
            Notice = what switch
            {
                PairingKind.Pair => "The items are matched.",
                PairingKind.Part => "The items are unmatched.",
                _ => "The items are left to the rules again."
            };
            return Redirect($"/{Setup.TradingDay}/pairing?register={Uri.EscapeDataString(Register ?? "")}");
        }

        Reason = Fondo.Files.Text.CardNumbers.Contains(reason) ? "" : reason;
        await Reload();
        Load();
        return Page();
    }

    /// <summary>What is remarkable about a pair of which an item changed since a person tied it.</summary>
    public string? Changed(Match match)
    {
        if (match.Rule != MatchRule.ByHand
            || View.Day.Pairings.LastOrDefault(p => p.Kind == PairingKind.Pair && p.Keys.Contains(match.Journal[0].Key)) is not { } said)
        {
            return null;
        }

        var now = match.Journal.Concat(match.Rows).ToDictionary(i => i.Key, i => i.Amount);
        return said.Journal.Concat(said.Rows).Zip(said.Seen).Where(s => now.TryGetValue(s.First, out var amount) && amount != s.Second)
            .Select(s => $"one of them was {Amount(s.Second)} when it was matched, and is {Amount(now[s.First])} now").FirstOrDefault();
    }

    public string CellOf(Item item) => $"{Setup.NameOf(item.Cell.Register)}, {Setup.NameOf(item.Cell.Tender).ToLowerInvariant()}";

    public static string Card(Item item) =>
        $"{item.Card.Brand}{(item.Card.LastFour is { } last ? $" …{last}" : "")}{(item.Card.Approval is { } code ? $" · {code}" : "")}"
            .Trim();

    private void Load()
    {
        var result = View.Reconciliation;
        RegisterId? only = string.IsNullOrEmpty(Register) ? null : new(Register);
        var shown = View.Overview.Unlike.Where(m => only is null || m.Journal.Concat(m.Rows).Any(i => i.Cell.Register == only)).ToList();
        var open = result.OpenItems.Where(o => only is null || o.Item.Cell.Register == only).ToList();
        var journal = shown.SelectMany(m => m.Journal.Select(i => new Line(i, m, null)))
            .Concat(open.Where(o => o.Side == OpenIn.Journal).Select(o => new Line(o.Item, null, o))).OrderBy(l => l.Item.At)
            .ThenBy(l => l.Item).ToList();
        var rows = shown.SelectMany(m => m.Rows.Select(i => new Line(i, m, null)))
            .Concat(open.Where(o => o.Side == OpenIn.Batch).Select(o => new Line(o.Item, null, o))).OrderBy(l => l.Item.At)
            .ThenBy(l => l.Item).ToList();
        Hidden = Math.Max(0, journal.Count - Most) + Math.Max(0, rows.Count - Most);
        (Journal, Rows) = ([.. journal.Take(Most)], [.. rows.Take(Most)]);
    }
}
