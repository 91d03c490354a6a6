using Fondo.Core.Amounts;
using Fondo.Core.Banking;
using Fondo.Core.Days;
using Fondo.Core.SetUp;
using Fondo.Store.Days;
using Fondo.Store.Treasury;
using Fondo.Web.Hosting;
using Fondo.Web.Text;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace Fondo.Web.Pages.Day;

/// <summary>The bank: its lines of this day and what they were found to be, what is still on its way, and statements taken in.</summary>
[Authorize(Policies.Read)]
[BodyLimit(StatementIntake.MostBytes + (256 << 10))]
public sealed class BankModel(DayStore days, BankDesk desk, StatementIntake intake) : DayPage(days)
{
    private const int StatementsShown = 20;

    protected override string Place => "safe";

    public sealed record Line(BankLine Booked, string Says, string? Href, bool IsOff);

    public BankDay Bank => View.Money.Bank;

    public string? Objection { get; private set; }

    public IReadOnlyList<BankStatement> Statements { get; private set; } = [];

    public IEnumerable<Line> Lines => Bank.Matches.SelectMany(m => m.Lines.Select(l => (Line: l, Match: (BankMatch?)m))).Concat(Bank.Open.Select(l => (Line: l, Match: (BankMatch?)null)))
        .OrderBy(l => l.Line.Booked).ThenBy(l => l.Line.Key, StringComparer.Ordinal).Select(l => Of(l.Line, l.Match));

    /// <summary>Whether what a processor owes is later than it usually comes.</summary>
    public bool IsLate(Funding funding) => funding.Due < Date;

    public string NameOf(Funding funding) => Setup.Processors.FirstOrDefault(p => p.Id == funding.Processor)?.Name ?? funding.Processor;

    public Task OnGet() => Load();

    public async Task<IActionResult> OnPost(IFormFile? statement)
    {
        if (!MySelf.May(Right.Supervise))
        {
            return Forbid();
        }

        if (statement is null)
        {
            Objection = "Choose a file.";
        }
        else
        {
            var name = Path.GetFileName(statement.FileName) is { Length: > 0 and <= 120 } own && !Files.Text.CardNumbers.Contains(own) ? own : "the statement";
            var (taken, _) = await intake.Take(name, statement.OpenReadStream(), MySelf.Id.Value);
            Objection = taken.Objection;
            Notice = taken.Objection is not null ? null : taken.Statements == 0 ? "This statement is here already; nothing was changed." : $"{Say.Capital(Say.Count(taken.Statements, "statement"))} with {Say.Count(taken.Lines, "line")}: taken in.";
        }

        if (Objection is null)
        {
            return Redirect($"/{Setup.TradingDay}/bank");
        }

        await Reload();
        await Load();
        return Page();
    }

    private Line Of(BankLine line, BankMatch? match) => match switch
    {
        BankMatch.DepositPart part => new(line, $"a part of deposit {part.Open.Deposit.Number}; {Amount(part.Open.Outstanding - part.Booked)} are still on their way", $"/{Setup.TradingDay}/deposit/{part.Open.Deposit.Number}", false),
        BankMatch.WholeDeposit whole => Shown(line, Places.OfDeposit(whole.Open.Deposit.Number), $"deposit {whole.Open.Deposit.Number}, bag {whole.Open.Deposit.Bag}"),
        BankMatch.Funded funded => Shown(line, Places.OfFunding(BankDay.KeyOf(funded)), $"{NameOf(funded.Fundings[0])}, for {string.Join(" and ", funded.Fundings.Select(f => f.Day.Date.ToString("d MMM", System.Globalization.CultureInfo.InvariantCulture)))}"),
        BankMatch.Fees fees => new(line, $"fees that {Setup.Processors.FirstOrDefault(p => p.Id == fees.Owed.Processor)?.Name ?? fees.Owed.Processor} bills", null, false),
        _ => Shown(line, Places.OfBankLine(line.Key), "nothing of the store’s"),
    };

    private Line Shown(BankLine line, CellKey key, string says) => View.Bridges.GetValueOrDefault(key) is { } bridge && bridge.Cell.State == Core.Cells.CellState.Off
        ? new(line, bridge.IsUnresolved ? $"{says}: {Say.Variance(bridge.Left ?? Money.Zero, Setup.Currency)}" : $"{says}; the difference is explained", CellModel.Href(Setup.TradingDay, key), bridge.IsUnresolved)
        : new(line, says, CellModel.Href(Setup.TradingDay, key), false);

    private async Task Load() => Statements = await desk.Latest(StatementsShown);
}
