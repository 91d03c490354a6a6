using Fondo.Core.Cells;
using Fondo.Core.Custody;
using Fondo.Core.Days;
using Fondo.Core.Entries;
using Fondo.Core.Leads;
using Fondo.Core.SetUp;

namespace Fondo.Core.Banking;

/// <summary>Why the bank says otherwise than the store: the people and the pieces behind a deposit, the day and the fee behind a funding
/// (rules §6).</summary>
public static class BankLeads
{
    private const double NamedDeposit = 60, OnePiece = 8, FewPieces = 3, Fee = 30, OneItem = 12, Claim = 20;

    /// <param name="claims">What somebody owes, or is owed.</param>
    /// <param name="charges">Card tenders that a line may take back.</param>
    /// <param name="earlier">Deposits that the bank credited before, and may correct now.</param>
    public static ImmutableArray<Lead> Of(BankDay bank, IReadOnlyCollection<Deposit> earlier, IReadOnlyCollection<OpenClaim> claims,
        IReadOnlyCollection<ChargeTakenBack> charges, Setup setup, IReadOnlyDictionary<CellKey, Bridge> cells)
    {
        var leads = ImmutableArray.CreateBuilder<Lead>();
        var open = bank.Open.ToDictionary(l => l.Key, StringComparer.Ordinal);
        foreach (var bridge in bank.Cells.Select(c => cells[c.Key]).Where(b => b.IsUnresolved && b.ToExplain is { IsZero: false }))
        {
            var (key, left) = (bridge.Cell.Key, bridge.ToExplain!.Value);
            ImmutableArray<Posting> effects = [new(key, left)];
            leads.AddRange(PlaceWeighing.Leads(key, left, claims.Where(c => c.Amount == left).Select(c => Pays(c, effects))
                .Concat(Ideas(bank, open, earlier, charges, setup, key, left)
                    .Select(i => new Explanation(i.Kind, effects, [], i.Fact, i.Weight,
                        i.Kind == LeadKind.CountSlip ? new LeadRemedy.Accept() : new LeadRemedy.Record(MovementKind.Sale))))));
        }

        return leads.ToImmutable();
    }

    /// <summary>What was claimed is paid, or what was carried has come.</summary>
    private static Explanation Pays(OpenClaim claim, ImmutableArray<Posting> effects)
    {
        return claim.Awaits is null
            ? new(LeadKind.ClaimPaid, effects, [claim.Key], new BankFact.ClaimPaid(claim), Claim, new LeadRemedy.Claim(ShortIsOwed: false))
            : new(LeadKind.EarlierDay, effects, [claim.Key], new BankFact.SumArrived(claim), Claim,
                new LeadRemedy.Record(MovementKind.Arrival));
    }

    /// <summary>Sums that were carried, where a register's cell is off by exactly one of them: its batch or its ticket may have
    /// come.</summary>
    public static ImmutableArray<Lead> OfSums(IReadOnlyCollection<OpenClaim> claims, IEnumerable<Bridge> cells) =>
    [
        .. from sum in claims.Where(c => c.Awaits is not null)
           from bridge in cells.Where(b => b.IsUnresolved && !b.Cell.Key.IsPlace && b.ToExplain == sum.Amount)
           from lead in PlaceWeighing.Leads(bridge.Cell.Key, sum.Amount, [Pays(sum, [new(bridge.Cell.Key, sum.Amount)])])
           select lead,
    ];

    private static IEnumerable<(LeadKind Kind, LeadFact Fact, double Weight)> Ideas(BankDay bank, Dictionary<string, BankLine> open,
        IReadOnlyCollection<Deposit> earlier, IReadOnlyCollection<ChargeTakenBack> charges, Setup setup, CellKey key, Money left)
    {
        if (key is CellKey.Deposit { Number: var number })
        {
            var whole = bank.Matches.OfType<BankMatch.WholeDeposit>().First(m => m.Open.Deposit.Number == number);
            return OfDeposit(whole.Open.Deposit, setup, left, 1);
        }

        if (key is CellKey.Funding)
        {
            var match = bank.Matches.OfType<BankMatch.Funded>().First(m => m.Cell == key);
            return OfFunding(match, left);
        }

        if (key is not CellKey.BankLine { Line: var name } || !open.TryGetValue(name, out var line))
        {
            return [];
        }

        var text = BankText.Of(line.Text);
        return earlier.Where(d => text.Names(BankText.Of(d.Bag))).SelectMany(d => OfDeposit(d, setup, left, NamedDeposit))
            .Concat(setup.Processors.Where(p => left.Sign < 0 && line.Names(p.Reference))
                .Select(p => (LeadKind.Subset, (LeadFact)new BankFact.TakenBackByProcessor(p, left.Abs()), Fee / 3)))
            .Concat(charges.Where(c => c.Line == line.Key)
                .Select(c => (LeadKind.Subset, (LeadFact)new BankFact.ChargeReversed(c, left.Abs()),
                    Fee / charges.Count(o => o.Line == line.Key))));
    }

    /// <summary>So many pieces of one denomination, of which the deposit had some: missing, or too many.</summary>
    private static IEnumerable<(LeadKind Kind, LeadFact Fact, double Weight)> OfDeposit(Deposit deposit, Setup setup, Money left,
        double weight)
    {
        foreach (var piece in deposit.Pieces.Where(p => left.Minor % p.Denomination.Minor == 0 && (left.Sign > 0 || p.Worth >= left.Abs())))
        {
            var (number, kind) =
                (Math.Abs(left.Minor / piece.Denomination.Minor), setup.Denominations.FirstOrDefault(d => d.Worth == piece.Denomination));
            if (number <= 3)
            {
                yield return (LeadKind.CountSlip,
                    new BankFact.DepositPieces(deposit, piece, number, left.Sign < 0, kind, kind?.Pack is { } size && piece.Number >= size),
                    weight * (number == 1 ? OnePiece : FewPieces / number));
            }
        }

        foreach (var check in deposit.Checks.Where(c => c.Amount == left.Abs() && left.Sign < 0))
        {
            yield return (LeadKind.Subset, new BankFact.CheckNotCredited(deposit, check), weight * OneItem);
        }
    }

    private static IEnumerable<(LeadKind Kind, LeadFact Fact, double Weight)> OfFunding(BankMatch.Funded match, Money left)
    {
        var (gross, fee) = (match.Fundings.Sum(f => f.Gross), match.Fundings.Sum(f => f.Fee));
        var number = match.Fundings.Sum(f => f.Number);
        if (match.Booked == gross && !fee.IsZero)
        {
            yield return (LeadKind.Subset, new BankFact.PaidWithoutFee(match.Fundings[0].Processor, gross), Fee);
        }
        else if (gross.Sign > 0 && left.Sign < 0 && left.Abs() <= gross.Times(0.02m))
        {
            yield return (LeadKind.Subset, new BankFact.OtherFee(fee - left, fee, number, gross), Fee / 3);
        }

        if (!left.IsZero && match.Lines is [{ Number: { } said }, ..] && said != number)
        {
            yield return (LeadKind.Subset, new BankFact.OtherNumber(said, number), OneItem);
        }
    }
}
