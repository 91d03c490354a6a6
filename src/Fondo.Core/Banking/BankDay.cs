using Fondo.Core.Cells;
using Fondo.Core.Custody;
using Fondo.Core.Days;

namespace Fondo.Core.Banking;

/// <summary>A deposit on its way, and what the bank has credited of it so far.</summary>
public sealed record OpenDeposit(Deposit Deposit, Money Credited)
{
    public Money Outstanding => Deposit.Amount - Credited;
}

/// <summary>What is on its way to the bank when a trading day begins.</summary>
/// <param name="Fees">What processors that bill their fees apart will bill, by processor.</param>
public sealed record BankStart(ImmutableArray<OpenDeposit> Deposits, ImmutableArray<Funding> Fundings, ImmutableArray<OwedFee> Fees)
{
    public static readonly BankStart Nothing = new([], [], []);
}

public sealed record OwedFee(string Processor, Money Amount);

/// <summary>What bank lines were found to be.</summary>
public abstract record BankMatch(ImmutableArray<BankLine> Lines)
{
    /// <summary>What the bank booked.</summary>
    public Money Booked => Lines.Sum(l => l.Amount);

    /// <summary>A part of a deposit: the rest is expected still.</summary>
    public sealed record DepositPart(OpenDeposit Open, ImmutableArray<BankLine> Lines) : BankMatch(Lines);

    /// <summary>The last of a deposit; a difference is a cell of its own.</summary>
    public sealed record WholeDeposit(OpenDeposit Open, ImmutableArray<BankLine> Lines) : BankMatch(Lines)
    {
        public Money Difference => Booked - Open.Outstanding;

        /// <summary>The cell in which it is compared.</summary>
        public CellKey Cell => new CellKey.Deposit(Open.Deposit.Number);
    }

    /// <summary>One line that gathers what a processor owes for one or several days.</summary>
    public sealed record Funded(ImmutableArray<Funding> Fundings, ImmutableArray<BankLine> Lines) : BankMatch(Lines)
    {
        public Money Difference => Booked - Fundings.Sum(f => f.Expected);

        /// <summary>The cell in which it is compared.</summary>
        public CellKey Cell => new CellKey.Funding(Fundings[0].Processor, Fundings[0].Day, Fundings.Length - 1);
    }

    /// <summary>A part of what a processor owes for one day: the rest is expected still.</summary>
    public sealed record FundingPart(Funding Funding, ImmutableArray<BankLine> Lines) : BankMatch(Lines);

    /// <summary>A credit that the bank took back: its deposit is on its way again.</summary>
    public sealed record Reversed(Deposit Deposit, ImmutableArray<BankLine> Lines) : BankMatch(Lines);

    /// <summary>What was claimed on an earlier day, or carried to a line of the bank.</summary>
    public sealed record Claimed(OpenClaim Claim, ImmutableArray<BankLine> Lines) : BankMatch(Lines);

    /// <summary>What the bank debited for a change order.</summary>
    public sealed record Change(OpenOrder Order, ImmutableArray<BankLine> Lines) : BankMatch(Lines);

    /// <summary>Money that went from one account of the store to another: a line on each.</summary>
    public sealed record Transfer(ImmutableArray<BankLine> Lines) : BankMatch(Lines);

    /// <summary>Fees that a processor bills apart.</summary>
    public sealed record Fees(OwedFee Owed, ImmutableArray<BankLine> Lines) : BankMatch(Lines);
}

/// <summary>The bank through one trading day: its lines, and what they were found to be.</summary>
/// <param name="Cells">Deposits and fundings whose amount differs, lines that nothing explains.</param>
/// <param name="End">What is on its way when the day ends; sealed and settled today included.</param>
public sealed record BankDay(BankStart Start, ImmutableArray<BankLine> Lines, ImmutableArray<BankMatch> Matches,
    ImmutableArray<BankLine> Open, ImmutableArray<Cell> Cells, BankStart End)
{
    /// <param name="sealed">The deposits that were sealed on the day and stand.</param>
    /// <param name="unsealed">The numbers of deposits that were opened again.</param>
    /// <param name="settled">What the day leaves with its processors.</param>
    /// <param name="orders">Change that is not paid yet.</param>
    /// <param name="credited">Deposits that the bank credited in the weeks before.</param>
    /// <param name="decisions">What persons decided about the lines, in its order.</param>
    /// <param name="claims">What somebody owes or is owed since an earlier day, and no entry ends.</param>
    /// <param name="explained">The keys of lines that an entry explains already.</param>
    public static BankDay Of(
        SetUp.Setup setup, BankStart start, ImmutableArray<BankLine> lines, IEnumerable<Deposit> @sealed, IReadOnlySet<int> unsealed,
        IEnumerable<Funding> settled, IEnumerable<OpenOrder>? orders = null,
        IEnumerable<Deposit>? credited = null, IEnumerable<BankDecision>? decisions = null, IEnumerable<OpenClaim>? claims = null,
        IReadOnlySet<string>? explained = null)
    {
        var deposits = start.Deposits.Where(d => !unsealed.Contains(d.Deposit.Number))
            .Concat(@sealed.Select(d => new OpenDeposit(d, Money.Zero))).DistinctBy(d => d.Deposit.Number).ToList();
        // A day that is closed late may see its own payment come.
        var fundings = start.Fundings.Concat(settled.Where(f => !f.Gross.IsZero || !f.Fee.IsZero)).DistinctBy(f => f.Key)
            .ToImmutableArray();
        var work = new BankWork(lines, [.. deposits], fundings, start.Fees)
        {
            Orders = [.. orders ?? []],
            Credited = [.. credited ?? []],
            Decisions = [.. decisions ?? []],
            Claims = [.. claims ?? []],
            Explained = explained ?? new HashSet<string>()
        }.Split(setup);
        lines = work.Lines;
        var matching = new BankMatching(setup, work);
        var matches = matching.Find();
        var cells = new List<Cell>();
        foreach (var match in matches)
        {
            switch (match)
            {
                case BankMatch.WholeDeposit whole:
                    cells.Add(new(whole.Cell, whole.Open.Outstanding, 1, whole.Booked, null,
                        whole.Difference.IsZero ? CellState.Proved : CellState.Off));
                    break;
                case BankMatch.Funded funded:
                    // The bank's number of items is of its own transactions, not of cards: it proves nothing.
                    cells.Add(new(
                        funded.Cell, funded.Fundings.Sum(f => f.Expected), funded.Fundings.Sum(f => f.Number),
                        funded.Booked, null,
                        funded.Difference.IsZero ? CellState.Proved : CellState.Off));
                    break;
            }
        }

        cells.AddRange(matching.Left.Select(l =>
            new Cell(new CellKey.BankLine(l.Key), Money.Zero, 0, l.Amount, null, l.Amount.IsZero ? CellState.Proved : CellState.Off)));
        var done = matches.OfType<BankMatch.WholeDeposit>().Select(m => m.Open.Deposit.Number).ToHashSet();
        var parts = matches.OfType<BankMatch.DepositPart>().ToLookup(m => m.Open.Deposit.Number, m => m.Booked);
        var back = matches.OfType<BankMatch.Reversed>().GroupBy(m => m.Deposit.Number)
            .Select(g => new OpenDeposit(g.First().Deposit, g.First().Deposit.Amount + g.Sum(m => m.Booked)));
        var paidInPart = matches.OfType<BankMatch.FundingPart>().ToDictionary(m => m.Funding.Key, m => m.Booked, StringComparer.Ordinal);
        var paid = matches.OfType<BankMatch.Funded>().SelectMany(m => m.Fundings).ToList();
        var keys = paid.Select(f => f.Key).ToHashSet(StringComparer.Ordinal);
        var billed = matches.OfType<BankMatch.Fees>().ToLookup(m => m.Owed.Processor, m => -m.Booked);
        var fees = start.Fees.Concat(paid.Where(f => !f.IsNet && !f.Fee.IsZero).Select(f => new OwedFee(f.Processor, f.Fee)))
            .GroupBy(f => f.Processor, StringComparer.Ordinal)
            .Select(g => new OwedFee(g.Key, g.Sum(f => f.Amount) - billed[g.Key].Sum(b => b))).Where(f => !f.Amount.IsZero);
        return new(
            start, lines, matches, matching.Left, [.. cells.OrderBy(c => c.Key)],
            new(
                [.. deposits.Concat(back).Where(d => !done.Contains(d.Deposit.Number))
                    .Select(d => d with { Credited = d.Credited + parts[d.Deposit.Number].Sum(b => b) }).OrderBy(d => d.Deposit.Number)],
                [.. fundings.Where(f => !keys.Contains(f.Key)).Select(f => paidInPart.TryGetValue(f.Key, out var part) ? f.After(part) : f)
                    .OrderBy(f => f.Day).ThenBy(f => f.Processor, StringComparer.Ordinal)],
                [.. fees.OrderBy(f => f.Processor, StringComparer.Ordinal)]))
        { Claims = work.Claims, Credited = [.. work.Credited.Where(c => !deposits.Exists(d => d.Deposit.Number == c.Number))] };
    }

    /// <summary>Deposits that the bank credited in the weeks before: a line may take one back.</summary>
    public ImmutableArray<Deposit> Credited { get; init; } = [];

    /// <summary>Claims that a line may pay.</summary>
    public ImmutableArray<OpenClaim> Claims { get; init; } = [];

    /// <summary>What a line may be matched to by hand: what was on its way in the morning, what left today, what was sealed or settled
    /// today, claims of its side, and what a debit may take back.</summary>
    public IReadOnlySet<BankTarget> Targets(BankLine line, IEnumerable<OpenOrder> orders) =>
        End.Deposits.Concat(Start.Deposits).Select(d => BankTarget.Of(d.Deposit))
            .Concat(Matches.OfType<BankMatch.WholeDeposit>().Select(m => BankTarget.Of(m.Open.Deposit)))
            .Concat(End.Fundings.Concat(Start.Fundings).Concat(Matches.OfType<BankMatch.Funded>().SelectMany(m => m.Fundings))
                .Select(BankTarget.Of))
            .Concat(orders.Where(o => o.ToPay.Sign > 0).Select(BankTarget.Of))
            .Concat(Claims.Where(c => c.Amount.Sign == line.Amount.Sign).Select(BankTarget.Of))
            .Concat(line.Amount.Sign < 0 ? Credited.Select(BankTarget.Of) : []).ToHashSet();

    /// <summary>Whether an earlier day left a deposit or a funding on its way, and it still is.</summary>
    public bool IsOnItsWay(BankTarget target) =>
        Start.Deposits.Any(d => BankTarget.Of(d.Deposit) == target && End.Deposits.Any(e => e.Deposit.Number == d.Deposit.Number))
            || Start.Fundings.Any(f => BankTarget.Of(f) == target && End.Fundings.Any(e => e.Key == f.Key));

    /// <summary>The cell in which what a deposit or a funding brought is compared; null where it is compared in none.</summary>
    public CellKey? CellOf(BankTarget target) => Matches.Select(m => m switch
    {
        BankMatch.WholeDeposit whole when BankTarget.Of(whole.Open.Deposit) == target => whole.Cell,
        BankMatch.Funded funded when funded.Fundings.Any(f => BankTarget.Of(f) == target) => funded.Cell,
        _ => null,
    }).FirstOrDefault(k => k is not null);
}
