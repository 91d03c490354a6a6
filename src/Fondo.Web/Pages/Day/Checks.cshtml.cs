using Fondo.Core.Amounts;
using Fondo.Core.Checks;
using Fondo.Core.Entries;
using Fondo.Core.Journal;
using Fondo.Core.SetUp;
using Fondo.Core.Sheets;
using Fondo.Store.Days;
using Fondo.Web.Hosting;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

using Ticket = Fondo.Core.Journal.Ticket;

namespace Fondo.Web.Pages.Day;

/// <summary>The day's sheets of benefits and of the price programme, and what the ticket checks found: each opened to its arithmetic, seen
/// and answered.</summary>
[Authorize(Policies.Read)]
public sealed class ChecksModel(DayStore days, ClosingDesk desk) : DayPage(days)
{
    /// <summary>A finding as it is laid before a person.</summary>
    /// <param name="Answer">What was said of it last; null while nobody has seen it.</param>
    public sealed record Line(TicketFinding Finding, JournalEvent? Event, Answer? Answer)
    {
        public Ticket? Ticket => Event as Ticket;

        public string Key => $"{Finding.Ticket}/{Finding.Code.Written()}/{Finding.Amount.Minor}";
    }

    protected override string Place => "resolve";

    public IReadOnlyList<Line> Lines { get; private set; } = [];

    public BenefitSheet Benefits { get; private set; } = null!;

    public ProgrammeSheet Programme { get; private set; } = null!;

    public string? Objection { get; private set; }

    /// <summary>What was typed and not taken, by the key of its finding.</summary>
    public IReadOnlyDictionary<string, (Remedy Remedy, string Reason)> Typed { get; private set; } =
        new Dictionary<string, (Remedy, string)>();

    public bool MayAnswer => MySelf.May(Right.Supervise) && !View.IsClosed;

    public IEnumerable<Line> Unseen => Lines.Where(l => l.Answer is null && l.Finding.Code != FindingCode.HoldLeftOpen);

    public IEnumerable<Line> Seen => Lines.Where(l => l.Answer is not null || l.Finding.Code == FindingCode.HoldLeftOpen);

    public PriceProgramme PriceProgramme => Setup.Policy.PriceProgramme;

    /// <summary>The reason that lies ready.</summary>
    public string ReasonFor(Line line) =>
        $"{Setup.NameOf(line.Event?.Register)}: {line.Finding.Code.Words()}; {Text.Say.Of(Answer.Usual(line.Finding.Code))}";

    public IReadOnlyList<EligibleLine> EligibleLines(Ticket ticket) =>
        Eligible.Lines(ticket, ticket.Tenders.Where(t => t.Counts && t.Type == TenderId.EbtFood).Sum(t => t.Net), Setup.Policy.BenefitTax);

    public void OnGet() => Load();

    [Does(ActKind.AnswerCheck)]
    public async Task<IActionResult> OnPost(List<string> key, List<Remedy> remedy, List<string?> reason)
    {
        Load();
        var typed = key.Select((k, i) => (Key: k, Remedy: remedy.ElementAtOrDefault(i), Reason: reason.ElementAtOrDefault(i) ?? ""))
            .DistinctBy(t => t.Key).ToList();
        var lines = Lines.ToDictionary(l => l.Key);
        if (typed.Count == 0 || typed.FirstOrDefault(t => !lines.ContainsKey(t.Key)) is { Key: not null })
        {
            Objection = "This finding has changed. Nothing was saved. Look at it again.";
        }
        else
        {
            Objection = (await desk.Answer(Date, [.. typed.Select(t => new ProposedAnswer(lines[t.Key].Finding, t.Remedy, t.Reason))],
                MySelf)).Objection;
        }

        if (Objection is null)
        {
            Notice = typed.Count == 1 ? "The answer is saved." : $"{typed.Count} findings seen and answered.";
            return Redirect($"/{Setup.TradingDay}/checks");
        }

        Typed = typed.Where(t => !Fondo.Files.Text.CardNumbers.Contains(t.Reason)).ToDictionary(t => t.Key, t => (t.Remedy, t.Reason));
        await Reload();
        Load();
        return Page();
    }

    private void Load()
    {
        var result = View.Reconciliation;
        var named = result.TicketFindings.Select(f => f.Ticket).ToHashSet();
        var events = result.Day.Journal.Where(e => named.Contains(e.Id)).DistinctBy(e => e.Id).ToDictionary(e => e.Id);
        var answers = View.Decisions.Answers.GroupBy(a => a.Finding).ToDictionary(g => g.Key, g => g.MaxBy(a => a.At));
        Lines = [.. result.TicketFindings.Select(f => new Line(f, events.GetValueOrDefault(f.Ticket), answers.GetValueOrDefault(f)))
            .OrderBy(l => l.Event?.At).ThenBy(l => l.Key, StringComparer.Ordinal)];
        (Benefits, Programme) = (BenefitSheet.Of(result), ProgrammeSheet.Of(result));
    }
}
