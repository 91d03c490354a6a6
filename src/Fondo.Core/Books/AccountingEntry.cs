using Fondo.Core.Banking;
using Fondo.Core.Days;
using Fondo.Core.Entries;
using Fondo.Core.Journal;
using Fondo.Core.Reconciling;
using Fondo.Core.SetUp;

namespace Fondo.Core.Books;

/// <summary>What comes to one account of a register, of one kind.</summary>
/// <param name="Amount">Debits are positive, credits negative.</param>
/// <param name="Number">How many things it is made of.</param>
public sealed record BookSum(string Account, RegisterId? Register, string What, Money Amount, int Number);

/// <summary>One balanced entry for a day (rules §13): what was taken, sold, taxed, given and found to be over or short, by
/// account.</summary>
/// <param name="Sums">By account, register and kind; what comes to nothing is left out.</param>
public sealed record AccountingEntry(ImmutableArray<BookSum> Sums)
{
    /// <summary>Nothing, when the entry balances.</summary>
    public Money Balance => Sums.Sum(s => s.Amount);

    /// <param name="money">Null where nothing is known of safe and bank.</param>
    public static AccountingEntry Of(Reconciliation result, IReadOnlyCollection<Entry> entries, MoneyDay? money = null)
    {
        var sums = new Dictionary<(string, RegisterId?, string), (Money Amount, int Number)>();
        foreach (var line in Lines(result, entries, money))
        {
            var key = (line.Account, line.Register, line.What);
            var before = sums.GetValueOrDefault(key);
            sums[key] = (before.Amount + line.Amount, before.Number + 1);
        }

        return new(
        [
            .. sums.Where(s => !s.Value.Amount.IsZero)
                .Select(s => new BookSum(s.Key.Item1, s.Key.Item2, s.Key.Item3, s.Value.Amount, s.Value.Number))
                .OrderBy(s => s.Account, StringComparer.Ordinal).ThenBy(s => s.Register?.Value, StringComparer.Ordinal)
                .ThenBy(s => s.What, StringComparer.Ordinal),
        ]);
    }

    /// <summary>The lines one by one, in no order that means anything: tickets, movements of cash, cells that are off, entries on what is
    /// in no cell, the way to the bank.</summary>
    public static IEnumerable<BookLine> Lines(Reconciliation result, IReadOnlyCollection<Entry> entries, MoneyDay? money = null)
    {
        var (day, uses, standing) = (result.Day, new Uses(result.Day.Setup), new Standing(result.Day));
        foreach (var e in day.Journal)
        {
            var lines = e switch
            {
                Ticket ticket when standing.Stands(ticket) => TicketLines.Of(ticket, uses, day.Setup),
                CashMovement { Kind: EventKind.PaidIn or EventKind.PaidOut } movement => Movement(movement, uses),
                // A drop and a loan go from the drawer to the safe, or back: the cash is where it was, in the books.
                _ => [],
            };
            foreach (var line in lines)
            {
                yield return line;
            }
        }

        foreach (var cell in result.Cells.Where(c => c.Variance is { IsZero: false } || entries.Any(e => e.Touches(c.Key))))
        {
            foreach (var line in OfCell(Bridge.Of(cell, entries, day.Setup.ToleranceOf(cell.Key)), uses, day.Setup))
            {
                yield return line;
            }
        }

        if (Carrying.MetOtherwise(result, entries,
            (money?.ClaimsBefore ?? []).Where(c => c.Awaits is not null).Select(c => c.Key)
                .ToHashSet(StringComparer.Ordinal)) is { IsZero: false } met)
        {
            yield return new(uses["carried"], -met, BookItem.CarriedCame, null, "carried");
            yield return new(uses["over-short"], met, BookItem.CarriedExplained, null, "carried");
        }

        // What no batch has yet is carried: it is with the processor only once it is settled.
        foreach (var tender in Carrying.Unsettled(result))
        {
            yield return new(uses["carried"], tender.Tender.Amount, BookItem.Carried, tender.Ticket.Register, tender.Key.ToString());
            yield return new(uses[tender.Tender.Type], -tender.Tender.Amount, BookItem.Carried, tender.Ticket.Register,
                tender.Key.ToString());
        }

        foreach (var line in money is null ? [] : new MoneyLines(money, entries, uses, day.Setup).All())
        {
            yield return line;
        }

        foreach (var line in Carrying.Open(result, entries).Where(c => c.Ended is not null).SelectMany(c => GivenUp(c, result, uses)))
        {
            yield return line;
        }
    }

    /// <summary>A register's part of the entry. What an entry moved to another register, or to the safe, is balanced on an account of its
    /// own, which comes to nothing over all parts.</summary>
    public AccountingEntry Of(RegisterId register)
    {
        var own = Sums.Where(s => s.Register == register).ToList();
        var apart = own.Sum(s => s.Amount);
        return new([
            .. own,
            .. apart.IsZero ? [] : new[] { new BookSum("Equity:Between registers", register, BookItem.BetweenRegisters, -apart, 1) }
        ]);
    }

    /// <summary>What another revision of the day changes: posted on the day of the correction, so that both together are the later
    /// one.</summary>
    public AccountingEntry CorrectionTo(AccountingEntry later)
    {
        var (before, after) = (Sums.ToDictionary(Key), later.Sums.ToDictionary(Key));
        return new(
        [
            .. before.Keys.Union(after.Keys)
                .Select(k => (Key: k, Amount: (after.GetValueOrDefault(k)?.Amount ?? Money.Zero) - (before.GetValueOrDefault(k)?.Amount
                    ?? Money.Zero)))
                .Where(c => !c.Amount.IsZero).Select(c => new BookSum(c.Key.Account, c.Key.Register, c.Key.What, c.Amount, 1))
                .OrderBy(s => s.Account, StringComparer.Ordinal).ThenBy(s => s.Register?.Value, StringComparer.Ordinal)
                .ThenBy(s => s.What, StringComparer.Ordinal),
        ]);

        static (string Account, RegisterId? Register, string What) Key(BookSum sum) => (sum.Account, sum.Register, sum.What);
    }

    private static IEnumerable<BookLine> Movement(CashMovement movement, Uses uses)
    {
        // A tip that was owed since the card was taken is owed no more once it is paid out.
        var isTip = movement.Kind == EventKind.PaidOut && movement.Purpose == CashPurpose.Tips;
        var other = movement.Kind == EventKind.PaidIn ? uses["paid-in"] : isTip ? uses["tip"] : uses["paid-out"];
        var what = movement.Kind == EventKind.PaidIn ? BookItem.PaidIn : isTip ? BookItem.TipsPaidOut : BookItem.PaidOut;
        yield return new(uses[TenderId.Cash], movement.Effect, what, movement.Register, movement.Id.Value);
        yield return new(other, -movement.Effect, what, movement.Register, movement.Id.Value);
    }

    /// <summary>What is there beside what should be: the tender's account follows the proof, and the other side is what the entries say; a
    /// rest within the tolerance is over or short.</summary>
    private static IEnumerable<BookLine> OfCell(Bridge bridge, Uses uses, Setup setup)
    {
        var key = (CellKey.Takings)bridge.Cell.Key;
        var own = uses[key.Tender];
        var rest = bridge.Cell.Variance ?? Money.Zero;
        if (!rest.IsZero)
        {
            yield return new(own, rest, BookItem.OverShort(setup.NameOf(key.Tender)), key.Register, key.ToString());
        }

        foreach (var (entry, meant) in Holding(bridge))
        {
            var amount = entry.On(key);
            rest -= amount;
            var (account, what) = Other(meant, key, own, uses);
            if (!amount.IsZero && account is not null)
            {
                yield return new(account, -amount, what, key.Register, entry.Id.ToString());
            }
        }

        if (!rest.IsZero)
        {
            yield return new(uses["over-short"], -rest, BookItem.Rest(bridge.IsUnresolved), key.Register,
                key.ToString());
        }
    }

    /// <summary>The entries that hold, each with the one that says where it goes: taking an entry back goes the way of the entry that it
    /// takes back.</summary>
    internal static IEnumerable<(Entry Entry, Entry Meant)> Holding(Bridge bridge) =>
        bridge.Entries.Where(e => e.Holds)
            .Select(e => (e, e.Kind == EntryKind.Reverse ? bridge.Entries.FirstOrDefault(o => o.Id == e.Reverses) ?? e : e));

    /// <summary>The other side of an entry; null where the entry has it itself, in its other cells.</summary>
    internal static (string? Account, string What) Other(Entry entry, CellKey key, string own, Uses uses) =>
        (entry.Kind, entry.Detail) switch
        {
            (EntryKind.Reclassify, _) => (null, ""),
            // It was counted wrongly, or lies in the safe: the money is there. What is not counted cannot be.
            (EntryKind.Recount, _) when key.Drawer is not null => (own, BookItem.CountedOtherwise),
            (_, EntryDetail.Moved { What: MovementKind.Drop or MovementKind.Loan })
                when key.Drawer is not null && key.OfTender == TenderId.Cash => (own, BookItem.DrawerAndSafe),
            (_, EntryDetail.Moved { What: MovementKind.PaidIn }) => (uses["paid-in"], BookItem.PaidIn),
            (_, EntryDetail.Moved { What: MovementKind.PaidOut }) => (uses["paid-out"], BookItem.PaidOut),
            (_, EntryDetail.Moved { What: MovementKind.Arrival }) => (uses["carried"], BookItem.CarriedCame),
            (_, EntryDetail.Moved moved) => (uses["over-short"], BookItem.Moved(moved.What)),
            (EntryKind.Carry, _) => (uses["carried"], BookItem.Carried),
            (_, EntryDetail.Owed owed) => (uses[OpenClaim.UseOf(owed.IsOwedToStore)], BookItem.Claimed(owed.Party)),
            _ => (uses["over-short"], BookItem.Accepted),
        };

    /// <summary>What an earlier day carried and nobody waits for any more.</summary>
    private static IEnumerable<BookLine> GivenUp(CarriedOpen item, Reconciliation result, Uses uses)
    {
        if (Carrying.BookedAmount(item, result) is not { } amount)
        {
            yield break;
        }

        var (account, what) = item.Ended!.Detail is EntryDetail.Owed owed
            ? (uses[OpenClaim.UseOf(owed.IsOwedToStore)], BookItem.Claimed(owed.Party))
            : (uses["over-short"], BookItem.CarriedGivenUp);
        yield return new(uses["carried"], -amount, BookItem.CarriedGivenUp, null, item.Key);
        yield return new(account, amount, what, null, item.Key);
    }
}
