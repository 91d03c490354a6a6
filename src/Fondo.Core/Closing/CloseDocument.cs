using System.Globalization;
using Fondo.Core.Banking;
using Fondo.Core.Books;
using Fondo.Core.Journal;
using Fondo.Core.Sheets;

namespace Fondo.Core.Closing;

/// <summary>What is frozen when a day is closed: readable a year from now without anything beside it. Amounts are decimal strings; names
/// are as they were, with their ids beside them.</summary>
/// <param name="Fondo">The shape: 4 since it says what customers owe and are owed; 3 since it says where the money is; 2 since ids, drawer
/// sessions, batches, findings and carried items are frozen; documents of shape 1 have none of these.</param>
public sealed record CloseDocument(
    int Fondo,
    int Number,
    string Store,
    string TradingDay,
    string Currency,
    string ClosedBy,
    DateTimeOffset ClosedAt,
    ImmutableArray<ClosedCell> Cells,
    ImmutableArray<ClosedTender> Totals,
    ImmutableArray<ClosedEntry> Entries,
    ImmutableArray<ClosedExcuse> Excuses,
    ImmutableArray<ClosedCount> Counts,
    ImmutableArray<ClosedItem> OpenItems)
{
    /// <summary>The digits after the point of the currency (ISO 4217); null on documents of shape 1.</summary>
    public int? MinorDigits { get; init; }

    /// <summary>What stands before the decimals where the store writes amounts; null: a point. The figures of the document have a point
    /// whatever the store writes.</summary>
    public string? DecimalMark { get; init; }

    /// <summary>1, and one more for each time that the day was reopened before.</summary>
    public int Revision { get; init; } = 1;

    /// <summary>The close whose figures the days behind began with, where some of them were closed already: what is different is posted in
    /// the earliest open day. Null where there was none.</summary>
    public int? Corrects { get; init; }

    public string? ClosedById { get; init; }

    public string? TimeZone { get; init; }

    public ImmutableArray<ClosedSession> Sessions { get; init; } = [];

    /// <summary>Counts of bags, of the safe, of floats, and of drawers that were not closing.</summary>
    public ImmutableArray<ClosedCount> OtherCounts { get; init; } = [];

    public ImmutableArray<ClosedBatch> Batches { get; init; } = [];

    public ImmutableArray<ClosedFinding> Findings { get; init; } = [];

    /// <summary>What persons paired, parted and released.</summary>
    public ImmutableArray<ClosedPairing> Pairings { get; init; } = [];

    /// <summary>What the next day begins with.</summary>
    public ImmutableArray<ClosedCarry> Carried { get; init; } = [];

    public ImmutableArray<ClosedSignature> Signatures { get; init; } = [];

    /// <summary>On which ways the day's records came in; empty on documents of older stores.</summary>
    public ImmutableArray<ClosedSource> Sources { get; init; } = [];

    /// <summary>The accounting entry, by account, register and kind; debits positive. Adds up to nothing.</summary>
    public ImmutableArray<ClosedBookSum> Books { get; init; } = [];

    /// <summary>What the day did to customers' items, and what was left of each.</summary>
    public ImmutableArray<ClosedCustomerMovement> Customers { get; init; } = [];

    /// <summary>What customers paid on what they owe.</summary>
    public IEnumerable<ClosedCustomerMovement> PaidOnAccount => Customers.Where(c => c.IsPayment);

    /// <summary>How customers' accounts stand when the day ends.</summary>
    public ImmutableArray<ClosedCustomerAccount> CustomerAccounts { get; init; } = [];

    /// <summary>Safe, bags, floats, deposits, bank; null on documents before shape 3.</summary>
    public ClosedMoney? Whereabouts { get; init; }

    /// <summary>The last line of the trail when the day was closed; null on days that were closed before there was one.</summary>
    public ClosedTrail? Trail { get; init; }

    /// <summary>What other figures say otherwise than these, each as a sentence; empty where they say the same. Names of people are left
    /// out: they may be written otherwise later.</summary>
    /// <param name="now">The same day worked out from its records again, or another revision of it.</param>
    public ImmutableArray<CloseDifference> Differences(CloseDocument now)
    {
        var said = ImmutableArray.CreateBuilder<CloseDifference>();
        Compare(Cells, now.Cells, c => $"{c.Register}{(c.Drawer is { } d ? $" {d}" : "")}, {c.Tender.ToLowerInvariant()}",
            c => $"expected {c.Expected}, proof {c.Proof ?? "none"}, explained {c.Explained}, {c.State}");
        Compare(Totals, now.Totals, t => $"all {t.Tender.ToLowerInvariant()}", t => $"expected {t.Expected}, proof {t.Proof}");
        Compare(Counts, now.Counts, c => $"count {c.Attempt} of {c.Drawer}", c => c.Cash);
        Compare(Entries, now.Entries, e => $"entry “{e.Reason}” of {At(e.At)}",
            e => $"{e.Kind} {string.Join(", ", e.Postings.Select(p => $"{p.Register} {p.Drawer} {p.Tender} {p.Amount}"))}");
        Compare(Excuses, now.Excuses, e => $"excuse of {e.Item}", e => $"{e.Gate} “{e.Reason}”");
        Compare(OpenItems, now.OpenItems, i => $"open item {i.Key}", i => $"{i.Amount} {i.Cause}");
        if (Fondo >= 2 && now.Fondo >= 2)
        {
            Compare(OtherCounts, now.OtherCounts,
                c => $"{c.Kind} count {c.Attempt} of {(c.Drawer.Length > 0 ? c.Drawer : c.Bag ?? "the safe")}", c => c.Cash);
            Compare(Batches, now.Batches, b => $"batch {b.Terminal}/{b.Batch}",
                b => $"{b.SalesCount} for {b.SalesAmount}, {b.RefundsCount} back for {b.RefundsAmount}, {b.Rows} rows");
            Compare(Findings, now.Findings, f => $"finding {f.Code} of {f.Ticket}", f => $"{f.Amount}, {f.Remedy ?? "not answered"}");
            Compare(Books, now.Books, b => $"books, {b.Account}, {b.Register ?? "the store"}, {b.What}", b => b.Amount);
            Compare(Whereabouts?.Cells ?? [], now.Whereabouts?.Cells ?? [], c => $"{c.Register}",
                c => $"expected {c.Expected}, proof {c.Proof ?? "none"}, explained {c.Explained}, {c.State}");
            Compare(Whereabouts?.Safe ?? [], now.Whereabouts?.Safe ?? [], l => $"the safe, {l.Kind} {l.Source}", l => l.Amount);
            Compare(Whereabouts?.Sealed ?? [], now.Whereabouts?.Sealed ?? [], d => $"deposit {d.Number}",
                d => $"bag {d.Bag}, cash {d.Cash}, checks {d.Checks}");
            Compare(Whereabouts?.Bank ?? [], now.Whereabouts?.Bank ?? [], l => $"bank line {l.Key}", l => l.Amount);
            Compare(Carried, now.Carried, c => $"carried item {c.Key}",
                c => $"{c.Amount}, until {(c.Until is { } until ? At(until) : "no time")}");
        }

        if (Fondo >= 4 && now.Fondo >= 4)
        {
            Compare(Customers, now.Customers, c => $"customers, {c.Account} {c.Reference} {c.Ticket}", c => c.Amount);
            Compare(CustomerAccounts, now.CustomerAccounts, a => $"customers, {a.Account}", a => a.Balance);
        }

        return said.ToImmutable();

        void Compare<T>(ImmutableArray<T> frozen, ImmutableArray<T> other, Func<T, string> name, Func<T, string> says)
        {
            var (before, after) = (frozen.ToLookup(name, says), other.ToLookup(name, says));
            foreach (var key in before.Select(g => g.Key).Union(after.Select(g => g.Key)))
            {
                var (was, becomes) = (string.Join("; ", before[key].Order(StringComparer.Ordinal)),
                    string.Join("; ", after[key].Order(StringComparer.Ordinal)));
                if (was != becomes)
                {
                    said.Add(new(key, was, becomes));
                }
            }
        }
    }

    /// <summary>The currency with its digits and its writing as they were on that day.</summary>
    public Currency CurrencyOf()
    {
        var known = Amounts.Currency.Of(Currency);
        return known with
        {
            MinorDigits = MinorDigits ?? known.MinorDigits,
            DecimalMark = DecimalMark?[0] ?? Amounts.Currency.Point,
        };
    }

    /// <summary>The frozen accounting entry; empty on documents that have none.</summary>
    public AccountingEntry ToAccountingEntry()
    {
        var currency = CurrencyOf();
        return new([.. Books.Select(b => new BookSum(b.Account, b.RegisterId is null ? null : new RegisterId(b.RegisterId), b.What,
            currency.TryParse(b.Amount, out var amount) ? amount : Money.Zero, b.Number))]);
    }

    private static string At(DateTimeOffset at) => at.UtcDateTime.ToString("yyyy-MM-dd HH:mm:ss", CultureInfo.InvariantCulture);

    /// <param name="money">Null where nothing is known of safe and bank.</param>
    /// <param name="closedBy">Who closes, as <paramref name="names"/> names them.</param>
    /// <param name="customers">Null where nothing is known of what customers owe and are owed.</param>
    public static CloseDocument Of(
        int number, int revision, Overview overview, DayDecisions decisions, MoneyDay? money, PersonId? closedBy, DateTimeOffset closedAt,
        IDocumentNames names, CustomerDay? customers = null) =>
        new FrozenDay(overview, decisions, money, customers, names).Document(number, revision, closedBy, closedAt);
}
