using System.Globalization;
using Fondo.Core.Amounts;
using Fondo.Core.Banking;
using Fondo.Core.Days;
using Fondo.Core.SetUp;
using Fondo.Store.Days;
using Fondo.Store.Mappings;
using Fondo.Store.People;
using Fondo.Store.Treasury;
using Fondo.Web.Hosting;
using Fondo.Web.Text;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace Fondo.Web.Pages.Day;

/// <summary>The bank: its lines of this day and what they pay, what is still on its way, and the statements.</summary>
[Authorize(Policies.Read)]
[BodyLimit(StatementIntake.MostBytes + (256 << 10))]
public sealed class BankModel(DayStore days, BankDesk desk, StatementBook book, PersonsFiles files, PinSignIn pins, PeopleRegister people)
    : DayPage(days)
{
    private const int StatementsShown = 20;

    /// <summary>So many lines are shown at once; the rest is a page further.</summary>
    public const int LinesShown = 200;

    protected override string Place => "safe";

    /// <param name="Match">What it pays; null where nothing was found.</param>
    /// <param name="Decision">What a person decided about it; null where the rules did.</param>
    public sealed record Line(BankLine Booked, string Says, string? Href, bool IsOff, BankMatch? Match, BankDecision? Decision);

    public BankDay Bank => View.Money.Bank;

    public string? Objection { get; private set; }

    public IReadOnlyList<ListedStatement> Statements { get; private set; } = [];

    /// <summary>Lines that are off come first.</summary>
    public IReadOnlyList<Line> Lines =>
        _lines ??= [.. AllLines().OrderBy(l => !l.IsOff).ThenBy(l => l.Booked.Booked).ThenBy(l => l.Booked.Key, StringComparer.Ordinal)];

    private IReadOnlyList<Line>? _lines;

    /// <summary>The page of lines that is shown, from 1.</summary>
    [BindProperty(SupportsGet = true, Name = "page-of-lines")]
    public int PageOfLines { get; set; } = 1;

    public IEnumerable<Line> Shown => Lines.Skip((Math.Max(1, PageOfLines) - 1) * LinesShown).Take(LinesShown);

    /// <summary>The line that is being matched by hand.</summary>
    public Line? Chosen { get; private set; }

    /// <summary>What the person typed as a reason, kept where it was refused.</summary>
    public string? Reason { get; private set; }

    public string? DecisionObjection { get; private set; }

    /// <summary>The statement that is being withdrawn.</summary>
    public ListedStatement? Withdrawn { get; private set; }

    public string? WithdrawalObjection { get; private set; }

    public IReadOnlyList<Person> Others { get; private set; } = [];

    public bool MayAct => MySelf.May(Right.Supervise) && !View.IsClosed;

    /// <summary>Whether what a processor owes is later than it usually comes.</summary>
    public bool IsLate(Funding funding) => funding.Due < Date;

    /// <summary>What is expected, or what nobody waits for any more.</summary>
    /// <param name="Cell">Where the missing amount is explained; null while it is expected.</param>
    public sealed record Expected(BankTarget Target, string Says, Money Amount, CellKey? Cell, BankDecision? Decision);

    /// <summary>The one about which a person is deciding.</summary>
    public Expected? Awaited { get; private set; }

    /// <summary>What persons no longer wait for.</summary>
    public IEnumerable<Expected> Ended =>
        BankDecision.EndedBy(View.Money.Decisions).Select(ExpectedOf).OfType<Expected>();

    /// <summary>Whether a person may stop waiting for it: an earlier day left it on its way.</summary>
    public bool MayStop(BankTarget target) => MayAct && Bank.IsOnItsWay(target);

    /// <summary>Whether a deposit is later than it usually comes.</summary>
    public bool IsLate(OpenDeposit deposit) => DueOf(deposit) < Date;

    public DateOnly DueOf(OpenDeposit deposit) =>
        BankDays.After(deposit.Deposit.Day.Date, MoneyItem.DepositDays, Setup);

    public string NameOf(Funding funding) => Setup.Processors.FirstOrDefault(p => p.Id == funding.Processor)?.Name ?? funding.Processor;

    public string Headline => (Lines.Count, Lines.Count(l => l.IsOff)) switch
    {
        (0, _) => "No bank lines for this day yet.",
        (var all, 0) => $"{Say.Capital(Say.Count(all, "bank line"))}, all matched.",
        (_, 1) => "One bank line to resolve.",
        (_, var off) => $"{off.ToString(CultureInfo.InvariantCulture)} bank lines to resolve.",
    };

    /// <summary>What the chosen line may be matched to, the nearest in amount first.</summary>
    public IEnumerable<(BankTarget Target, string Says, Money Amount)> Targets
    {
        get
        {
            var amount = Chosen!.Booked.Amount;
            var orders = View.Money.Start.Orders.Concat(View.Money.Acts.Orders).ToList();
            var open = Bank.Targets(Chosen.Booked, orders);
            var deposits = Bank.Start.Deposits.Concat(Bank.End.Deposits)
                .Concat(Bank.Matches.OfType<BankMatch.WholeDeposit>().Select(m => m.Open)).DistinctBy(d => d.Deposit.Number)
                .Select(d => (BankTarget.Of(d.Deposit), $"Deposit {d.Deposit.Number}, bag {d.Deposit.Bag}, of {Short(d.Deposit.Day.Date)}",
                    d.Outstanding));
            var fundings = Bank.Start.Fundings.Concat(Bank.End.Fundings)
                .Concat(Bank.Matches.OfType<BankMatch.Funded>().SelectMany(m => m.Fundings)).DistinctBy(f => f.Key)
                .Select(f => (BankTarget.Of(f), $"{NameOf(f)}, batches of {Short(f.Day.Date)}", f.Expected));
            var changes = orders.DistinctBy(o => o.Number)
                .Select(o => (BankTarget.Of(o), $"Change order {o.Number} of {Short(o.Day.Date)}", -o.ToPay));
            var claims = Bank.Claims.Select(c =>
                (BankTarget.Of(c), $"{(c.Awaits is null ? "Claim" : "Carried")} of {Short(c.Day.Date)}: {c.Reason}", c.Amount));
            var credited = Bank.Credited.Select(d => (BankTarget.Of(d),
                $"Deposit {d.Number}, bag {d.Bag}, of {Short(d.Day.Date)}, credited: this line takes it back", -d.Amount));
            return deposits.Concat(fundings).Concat(changes).Concat(claims).Concat(credited).Where(t => open.Contains(t.Item1))
                .OrderBy(t => (t.Item3 - amount).Abs());
        }
    }

    public Task OnGet(string? line, string? withdraw, string? expected) => Load(line, withdraw, expected);

    [Does(ActKind.BringStatement)]
    public async Task<IActionResult> OnPost(IFormFile? statement)
    {
        if (statement is null)
        {
            Objection = "Choose a file.";
        }
        else
        {
            var name = Path.GetFileName(statement.FileName) is { Length: > 0 and <= 120 } own && !Files.Text.CardNumbers.Contains(own)
                ? own
                : "the statement";
            var taken = await files.BringStatement(new(name, statement.OpenReadStream), MySelf.Id);
            if (taken.Waits is not null)
            {
                return Redirect($"/{Setup.TradingDay}/take-in#held");
            }

            Objection = taken.Objection;
            Notice = taken.Objection is not null ? null
                : taken.Statements == 0 ? "Every line of this statement was imported before. Nothing changed."
                : ImportedSays(taken);
        }

        if (Objection is null)
        {
            return Redirect($"/{Setup.TradingDay}/bank");
        }

        await Reload();
        await Load(null, null);
        return Page();
    }

    /// <summary>Matches a line by hand, takes its match away, or lets the rules decide.</summary>
    [Does(ActKind.MatchBankLine)]
    public async Task<IActionResult> OnPostDecide(Guid form, BankDecisionKind kind, string line, string? target, string? reason)
    {
        var outcome = kind is BankDecisionKind.Match or BankDecisionKind.Last && BankTarget.Parse(target) is null
            ? Store.Outcome.Refused("Choose what this line pays.")
            : await desk.Decide(Date, form, kind, line, BankTarget.Parse(target), reason, MySelf);
        if (outcome.IsDone)
        {
            Notice = kind switch
            {
                BankDecisionKind.Match or BankDecisionKind.Last => "The line is matched.",
                BankDecisionKind.Part => "The line is unmatched.",
                _ => "The rules decide about this line again."
            };
            return Redirect($"/{Setup.TradingDay}/bank");
        }

        (DecisionObjection, Reason) = (outcome.Objection, Files.Text.CardNumbers.Contains(reason) ? null : reason);
        await Reload();
        await Load(line, null);
        return Page();
    }

    /// <summary>Stops waiting for a deposit or a funding, or expects it again.</summary>
    [Does(ActKind.MatchBankLine)]
    public async Task<IActionResult> OnPostExpect(Guid form, string? target, bool again, string? reason)
    {
        var outcome = BankTarget.Parse(target) is not { Kind: BankTargetKind.Deposit or BankTargetKind.Funding } wanted
            ? Store.Outcome.Refused("Choose a deposit or what a processor owes.")
            : await desk.Expect(Date, form, wanted, again, reason, MySelf);
        if (outcome.IsDone)
        {
            Notice = again ? "It is expected from the bank again." : "Nothing more is expected. Explain the missing amount.";
            return Redirect($"/{Setup.TradingDay}/bank");
        }

        (DecisionObjection, Reason) = (outcome.Objection, Files.Text.CardNumbers.Contains(reason) ? null : reason);
        await Reload();
        await Load(null, null, target);
        return Page();
    }

    [Does(ActKind.WithdrawStatement)]
    public async Task<IActionResult> OnPostWithdraw(string statement, string? reason, string? witness)
    {
        var (second, objection) = await pins.ProveChosen(witness, Request.Form["witness-pin"], MySelf.Id);
        var outcome = objection is not null
            ? Store.Outcome.Refused(objection)
            : await desk.Withdraw(statement, reason, MySelf, second?.ToPerson());
        if (outcome.IsDone)
        {
            Notice = "The statement is withdrawn. Its lines no longer count.";
            return Redirect($"/{Setup.TradingDay}/bank");
        }

        (WithdrawalObjection, Reason) = (outcome.Objection, Files.Text.CardNumbers.Contains(reason) ? null : reason);
        await Reload();
        await Load(null, statement);
        return Page();
    }

    private static string ImportedSays(BankDesk.Taken taken) =>
        $"{Say.Capital(Say.Count(taken.Statements, "statement"))} with {Say.Count(taken.Lines, "new line")} imported."
        + (taken.Known == 0 ? "" : $" {Say.Capital(Say.Count(taken.Known, "line"))} {(taken.Known == 1 ? "was" : "were")} here already.");

    private Expected? ExpectedOf(BankTarget target)
    {
        var decision = View.Money.Decisions.LastOrDefault(d => d.Line.Length == 0 && d.Target == target);
        var cell = decision?.Kind == BankDecisionKind.NothingMore ? Bank.CellOf(target) : null;
        return Bank.Start.Deposits.Where(d => BankTarget.Of(d.Deposit) == target)
            .Select(d => new Expected(target, $"Deposit {d.Deposit.Number}, bag {d.Deposit.Bag}, of {Short(d.Deposit.Day.Date)}",
                d.Outstanding, cell, decision))
            .Concat(Bank.Start.Fundings.Where(f => BankTarget.Of(f) == target)
                .Select(f => new Expected(target, $"{NameOf(f)}, batches of {Short(f.Day.Date)}", f.Expected, cell, decision)))
            .FirstOrDefault();
    }

    private IEnumerable<Line> AllLines()
    {
        var decisions = View.Money.Decisions.Where(d => d.Line.Length > 0).GroupBy(d => d.Line, StringComparer.Ordinal)
            .ToDictionary(g => g.Key, g => g.Last(), StringComparer.Ordinal);
        return Bank.Matches.SelectMany(m => m.Lines.Select(l => (Line: l, Match: (BankMatch?)m)))
            .Concat(Bank.Open.Select(l => (Line: l, Match: (BankMatch?)null)))
            .Select(l =>
                Of(l.Line, l.Match, decisions.GetValueOrDefault(l.Line.Key) is { Kind: not BankDecisionKind.Release } own ? own : null));
    }

    private Line Of(BankLine line, BankMatch? match, BankDecision? decision)
    {
        Line Known(string says, string? href = null) => new(line, says, href, false, match, decision);
        return match switch
        {
            BankMatch.DepositPart part => Known(
                $"part of deposit {part.Open.Deposit.Number}; {Amount(part.Open.Outstanding - part.Booked)} still in transit",
                $"/{Setup.TradingDay}/deposit/{part.Open.Deposit.Number}"),
            BankMatch.WholeDeposit whole => Compared(line, match, decision, whole.Cell,
                $"deposit {whole.Open.Deposit.Number}, bag {whole.Open.Deposit.Bag}"),
            BankMatch.Reversed reversed => Known($"takes back the credit of deposit {reversed.Deposit.Number}, which is in transit again",
                $"/{Setup.TradingDay}/deposit/{reversed.Deposit.Number}"),
            BankMatch.FundingPart part =>
                Known(
                    $"part of what {NameOf(part.Funding)} owes for {Short(part.Funding.Day.Date)}; "
                        + $"{Amount(part.Funding.Expected - part.Booked)} still to come"),
            BankMatch.Funded funded => Compared(
                line, match, decision, funded.Cell,
                $"{NameOf(funded.Fundings[0])}, for {string.Join(" and ", funded.Fundings.Select(f => Short(f.Day.Date)))}"),
            BankMatch.Transfer transfer =>
                Known(
                    $"transfer {(line.Amount.Sign < 0 ? "to" : "from")} {AccountOf(transfer.Lines.First(l => l.Account != line.Account))}"),
            BankMatch.Claimed { Claim: var claim } => Known(
                $"{(claim.Awaits is null ? "the claim" : "what was carried")} of {Short(claim.Day.Date)}: {claim.Reason}",
                $"/{Setup.TradingDay}/money"),
            BankMatch.Change change => Known($"change order {change.Order.Number}", $"/{Setup.TradingDay}/change"),
            BankMatch.Fees fees =>
                Known($"fees billed by {Setup.Processors.FirstOrDefault(p => p.Id == fees.Owed.Processor)?.Name ?? fees.Owed.Processor}"),
            _ => Compared(line, match, decision, new CellKey.BankLine(line.Key), "not matched"),
        };
    }

    private Line Compared(BankLine line, BankMatch? match, BankDecision? decision, CellKey key, string says)
    {
        var bridge = View.Bridges.GetValueOrDefault(key);
        var isOff = bridge is { IsUnresolved: true } && bridge.Cell.State == Core.Cells.CellState.Off;
        var state = bridge is null || bridge.Cell.State != Core.Cells.CellState.Off ? says
            : isOff ? match is null ? says : $"{says}: {Say.Variance(bridge.Left ?? Money.Zero, Setup.Currency)}"
            : match is null ? "explained by an entry" : $"{says}; the difference is explained";
        return new(line, state, CellModel.Href(Setup.TradingDay, key), isOff, match, decision);
    }

    /// <summary>The account of a line, as people call it.</summary>
    public string AccountOf(BankLine line) => Setup.BankAccounts.FirstOrDefault(a => a.Number == line.Account)?.Name ?? line.Account ?? "";

    private static string Short(DateOnly date) => date.ToString("d MMM", CultureInfo.InvariantCulture);

    private async Task Load(string? line, string? withdraw, string? expected = null)
    {
        _lines = null;
        Statements = await book.Latest(StatementsShown);
        Chosen = MayAct && line is not null ? Lines.FirstOrDefault(l => l.Booked.Key == line) : null;
        Awaited = MayAct && BankTarget.Parse(expected) is { } target ? ExpectedOf(target) : null;
        Withdrawn = MySelf.May(Right.Supervise) && withdraw is not null ? Statements.FirstOrDefault(s => s.Statement.Id == withdraw) : null;
        Others = Withdrawn is null ? [] : [.. (await people.All()).Where(p => p.Id != MySelf.Id && p.May(Right.Supervise))];
    }
}
