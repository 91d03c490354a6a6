using Fondo.Core.Cells;
using Fondo.Core.Custody;
using Fondo.Core.Days;
using Fondo.Core.Entries;
using Fondo.Core.Journal;
using Fondo.Core.SetUp;
using Fondo.Core.Sheets;

namespace Fondo.Core.Banking;

/// <summary>Where the money of earlier days is when a trading day begins.</summary>
public sealed record MoneyStart(CustodyStart Custody, BankStart Bank)
{
    public static readonly MoneyStart Unknown = new(CustodyStart.Unknown, BankStart.Nothing);

    /// <summary>What somebody owes, or is owed, since an earlier day.</summary>
    public ImmutableArray<OpenClaim> Claims { get; init; } = [];

    /// <summary>Change that is ordered or paid, and not delivered.</summary>
    public ImmutableArray<OpenOrder> Orders { get; init; } = [];

    /// <summary>What was changed on earlier, closed days and is posted on this one (rules §12).</summary>
    public ImmutableArray<Correction> Corrections { get; init; } = [];
}

/// <summary>What another revision of a closed day changed, after days behind it were closed: it is posted in the earliest open
/// day.</summary>
/// <param name="Close">The number of the close that corrects.</param>
/// <param name="Day">The day that was corrected.</param>
/// <param name="Sums">What it adds to the books.</param>
public sealed record Correction(int Close, TradingDay Day, ImmutableArray<CorrectedSum> Sums);

/// <param name="Amount">Debits are positive, credits negative.</param>
public readonly record struct CorrectedSum(string Account, RegisterId? Register, string What, Money Amount);

/// <summary>The store's money through one trading day, outside of its registers: safe, bags, floats, deposits, bank, processors.</summary>
/// <param name="Settled">What the day leaves with its processors.</param>
public sealed record MoneyDay(CustodyDay Custody, CustodyActs Acts, BankDay Bank, ImmutableArray<Funding> Settled)
{
    /// <summary>What is beside the registers' cells. An entry on something that is not there any more keeps its cell, so that nothing it
    /// moved is lost.</summary>
    public IEnumerable<Cell> Cells => Custody.Cells.Concat(Bank.Cells).Concat(Touched);

    /// <summary>What the day began with.</summary>
    public MoneyStart Start { get; init; } = MoneyStart.Unknown;

    /// <summary>The claims with which the day begins, and those with which it ends.</summary>
    public ImmutableArray<OpenClaim> ClaimsBefore { get; init; } = [];

    public ImmutableArray<OpenClaim> Claims { get; init; } = [];

    public ImmutableArray<EndedClaim> ClaimsEnded { get; init; } = [];

    /// <summary>What persons decided about the bank's lines, in its order.</summary>
    public ImmutableArray<BankDecision> Decisions { get; init; } = [];

    /// <summary>Change orders with which the day ends.</summary>
    public ImmutableArray<OpenOrder> Orders { get; init; } = [];

    /// <summary>Corrections of earlier days that are posted on this one.</summary>
    public ImmutableArray<Correction> Corrections { get; init; } = [];

    /// <summary>Deposits of the weeks before, by which a later correction of the bank is recognised.</summary>
    public ImmutableArray<Deposit> Earlier { get; init; } = [];

    /// <summary>Card tenders of the weeks before whose amount a processor took back.</summary>
    public ImmutableArray<ChargeTakenBack> Charges { get; init; } = [];

    /// <summary>What may have happened at the places that are off.</summary>
    public ImmutableArray<Leads.Lead> Leads(Overview overview, IReadOnlyDictionary<CellKey, Bridge> cells) =>
        [.. PlaceLeads.Of(Custody, overview, cells), .. BankLeads.Of(Bank, Earlier, Claims, Charges, overview.Result.Day.Setup, cells)];

    /// <summary>Cells that are there only because entries name them.</summary>
    public ImmutableArray<Cell> Touched { get; init; } = [];

    public MoneyStart End => new(Custody.End, Bank.End) { Claims = Claims, Orders = Orders };

    /// <param name="settled">As <see cref="Funding.Of"/> says of the day.</param>
    /// <param name="lines">The bank's lines that are looked at on the day.</param>
    /// <param name="credited">Deposits that the bank credited in the weeks before.</param>
    /// <param name="decisions">What persons decided about the lines.</param>
    public static MoneyDay Of(Overview overview, FloatsBefore floats, IReadOnlyCollection<Entry> entries, MoneyStart start,
        CustodyActs acts, ImmutableArray<BankLine> lines, ImmutableArray<Funding> settled,
        IEnumerable<Deposit>? credited = null, IEnumerable<BankDecision>? decisions = null)
    {
        var setup = overview.Result.Day.Setup;
        var today = setup.TradingDay;
        var named = entries.Where(e => e.Stands(entries)).SelectMany(e => e.Evidence).ToHashSet(StringComparer.Ordinal);
        var explained = entries.Where(e => e.Stands(entries)).SelectMany(e => e.Postings).Select(p => p.Cell).OfType<CellKey.BankLine>()
            .Select(c => c.Line).ToHashSet(StringComparer.Ordinal);
        var day = new MoneyDay(
            CustodyDay.Of(overview, floats, entries, start.Custody, acts), acts,
            BankDay.Of(setup, start.Bank, lines, acts.Deposits.Where(d => d.IsSealedBy(today)),
                acts.Deposits.Where(d => d.Unsealed?.Day == today).Select(d => d.Number).ToHashSet(), settled,
                [.. start.Orders, .. acts.Orders], credited, decisions,
                start.Claims.Where(c => !named.Contains(c.Key)), explained),
            settled)
        { Start = start, Decisions = [.. decisions ?? []] };
        var givenUp = Carrying.Open(overview.Result, entries)
            .Where(c => c.Ended?.Detail is EntryDetail.Owed && Carrying.BookedAmount(c, overview.Result) is not null)
            .Select(c => (c.Ended!, Carrying.BookedAmount(c, overview.Result)!.Value));
        var (claims, ended) = Banking.Claims.After(start.Claims, entries, givenUp, Carrying.Sums(overview.Result, entries), today);
        claims = Banking.Claims.Paid(claims, day.Bank.Matches.OfType<BankMatch.Claimed>());
        day = day with { ClaimsBefore = start.Claims, Claims = claims, ClaimsEnded = ended, Corrections = start.Corrections };
        var debits = day.Bank.Matches.OfType<BankMatch.Change>().ToLookup(m => m.Order.Number, m => -m.Booked);
        day = day with { Orders = OpenOrder.After([.. start.Orders, .. acts.Orders], acts.Movements, n => debits[n].Sum(b => b)) };
        var there = day.Cells.Select(c => c.Key).ToHashSet();
        return day with
        {
            Touched = [.. entries.SelectMany(e => e.Postings).Select(p => p.Cell).Where(k => k.IsPlace && !there.Contains(k)).Distinct()
                .Order().Select(k => new Cell(k, Money.Zero, 0, Money.Zero, null, CellState.Proved))]
        };
    }
}
