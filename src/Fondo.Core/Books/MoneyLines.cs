using Fondo.Core.Banking;
using Fondo.Core.Custody;
using Fondo.Core.Days;
using Fondo.Core.Entries;
using Fondo.Core.Journal;
using Fondo.Core.SetUp;

namespace Fondo.Core.Books;

/// <summary>What the way of the money to the bank does to the books: what left the safe, what the bank booked, what processors paid and
/// kept (rules §13).</summary>
internal static class MoneyLines
{
    public static IEnumerable<BookLine> Of(MoneyDay money, IReadOnlyCollection<Entry> entries, Uses uses, Setup setup)
    {
        var cash = uses[TenderId.Cash];
        var found = Pair(cash, uses["opening"], money.Custody.FoundInSafe, "opening amount of the safe", null, "safe");
        var moved = money.Acts.Movements.SelectMany(Moved);
        var today = setup.TradingDay;
        var sealings = money.Acts.Deposits.Where(d => d.Day == today).SelectMany(d => Sealed(d, 1))
            .Concat(money.Acts.Deposits.Where(d => d.Unsealed?.Day == today).SelectMany(d => Sealed(d, -1)));
        foreach (var line in found.Concat(moved).Concat(sealings)
            .Concat(money.Bank.Lines.Select(l => new BookLine(uses.OfBank(l.Account), l.Amount, "the bank’s lines", null, l.Key)))
            .Concat(money.Bank.Matches.SelectMany(Matched)))
        {
            yield return line;
        }

        foreach (var correction in money.Corrections)
        {
            foreach (var sum in correction.Sums)
            {
                yield return new(sum.Account, sum.Amount, $"{sum.What}, correction of {correction.Day}", sum.Register,
                    $"close {correction.Close}");
            }
        }

        foreach (var (entry, claim) in money.ClaimsEnded)
        {
            var (account, what) = entry.Detail is EntryDetail.Moved way
                ? (uses[way.What == MovementKind.PaidIn ? "paid-in" : "paid-out"], "claims paid at a drawer")
                : (uses["over-short"], "claims given up");
            foreach (var line in Pair(account, uses[claim.Use], claim.Amount, what, null, entry.Id.ToString()))
            {
                yield return line;
            }
        }

        foreach (var cell in money.Cells.Where(c => c.Variance is { IsZero: false } || entries.Any(e => e.Touches(c.Key))))
        {
            foreach (var line in OfPlace(Bridge.Of(cell, entries, setup.ToleranceOf(cell.Key)), Given(cell.Key, money, setup), uses,
                setup))
            {
                yield return line;
            }
        }

        IEnumerable<BookLine> Moved(SafeMovement m) => m.Kind switch
        {
            SafeMovementKind.Opening => Pair(cash, uses["opening"], m.Amount, "opening amount of the safe", null, m.Id.ToString()),
            SafeMovementKind.PettyCash => Pair(uses["paid-out"], cash, m.Amount, "petty cash", null, m.Id.ToString()),
            SafeMovementKind.OrderClosed =>
                Pair(uses["over-short"], uses["change"], m.Amount, "change never delivered", null, m.Id.ToString()),
            // From the safe into a drawer: the cash is where it was, in the books.
            SafeMovementKind.FloatIssued => [],
            _ => Pair(cash, uses["change"], m.Effect, "change", null, m.Id.ToString()),
        };

        IEnumerable<BookLine> Sealed(Deposit d, int sign) =>
            Pair(uses["deposit"], cash, d.Cash * sign, "cash in deposits", null, d.Name)
                .Concat(Pair(uses["deposit"], uses[TenderId.Check], d.CheckAmount * sign, "checks in deposits", null, d.Name));

        IEnumerable<BookLine> Matched(BankMatch match)
        {
            switch (match)
            {
                case BankMatch.DepositPart part:
                    yield return new(uses["deposit"], -part.Booked, "deposits credited", null, part.Open.Deposit.Name);
                    break;
                case BankMatch.WholeDeposit whole:
                    yield return new(uses["deposit"], -whole.Open.Outstanding, "deposits credited", null, whole.Open.Deposit.Name);
                    break;
                case BankMatch.Funded funded:
                    foreach (var funding in funded.Fundings)
                    {
                        foreach (var tender in funding.Tenders)
                        {
                            yield return new(uses[tender.Tender], -tender.Amount, $"{setup.NameOf(tender.Tender)}, paid by the processor",
                                null, funding.Key);
                        }

                        yield return new(uses["card-cost"], funding.Fee, "what processors keep", null, funding.Key);
                        if (!funding.IsNet)
                        {
                            yield return new(uses["card-cost-owed"], -funding.Fee, "fees the processors will bill", null, funding.Key);
                        }
                    }

                    break;
                case BankMatch.FundingPart part:
                    foreach (var (tender, rest) in part.Funding.Tenders.Zip(part.Funding.After(part.Booked).Tenders)
                        .Where(t => t.First.Amount != t.Second.Amount))
                    {
                        yield return new(uses[tender.Tender], rest.Amount - tender.Amount, $"{setup.NameOf(tender.Tender)}, paid in part",
                            null, part.Funding.Key);
                    }

                    break;
                case BankMatch.Reversed reversed:
                    yield return new(uses["deposit"], -reversed.Booked, "credits taken back", null, reversed.Deposit.Name);
                    break;
                case BankMatch.Claimed claimed:
                    yield return new(uses[claimed.Claim.Use], -claimed.Booked, "claims paid at the bank", null, claimed.Lines[0].Key);
                    break;
                case BankMatch.Change change:
                    yield return new(uses["change"], -change.Booked, "change debited", null, change.Lines[0].Key);
                    break;
                case BankMatch.Fees fees:
                    yield return new(uses["card-cost-owed"], fees.Owed.Amount, "what processors billed", null, fees.Lines[0].Key);
                    break;
            }
        }
    }

    private static IEnumerable<BookLine> Pair(string debit, string credit, Money amount, string what, RegisterId? register,
        string source) =>
        amount.IsZero ? [] : [new(debit, amount, what, register, source), new(credit, -amount, what, register, source)];

    /// <summary>Of a place of cash the cash follows the proof; at the bank the bank's lines are posted already. The other side is what the
    /// entries say.</summary>
    private static IEnumerable<BookLine> OfPlace(Bridge bridge, string given, Uses uses, Setup setup)
    {
        var key = bridge.Cell.Key;
        var isCash = key is CellKey.Safe or CellKey.Bag or CellKey.Float;
        var rest = bridge.Cell.Variance ?? Money.Zero;
        if (isCash && !rest.IsZero)
        {
            yield return new(uses[TenderId.Cash], rest, $"{key.NameIn(setup)}, over and short", key.Register, key.ToString());
        }

        foreach (var (entry, meant) in AccountingEntry.Holding(bridge))
        {
            var amount = entry.On(key);
            rest -= amount;
            var (account, what) = Other(meant, key, given, uses);
            if (!amount.IsZero && account is not null)
            {
                yield return new(account, -amount, what, key.Register, entry.Id.ToString());
            }
        }

        if (!rest.IsZero)
        {
            yield return new(uses[given], -rest, bridge.IsUnresolved ? "not explained" : "within tolerance", key.Register, key.ToString());
        }
    }

    private static (string? Account, string What) Other(Entry entry, CellKey key, string given, Uses uses) =>
        (entry.Kind, entry.Detail) switch
        {
            (EntryKind.Recount, _) when key is CellKey.Safe or CellKey.Bag =>
                (uses[TenderId.Cash], "counted otherwise"),
            (_, EntryDetail.Moved { What: MovementKind.Change }) => (uses["change"], "change"),
            (EntryKind.Recount, _) or (_, EntryDetail.Moved { What: MovementKind.Drop or MovementKind.Loan or MovementKind.Float }) =>
                (uses[given], "never recorded"),
            (EntryKind.Accept, _) => (uses[given], "accepted"),
            _ => AccountingEntry.Other(entry, key, uses[TenderId.Cash], uses),
        };

    /// <summary>Where it is booked when nobody owes it: a line that corrects a deposit is over or short like the deposit itself, a dispute
    /// is what cards cost, the rest is the bank's charge.</summary>
    private static string Given(CellKey key, MoneyDay money, Setup setup)
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
