using Fondo.Core.Banking;
using Fondo.Core.Custody;
using Fondo.Core.Days;
using Fondo.Core.Entries;
using Fondo.Core.Journal;
using Fondo.Core.SetUp;

namespace Fondo.Core.Books;

/// <summary>What the way of the money to the bank does to the books: what left the safe, what the bank booked, what processors paid and
/// kept (rules §13).</summary>
internal sealed class MoneyLines(MoneyDay money, IReadOnlyCollection<Entry> entries, Uses uses, Setup setup)
{
    private readonly string _cash = uses[TenderId.Cash];

    public IEnumerable<BookLine> All() =>
    [
        .. Pair(_cash, uses["opening"], money.Custody.FoundInSafe, BookItem.SafeOpening, null, "safe"),
        .. money.Acts.Movements.SelectMany(Moved),
        .. money.Acts.Deposits.Where(d => d.Day == setup.TradingDay).SelectMany(d => Sealed(d, 1)),
        .. money.Acts.Deposits.Where(d => d.Unsealed?.Day == setup.TradingDay).SelectMany(d => Sealed(d, -1)),
        .. money.Bank.Lines.Select(l => new BookLine(uses.OfBank(l.Account), l.Amount, BookItem.BankLines, null, l.Key)),
        .. money.Bank.Matches.SelectMany(Matched),
        .. money.Corrections.SelectMany(Corrected),
        .. money.ClaimsEnded.SelectMany(c => Ended(c.Entry, c.Claim)),
        .. money.Cells.Where(c => c.Variance is { IsZero: false } || entries.Any(e => e.Touches(c.Key)))
            .SelectMany(c => OfPlace(Bridge.Of(c, entries, setup.ToleranceOf(c.Key)), Given(c.Key))),
    ];

    private IEnumerable<BookLine> Moved(SafeMovement m) => m.Kind switch
    {
        SafeMovementKind.Opening => Pair(_cash, uses["opening"], m.Amount, BookItem.SafeOpening, null, m.Id.ToString()),
        SafeMovementKind.PettyCash => Pair(uses["paid-out"], _cash, m.Amount, BookItem.PettyCash, null, m.Id.ToString()),
        SafeMovementKind.OrderClosed =>
            Pair(uses["over-short"], uses["change"], m.Amount, BookItem.ChangeNeverDelivered, null, m.Id.ToString()),
        // From the safe into a drawer: the cash is where it was, in the books.
        SafeMovementKind.FloatIssued => [],
        _ => Pair(_cash, uses["change"], m.Effect, BookItem.Change, null, m.Id.ToString()),
    };

    private IEnumerable<BookLine> Sealed(Deposit d, int sign) =>
        Pair(uses["deposit"], _cash, d.Cash * sign, BookItem.CashDeposited, null, d.Name)
            .Concat(Pair(uses["deposit"], uses[TenderId.Check], d.CheckAmount * sign, BookItem.ChecksDeposited, null, d.Name));

    private static IEnumerable<BookLine> Corrected(Correction correction) => correction.Sums.Select(s =>
        new BookLine(s.Account, s.Amount, BookItem.Corrected(s.What, correction.Day), s.Register, $"close {correction.Close}"));

    private IEnumerable<BookLine> Ended(Entry entry, OpenClaim claim)
    {
        var (account, what) = entry.Detail is EntryDetail.Moved way
            ? (uses[way.What == MovementKind.PaidIn ? "paid-in" : "paid-out"], BookItem.ClaimsPaidAtDrawer)
            : (uses["over-short"], BookItem.ClaimsGivenUp);
        return Pair(account, uses[claim.Use], claim.Amount, what, null, entry.Id.ToString());
    }

    private IEnumerable<BookLine> Matched(BankMatch match) => match switch
    {
        BankMatch.DepositPart part => [new(uses["deposit"], -part.Booked, BookItem.DepositsCredited, null, part.Open.Deposit.Name)],
        BankMatch.WholeDeposit whole =>
            [new(uses["deposit"], -whole.Open.Outstanding, BookItem.DepositsCredited, null, whole.Open.Deposit.Name)],
        BankMatch.Funded funded => funded.Fundings.SelectMany(Paid),
        BankMatch.FundingPart part => PaidInPart(part),
        BankMatch.Reversed reversed => [new(uses["deposit"], -reversed.Booked, BookItem.CreditsTakenBack, null, reversed.Deposit.Name)],
        BankMatch.Claimed claimed =>
            [new(uses[claimed.Claim.Use], -claimed.Booked, BookItem.ClaimsPaidAtBank, null, claimed.Lines[0].Key)],
        BankMatch.Change change => [new(uses["change"], -change.Booked, BookItem.ChangeDebited, null, change.Lines[0].Key)],
        BankMatch.Fees fees => [new(uses["card-cost-owed"], fees.Owed.Amount, BookItem.ProcessorsBilled, null, fees.Lines[0].Key)],
        _ => [],
    };

    private IEnumerable<BookLine> Paid(Funding funding)
    {
        foreach (var tender in funding.Tenders)
        {
            yield return new(uses[tender.Tender], -tender.Amount, $"{setup.NameOf(tender.Tender)}, paid by the processor", null,
                funding.Key);
        }

        yield return new(uses["card-cost"], funding.Fee, BookItem.ProcessorsKeep, null, funding.Key);
        if (!funding.IsNet)
        {
            yield return new(uses["card-cost-owed"], -funding.Fee, BookItem.ProcessorsWillBill, null, funding.Key);
        }
    }

    private IEnumerable<BookLine> PaidInPart(BankMatch.FundingPart part) =>
        part.Funding.Tenders.Zip(part.Funding.After(part.Booked).Tenders).Where(t => t.First.Amount != t.Second.Amount)
            .Select(t => new BookLine(uses[t.First.Tender], t.Second.Amount - t.First.Amount,
                $"{setup.NameOf(t.First.Tender)}, paid in part", null, part.Funding.Key));

    private static IEnumerable<BookLine> Pair(string debit, string credit, Money amount, string what, RegisterId? register,
        string source) =>
        amount.IsZero ? [] : [new(debit, amount, what, register, source), new(credit, -amount, what, register, source)];

    /// <summary>Of a place of cash the cash follows the proof; at the bank the bank's lines are posted already. The other side is what the
    /// entries say.</summary>
    private IEnumerable<BookLine> OfPlace(Bridge bridge, string given)
    {
        var key = bridge.Cell.Key;
        var isCash = key is CellKey.Safe or CellKey.Bag or CellKey.Float;
        var rest = bridge.Cell.Variance ?? Money.Zero;
        if (isCash && !rest.IsZero)
        {
            yield return new(uses[TenderId.Cash], rest, BookItem.OverShort(key, setup), key.Register, key.ToString());
        }

        foreach (var (entry, meant) in AccountingEntry.Holding(bridge))
        {
            var amount = entry.On(key);
            rest -= amount;
            var (account, what) = Other(meant, key, given);
            if (!amount.IsZero && account is not null)
            {
                yield return new(account, -amount, what, key.Register, entry.Id.ToString());
            }
        }

        if (!rest.IsZero)
        {
            yield return new(uses[given], -rest, BookItem.Rest(bridge.IsUnresolved), key.Register, key.ToString());
        }
    }

    private (string? Account, string What) Other(Entry entry, CellKey key, string given) =>
        (entry.Kind, entry.Detail) switch
        {
            (EntryKind.Recount, _) when key is CellKey.Safe or CellKey.Bag =>
                (uses[TenderId.Cash], BookItem.CountedOtherwise),
            (_, EntryDetail.Moved { What: MovementKind.Change }) => (uses["change"], BookItem.Change),
            (EntryKind.Recount, _) or (_, EntryDetail.Moved { What: MovementKind.Drop or MovementKind.Loan or MovementKind.Float }) =>
                (uses[given], BookItem.NeverRecorded),
            (EntryKind.Accept, _) => (uses[given], BookItem.Accepted),
            _ => AccountingEntry.Other(entry, key, uses[TenderId.Cash], uses),
        };

    /// <summary>Where it is booked when nobody owes it: a line that corrects a deposit is over or short like the deposit itself, a dispute
    /// is what cards cost, the rest is the bank's charge.</summary>
    private string Given(CellKey key)
    {
        if (key is CellKey.Funding)
        {
            return "card-cost";
        }

        if (key is not CellKey.BankLine { Line: var line })
        {
            return "over-short";
        }

        var text = BankText.Of(money.Bank.Open.FirstOrDefault(l => l.Key == line)?.Text ?? "");
        return setup.Processors.Any(p => text.Names(BankText.Of(p.Reference))) ? "card-cost"
            : !text.IsFee && money.Earlier.Concat(money.Bank.End.Deposits.Select(d => d.Deposit))
                .Any(d => text.Names(BankText.Of(d.Bag))) ? "over-short" : "bank-cost";
    }
}
