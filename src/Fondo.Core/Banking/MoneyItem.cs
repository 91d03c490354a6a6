using Fondo.Core.Cells;
using Fondo.Core.Entries;
using Fondo.Core.Journal;
using Fondo.Core.SetUp;
using Fondo.Core.Sheets;

namespace Fondo.Core.Banking;

/// <summary>Where money is that is not at the bank yet, in the order of its way.</summary>
public enum MoneyPlace
{
    Drawer,
    Safe,
    Bag,
    Checks,
    SealedDeposit,
    DepositOnTheWay,
    Processor,
    Customer,
    Claim,
    Change,
}

/// <summary>Something of the store's that is somewhere.</summary>
/// <param name="Name">What it is: a drawer, a bag, a deposit, a day of a processor, a carried item.</param>
/// <param name="Since">Since when it is there.</param>
/// <param name="Due">When it usually moves on; null where it stays.</param>
/// <param name="Account">The tender on whose account it stands; null for a deposit and for what is carried.</param>
public sealed record MoneyItem(MoneyPlace Place, string Name, Money Amount, DateOnly Since, DateOnly? Due, TenderId? Account, PersonId? Who)
{
    /// <summary>The open claim that it is.</summary>
    public OpenClaim? Claim { get; init; }

    /// <summary>The account on which it stands, by its use, where that is no tender's.</summary>
    public string? Use { get; init; }

    /// <summary>Everything that is on its way at the end of what is known of a day.</summary>
    public static ImmutableArray<MoneyItem> Of(Overview overview, MoneyDay money, IReadOnlyCollection<Entry> entries)
    {
        var setup = overview.Result.Day.Setup;
        var (today, counted) = (setup.TradingDay.Date, CellSums.ClosingCounts(overview.Result.Day));
        var (end, sums) = (money.End, Carrying.Sums(overview.Result, entries));
        return
        [
            .. overview.Drawers.Where(d => !counted.ContainsKey(d.Session.Drawer))
                .Select(d => new MoneyItem(MoneyPlace.Drawer, setup.NameOf(d.Session.Register), d.Level, today, null, TenderId.Cash,
                    d.Session.Cashier)),
            .. money.Custody.Floats.Select(f =>
                new MoneyItem(MoneyPlace.Drawer, $"{setup.NameOf(f.Register)}, its float", f.Amount, today, null, TenderId.Cash, null)),
            .. end.Custody.Loose is { } loose
                ? [new MoneyItem(MoneyPlace.Safe, "loose in the safe", loose, today, null, TenderId.Cash, null)]
                : (MoneyItem[])[],
            .. end.Custody.Bags.Select(b =>
                new MoneyItem(MoneyPlace.Bag, $"bag {b.Name}", b.Amount, b.Day.Date, b.Day.Date, TenderId.Cash, null)),
            .. end.Custody.Checks.Select(c =>
                new MoneyItem(MoneyPlace.Checks, $"check {c.Number}", c.Amount, c.Day.Date, null, TenderId.Check, null)),
            .. end.Bank.Deposits.Select(d => new MoneyItem(
                d.Deposit.HandedOver is null ? MoneyPlace.SealedDeposit : MoneyPlace.DepositOnTheWay,
                $"deposit {d.Deposit.Number}, bag {d.Deposit.Bag}", d.Outstanding, d.Deposit.Day.Date,
                BankDays.After(d.Deposit.Day.Date, DepositDays, setup), null,
                d.Deposit.HandedOver?.By ?? d.Deposit.By)),
            .. end.Bank.Fundings.SelectMany(f => f.Tenders.Select(t => new MoneyItem(
                MoneyPlace.Processor,
                $"{setup.Processors.FirstOrDefault(p => p.Id == f.Processor)?.Name ?? f.Processor}, "
                    + $"{setup.NameOf(t.Tender).ToLowerInvariant()} of "
                    + $"{f.Day.Date.ToString("d MMM", System.Globalization.CultureInfo.InvariantCulture)}", t.Amount, f.Day.Date, f.Due,
                t.Tender, null))),
            .. Carrying.Open(overview.Result, entries).Where(c => c.Ended is null)
                .Select(c => (Item: c, Booked: Carrying.BookedAmount(c, overview.Result))).Select(c => new MoneyItem(
                MoneyPlace.Customer, Named(c.Item.Key, overview), c.Booked ?? c.Item.Amount, c.Item.Day.Date,
                    c.Item.Owned is { } o ? DateOf(o.Deadline, setup) : null, null, c.Item.Owned?.Owner)
            { Use = c.Booked is null ? null : "carried" }),
            .. entries.Where(e => e.Kind == EntryKind.Carry && e.Stands(entries) && !e.Postings.IsEmpty)
                .Select(e => (Entry: e, Items: -e.Postings.Sum(p => p.Amount) - sums.Where(s => s.Entry == e).Sum(s => s.Amount)))
                .Where(c => !c.Items.IsZero).Select(c => new MoneyItem(
                MoneyPlace.Customer, c.Entry.Reason, c.Items, today,
                    c.Entry.Detail is EntryDetail.Awaited awaited ? DateOf(awaited.Deadline, setup) : null, null,
                    c.Entry.Detail is EntryDetail.Awaited by ? by.Owner : c.Entry.By)
            { Use = "carried" }),
            .. Carrying.Unsettled(overview.Result).Select(t => new MoneyItem(
                MoneyPlace.Customer, $"{setup.NameOf(t.Tender.Type)} at {setup.NameOf(t.Ticket.Register)}, in no batch", t.Tender.Amount,
                today, null, null, null) { Use = "carried" }),
            .. money.Claims.Select(c => new MoneyItem(MoneyPlace.Claim, c.Reason, c.Amount, c.Day.Date, DateOf(c.Deadline, setup), null,
                c.Owner) { Claim = c, Use = c.Use }),
            .. end.Orders.Select(o => new MoneyItem(
                MoneyPlace.Change, $"change order {o.Number}{(o.OnItsWay.IsZero ? ", not paid yet" : ", paid and not delivered")}",
                o.OnItsWay, o.Day.Date, BankDays.After(o.Day.Date, DepositDays, setup), null, o.By) { Use = "change" }),
        ];
    }

    /// <summary>So many bank days a deposit usually takes.</summary>
    public const int DepositDays = 2;

    private static DateOnly DateOf(DateTimeOffset at, Setup setup) =>
        DateOnly.FromDateTime(TimeZoneInfo.ConvertTime(at, setup.TimeZone).Date);

    private static string Named(string key, Overview overview)
    {
        var (day, setup) = (overview.Result.Day, overview.Result.Day.Setup);
        return day.Carried.Journal.FirstOrDefault(c => c.Ticket.KeyOf(c.Place)
            .ToString() == key) is { } tender ? $"{setup.NameOf(tender.Tender.Type)} at {setup.NameOf(tender.Ticket.Register)}"
            : day.Carried.Rows.FirstOrDefault(c => c.Row.Key.ToString() == key) is { } row
                ? $"settled on {row.Row.Key.Terminal}{(row.Row.Card.LastFour is { } last ? $", card …{last}" : "")}"
            : day.Carried.Holds.FirstOrDefault(c =>
                c.Hold.Id.Value == key) is { } hold ? $"a ticket on hold at {setup.NameOf(hold.Hold.Register)}" : key;
    }
}
