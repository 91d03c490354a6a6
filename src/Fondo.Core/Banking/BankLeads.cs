using System.Globalization;
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
                    .Select(i => new Explanation(i.Kind, effects, [], i.Says, i.Weight,
                        i.Kind == LeadKind.CountSlip ? new LeadRemedy.Accept() : new LeadRemedy.Record(MovementKind.Sale))))));
        }

        return leads.ToImmutable();
    }

    /// <summary>What was claimed is paid, or what was carried has come.</summary>
    private static Explanation Pays(OpenClaim claim, ImmutableArray<Posting> effects)
    {
        var day = claim.Day.Date.ToString("d MMM", CultureInfo.InvariantCulture);
        return claim.Awaits is null
            ? new(LeadKind.ClaimPaid, effects, [claim.Key], $"It pays the claim of {day}: {claim.Reason}", Claim,
                new LeadRemedy.Claim(ShortIsOwed: false))
            : new(LeadKind.EarlierDay, effects, [claim.Key], $"This was carried on {day}: {claim.Reason}", Claim,
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

    private static IEnumerable<(LeadKind Kind, string Says, double Weight)> Ideas(BankDay bank, Dictionary<string, BankLine> open,
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
            return OfFunding(match, setup, left);
        }

        if (key is not CellKey.BankLine { Line: var name } || !open.TryGetValue(name, out var line))
        {
            return [];
        }

        var text = BankText.Of(line.Text);
        return earlier.Where(d => text.Names(BankText.Of(d.Bag))).SelectMany(d => OfDeposit(d, setup, left, NamedDeposit))
            .Concat(setup.Processors.Where(p => left.Sign < 0 && line.Names(p.Reference))
                .Select(p => (LeadKind.Subset,
                    $"{p.Name} took {setup.Currency.Say(left.Abs())} back: a charge that a customer disputes, or an adjustment.", Fee / 3)))
            .Concat(charges.Where(c => c.Line == line.Key)
                .Select(c => (LeadKind.Subset, OfCharge(c, setup, left), Fee / charges.Count(o => o.Line == line.Key))));
    }

    private static string OfCharge(ChargeTakenBack charge, Setup setup, Money left) =>
        $"It reverses the {setup.NameOf(charge.Tender).ToLowerInvariant()} sale of {setup.Currency.Say(left.Abs())} at "
            + $"{setup.NameOf(charge.Register)} on "
            + $"{TimeZoneInfo.ConvertTime(charge.At, setup.TimeZone).ToString("d MMM, HH:mm", CultureInfo.InvariantCulture)}"
                    + $"{(charge.LastFour is { } last ? $", card ending {last}" : "")}, ticket {charge.Ticket}. The customer disputes it.";

    /// <summary>So many pieces of one denomination, of which the deposit had some: missing, or too many.</summary>
    private static IEnumerable<(LeadKind Kind, string Says, double Weight)> OfDeposit(Deposit deposit, Setup setup, Money left,
        double weight)
    {
        var people = $"Bag {deposit.Bag} was packed by {setup.NameOf(deposit.By)} and {setup.NameOf(deposit.Witness)}";
        foreach (var piece in deposit.Pieces.Where(p => left.Minor % p.Denomination.Minor == 0 && (left.Sign > 0 || p.Worth >= left.Abs())))
        {
            var (number, kind) =
                (Math.Abs(left.Minor / piece.Denomination.Minor), setup.Denominations.FirstOrDefault(d => d.Worth == piece.Denomination));
            if (number <= 3)
            {
                var pack = kind?.Pack is { } size && piece.Number >= size ? kind.IsNote ? " in a strap" : " in a roll" : "";
                yield return (LeadKind.CountSlip,
                    $"{people}: {number.ToString(CultureInfo.InvariantCulture)} × {setup.Currency.Say(piece.Denomination)} "
                        + $"{(left.Sign < 0 ? "too few" : "too many")}{pack}, of {piece.Number.ToString(CultureInfo.InvariantCulture)}.",
                    weight * (number == 1 ? OnePiece : FewPieces / number));
            }
        }

        foreach (var check in deposit.Checks.Where(c => c.Amount == left.Abs() && left.Sign < 0))
        {
            yield return (LeadKind.Subset,
                $"{people}: check {check.Number} of {setup.Currency.Say(check.Amount)} was not credited, or came back.", weight * OneItem);
        }
    }

    private static IEnumerable<(LeadKind Kind, string Says, double Weight)> OfFunding(BankMatch.Funded match, Setup setup, Money left)
    {
        var processor = setup.Processors.FirstOrDefault(p => p.Id == match.Fundings[0].Processor);
        var (gross, fee) = (match.Fundings.Sum(f => f.Gross), match.Fundings.Sum(f => f.Fee));
        var number = match.Fundings.Sum(f => f.Number);
        if (match.Booked == gross && !fee.IsZero)
        {
            yield return (LeadKind.Subset,
                $"{processor?.Name ?? match.Fundings[0].Processor} paid the full {setup.Currency.Say(gross)} and kept no fee.", Fee);
        }
        else if (gross.Sign > 0 && left.Sign < 0 && left.Abs() <= gross.Times(0.02m))
        {
            var kept = fee - left;
            yield return (LeadKind.Subset,
                $"Fees of {setup.Currency.Say(kept)} were kept, {setup.Currency.Say(fee)} were expected on "
                    + $"{number.ToString(CultureInfo.InvariantCulture)} items: "
                    + $"{((decimal)kept.Minor / gross.Minor * 100).ToString("0.00", CultureInfo.InvariantCulture)} % instead of "
                            + $"{((decimal)fee.Minor / gross.Minor * 100).ToString("0.00", CultureInfo.InvariantCulture)} %.", Fee / 3);
        }

        if (!left.IsZero && match.Lines is [{ Number: { } said }, ..] && said != number)
        {
            yield return (LeadKind.Subset,
                $"The bank line covers {said.ToString(CultureInfo.InvariantCulture)} items, but "
                    + $"{number.ToString(CultureInfo.InvariantCulture)} were settled.", OneItem);
        }
    }
}
