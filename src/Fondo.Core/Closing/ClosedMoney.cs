using Fondo.Core.Banking;
using Fondo.Core.Books;
using Fondo.Core.Custody;
using Fondo.Core.Journal;
using Fondo.Core.Proof;
using Fondo.Core.SetUp;

namespace Fondo.Core.Closing;

/// <summary>Where the store's money was when a day was closed: what moved the safe, and with what the next day begins.</summary>
/// <param name="Loose">Cash in the safe outside of sealed bags; null where nobody ever counted it.</param>
public sealed record ClosedMoney(
    ImmutableArray<ClosedSafeLine> Safe, string? Expected, string? Counted, ImmutableArray<ClosedCell> Cells, string? Loose, string Moved,
    ImmutableArray<ClosedPieces> Pieces,
    ImmutableArray<ClosedBag> Bags, ImmutableArray<ClosedHeldCheck> Checks, ImmutableArray<ClosedFloat> Floats,
    ImmutableArray<ClosedDeposit> Sealed, ImmutableArray<ClosedBankLine> Bank,
    ImmutableArray<ClosedOpenDeposit> OpenDeposits, ImmutableArray<ClosedFunding> OpenFundings, ImmutableArray<ClosedOwedFee> Fees)
{
    /// <summary>Everything that is on its way, each on its account.</summary>
    public ImmutableArray<ClosedMoneyItem> Items { get; init; } = [];

    /// <summary>Change that is ordered or paid, and not delivered; none in documents of before it was followed.</summary>
    public ImmutableArray<ClosedOrder> Orders { get; init; } = [];

    /// <summary>Claims without an end; none in documents of before they were followed.</summary>
    public ImmutableArray<ClosedClaim> Claims { get; init; } = [];

    public static ClosedMoney Of(MoneyDay money, IEnumerable<MoneyItem> items, Setup setup, Func<PersonId, string> nameOf,
        IEnumerable<ClosedCell> cells)
    {
        string Text(Money amount) => setup.Currency.Format(amount);
        var (end, bank) = (money.Custody.End, money.Bank.End);
        var uses = new Uses(setup);
        return new(
            [.. money.Custody.Lines.Select(l => new ClosedSafeLine(l.Kind.Written(), l.Source, Text(l.Amount), l.At, l.By?.Value))],
            money.Custody.Expected is { } expected ? Text(expected) : null, money.Custody.Count is { } count ? Text(count.Cash) : null,
            [.. cells],
            end.Loose is { } loose ? Text(loose) : null, Text(end.Moved),
            [.. end.Pieces.Select(p => new ClosedPieces(Text(p.Denomination), p.Number))],
            [.. end.Bags.Select(b => new ClosedBag(b.Name, b.Day.ToString(), Text(b.Amount)))],
            [.. end.Checks.Select(c => new ClosedHeldCheck(c.Day.ToString(), c.Drawer.Value, c.Number, Text(c.Amount), c.Place))],
            [.. money.Custody.Floats.Select(f => new ClosedFloat(f.Register.Value, Text(f.Amount)))],
            [.. money.Acts.Deposits.Where(d => d.IsSealedBy(setup.TradingDay)).Select(d => new ClosedDeposit(
                d.Number, d.Bag, Text(d.Cash), Text(d.CheckAmount), d.By.Value, nameOf(d.By), d.Witness.Value, nameOf(d.Witness), d.At,
                [.. d.Pieces.Select(p => new ClosedPieces(Text(p.Denomination), p.Number))],
                [.. d.Checks.Select(c => new ClosedCheck(c.Number, Text(c.Amount), null))]))],
            [.. money.Bank.Lines.Select(l => new ClosedBankLine(l.Key, l.Booked, Text(l.Amount), l.Text) { Account = l.Account })],
            [.. bank.Deposits.Select(d => new ClosedOpenDeposit(d.Deposit.Number, Text(d.Credited)))],
            [.. bank.Fundings.Select(f => new ClosedFunding(f.Processor, f.Day.ToString(),
                [.. f.Tenders.Select(t => new ClosedStub(t.Tender.Value, Text(t.Amount)))], f.Number, Text(f.Fee), f.IsNet, f.Due))],
            [.. bank.Fees.Select(f => new ClosedOwedFee(f.Processor, Text(f.Amount)))])
        {
            Claims = [.. money.Claims.Select(c => new ClosedClaim(c.Id, c.Day.ToString(), Text(c.Amount), c.IsOwedToStore,
                c.Party.Written(), c.Owner.Value, c.Deadline, c.Reason, c.Awaits?.Written()))],
            Orders = [.. money.Orders.Select(o => new ClosedOrder(o.Number, o.Day.ToString(),
                [.. o.Pieces.Select(p => new ClosedPieces(Text(p.Denomination), p.Number))], Text(o.Paid), Text(o.Delivered), o.By.Value))],
            Items =
            [
                .. items.Where(i => (i.Place != MoneyPlace.Customer || i.Use is not null) && !i.Amount.IsZero)
                    .Select(i => new ClosedMoneyItem(i.Place.Written(),
                        i.Use is { } use ? uses[use] : i.Account is { } tender ? uses[tender] : uses["deposit"], i.Name, Text(i.Amount),
                        i.Since)),
                .. bank.Fees.Select(f => new ClosedMoneyItem(
                    MoneyPlace.Processor.Written(), uses["card-cost-owed"],
                    $"{setup.Processors.FirstOrDefault(p => p.Id == f.Processor)?.Name ?? f.Processor}, fees to be billed", Text(-f.Amount),
                    setup.TradingDay.Date)),
            ],
        };
    }

    /// <summary>With what the next day begins.</summary>
    /// <param name="depositOf">A deposit by its number; one that is not there any more is left out.</param>
    public MoneyStart ToStart(Currency currency, Func<int, Deposit?> depositOf)
    {
        Money Read(string text) => currency.TryParse(text, out var amount) ? amount : Money.Zero;
        TradingDay Day(string text) => TradingDay.TryParse(text, out var day) ? day : default;
        return new(
            new(Loose is null ? null : Read(Loose), [.. Bags.Select(b => new HeldBag(b.Name, Day(b.Day), Read(b.Amount)))],
                [.. Checks.Select(c => new HeldCheck(Day(c.Day), new(c.Drawer), c.Number, Read(c.Amount), c.Place))])
            {
                Pieces = [.. Pieces.Select(p => new Pieces(Read(p.Denomination), p.Number))],
                Moved = Read(Moved),
            },
            new(
                [.. OpenDeposits.Select(d => (Deposit: depositOf(d.Number), d.Credited)).Where(d => d.Deposit is not null)
                    .Select(d => new OpenDeposit(d.Deposit!, Read(d.Credited)))],
                [.. OpenFundings.Select(f => new Funding(f.Processor, Day(f.Day),
                    [.. f.Tenders.Select(t => new FundedTender(new(t.TenderId), Read(t.Amount)))], f.Number, Read(f.Fee), f.IsNet, f.Due))],
                [.. Fees.Select(f => new OwedFee(f.Processor, Read(f.Amount)))]))
        {
            Orders = [.. (Orders.IsDefault ? [] : Orders)
                .Select(o => new OpenOrder(o.Number, Day(o.Day), [.. o.Pieces.Select(p => new Pieces(Read(p.Denomination), p.Number))],
                    Read(o.Paid), Read(o.Delivered), new(o.By)))],
            Claims = [.. (Claims.IsDefault ? [] : Claims)
                .Select(c => new OpenClaim(c.Id, Day(c.Day), Read(c.Amount), c.IsOwedToStore,
                    WrittenNames.Read<Entries.ClaimParty>(c.Party) ?? default, new(c.Owner), c.Deadline, c.Reason)
                    {
                        Awaits = WrittenNames.Read<Entries.AwaitedProof>(c.Awaits)
                    })],
        };
    }
}

public sealed record ClosedMoneyItem(string Place, string Account, string Name, string Amount, DateOnly Since);

public sealed record ClosedOrder(int Number, string Day, ImmutableArray<ClosedPieces> Pieces, string Paid, string Delivered, string By);

public sealed record ClosedSafeLine(string Kind, string Source, string Amount, DateTimeOffset? At, string? ById);

public sealed record ClosedBag(string Name, string Day, string Amount);

public sealed record ClosedHeldCheck(string Day, string Drawer, string Number, string Amount, int Place);

public sealed record ClosedFloat(string RegisterId, string Amount);

public sealed record ClosedDeposit(
    int Number, string Bag, string Cash, string Checks, string ById, string By, string WitnessId, string Witness, DateTimeOffset At,
    ImmutableArray<ClosedPieces> Pieces, ImmutableArray<ClosedCheck> EveryCheck);

public sealed record ClosedBankLine(string Key, DateOnly Booked, string Amount, string Text)
{
    /// <summary>The account at the bank; null on documents of before there could be several.</summary>
    public string? Account { get; init; }
}

public sealed record ClosedOpenDeposit(int Number, string Credited);

public sealed record ClosedFunding(string Processor, string Day, ImmutableArray<ClosedStub> Tenders, int Number, string Fee, bool IsNet,
    DateOnly Due);

public sealed record ClosedClaim(Guid Id, string Day, string Amount, bool IsOwedToStore, string Party, string Owner,
    DateTimeOffset Deadline, string Reason, string? Awaits = null);

public sealed record ClosedOwedFee(string Processor, string Amount);
