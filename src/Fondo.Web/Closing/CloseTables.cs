using System.Collections.Immutable;
using System.Globalization;
using Fondo.Core.Checks;
using Fondo.Core.Closing;
using Fondo.Core.Entries;
using Fondo.Core.Matching;
using Fondo.Web.Text;

namespace Fondo.Web.Closing;

/// <summary>One value of a table: a text, or a number that is written like an amount.</summary>
/// <param name="Number">Null for a text.</param>
public readonly record struct TableValue(string Text, decimal? Number)
{
    public static implicit operator TableValue(string? text) => new(text ?? "", null);

    public static implicit operator TableValue(int number) => new(number.ToString("N0", CultureInfo.InvariantCulture), number);
}

/// <param name="IsNumber">Whether it is set to the right.</param>
/// <param name="Share">How much of the width it wants, beside the others.</param>
public sealed record TableColumn(string Name, bool IsNumber = false, int Share = 10);

/// <param name="Kind">Distinguishes sheets of a workbook; short.</param>
public sealed record CloseTable(string Title, string Kind, ImmutableArray<TableColumn> Columns,
    ImmutableArray<ImmutableArray<TableValue>> Rows);

/// <summary>A close document as tables, from its frozen text alone: the page, the print, the PDF, the CSV and the workbook all show
/// these.</summary>
public static class CloseTables
{
    public static ImmutableArray<CloseTable> Of(CloseDocument doc)
    {
        var tables = new DocumentTables(doc);
        return [.. tables.All.Where(t => !t.Rows.IsEmpty)];
    }

    /// <summary>“Trading day Saturday, 21 November 2026, in USD. Closed by Odile Marchetti on …”.</summary>
    public static string Heading(CloseDocument doc)
    {
        var day = DateOnly.TryParseExact(doc.TradingDay, "yyyy-MM-dd", CultureInfo.InvariantCulture, DateTimeStyles.None, out var date)
            ? Say.LongDate(date)
            : doc.TradingDay;
        var at = doc.ClosedAt.ToString("d MMMM yyyy 'at' HH:mm", CultureInfo.InvariantCulture);
        return $"Trading day {day}, in {doc.Currency}. Closed by {doc.ClosedBy} on "
            + $"{at}{(doc.Revision > 1 ? $"; revision {doc.Revision}" : "")}.";
    }

    private static ImmutableArray<TableValue> Row(params ReadOnlySpan<TableValue> values) => [.. values];

    /// <summary>A frozen amount, written as everywhere else.</summary>
    private static TableValue AmountOf(string? text, Core.Amounts.Currency currency)
    {
        if (text is null)
        {
            return "";
        }

        var number = decimal.Parse(text, NumberStyles.AllowLeadingSign | NumberStyles.AllowDecimalPoint, CultureInfo.InvariantCulture);
        return new(currency.Say(new((long)(number * currency.Unit))), number);
    }

    /// <summary>The tables of one document, group by group.</summary>
    private sealed class DocumentTables(CloseDocument doc)
    {
        private readonly Core.Amounts.Currency _currency = doc.CurrencyOf();

        private readonly TimeZoneInfo? _zone =
            doc.TimeZone is { } id && TimeZoneInfo.TryFindSystemTimeZoneById(id, out var known) ? known : null;

        public IEnumerable<CloseTable> All => [.. Totals, .. Explained, .. Drawers, .. Settled, .. Places, .. Booked, .. Origins];

        /// <summary>What was expected and proved.</summary>
        private ImmutableArray<CloseTable> Totals =>
        [
            new("By tender", "tenders", [new("Tender", Share: 22), new("Expected", true), new("Proof", true), new("Over or short", true)],
                [.. doc.Totals.Select(t => Row(t.Tender, Amount(t.Expected), Amount(t.Proof), Amount(t.Variance)))]),
            new("By register", "registers",
                [new("Register", Share: 22), new("Expected", true), new("Proof", true), new("Over or short", true), new("Explained", true)],
                [.. doc.Cells.GroupBy(c => c.Register)
                    .Select(g => Row(g.Key, Sum(g.Select(c => c.Expected)), Sum(g.Select(c => c.Proof)), Sum(g.Select(c => c.Variance)),
                        Sum(g.Select(c => c.Explained))))]),
            new("Every cell", "cells", [new("Register", Share: 18), new("Tender", Share: 14), new("Expected", true), new("Number", true, 7),
                new("Proof", true), new("Number", true, 7), new("Over or short", true), new("Explained", true), new("State", Share: 9)],
                [.. doc.Cells.Select(c => Row(Where(c.Register, c.Drawer), c.Tender, Amount(c.Expected), Count(c.ExpectedCount),
                    Amount(c.Proof), Count(c.ProofCount), Amount(c.Variance), Amount(c.Explained), c.State))]),
        ];

        /// <summary>What persons said of it.</summary>
        private ImmutableArray<CloseTable> Explained =>
        [
            new("Entries", "entries", [
                new("Entry", Share: 9),
                new("Cell", Share: 16),
                new("Amount", true, 9),
                new("Reason and details", Share: 34),
                new("By", Share: 15),
                new("Approved by", Share: 12)
            ],
                [.. doc.Entries.SelectMany(e => Enumerable.Range(0, Math.Max(1, e.Postings.Length))
                    .Select(i => i < e.Postings.Length ? e.Postings[i] : null).Select((p, i) => Row(
                    i == 0 ? (WrittenNames.Read<EntryKind>(e.Kind) is { } kind ? Say.Kind(kind) : e.Kind) : "",
                        p is null ? "" : $"{Where(p.Register, p.Drawer)}, {p.Tender.ToLowerInvariant()}", Amount(p?.Amount),
                    i == 0 ? e.Reason + (e.Says is { } says ? $" ({says})" : "") : "", i == 0 ? $"{e.By}, {At(e.At)}" : "",
                        i == 0 ? e.ApprovedBy : "")))]),
            new("Excused", "excuses", [new("Gate", Share: 12), new("What", Share: 20), new("Reason", Share: 40), new("By", Share: 22)],
                [.. doc.Excuses.Select(e => Row(e.Gate, e.Item, e.Reason, $"{e.By}, {At(e.At)}"))]),
        ];

        /// <summary>Who had which drawer, and what was counted.</summary>
        private ImmutableArray<CloseTable> Drawers =>
        [
            new("Drawer sessions", "sessions",
                [new("Register", Share: 20), new("Drawer", Share: 12), new("Cashier", Share: 22), new("Id", Share: 8),
                    new("From", Share: 14), new("Until", Share: 14)],
                [.. doc.Sessions.Select(s =>
                    Row(s.Register, s.Drawer, s.Cashier, s.CashierId, At(s.From), s.Until is { } until ? At(until) : "not ended"))]),
            new("Counts", "counts", [new("What", Share: 14), new("Attempt", true, 7), new("By", Share: 20), new("Witness", Share: 18),
                new("At", Share: 12), new("Cash", true, 10), new("Pieces", Share: 46)],
                [.. doc.Counts.Concat(doc.OtherCounts).Select(c => Row(Counted(c), c.Attempt, c.By, c.Witness, At(c.At), Amount(c.Cash),
                    string.Join(", ", c.Pieces.Select(p => $"{p.Number} × {AmountOf(p.Denomination, _currency).Text}")
                        .Concat(c.Checks.Select(k => $"check {k.Number} of {AmountOf(k.Amount, _currency).Text}"))
                        .Concat(c.Others.Select(o => $"{o.TenderId} {AmountOf(o.Amount, _currency).Text}")))))]),
        ];

        /// <summary>What was settled, and what stayed open.</summary>
        private ImmutableArray<CloseTable> Settled =>
        [
            new("Batches", "batches", [new("Terminal", Share: 12), new("Batch", Share: 12), new("Closed", Share: 16), new("Sales", true, 8),
                new("Amount", true), new("Refunds", true, 8), new("Amount", true), new("Rows", true, 8)],
                [.. doc.Batches.Select(b => Row(b.Terminal, b.Batch, b.Closed is { } closed ? At(closed) : "", b.SalesCount,
                    Amount(b.SalesAmount), b.RefundsCount, Amount(b.RefundsAmount), b.Rows))]),
            new("Card items that stayed open", "open", [new("What", Share: 26), new("Amount", true), new("Why", Share: 50)],
                [.. doc.OpenItems.Select(o =>
                    Row(o.Key, Amount(o.Amount), WrittenNames.Read<Cause>(o.Cause) is { } cause ? Say.Of(cause) : o.Cause))]),
            new("Ticket checks", "checks",
                [new("Ticket", Share: 16), new("What was found", Share: 34), new("Amount", true, 9), new("To do", Share: 18),
                    new("Reason", Share: 34), new("By", Share: 16)],
                [.. doc.Findings.Select(f => Row(f.Ticket, WrittenNames.Read<FindingCode>(f.Code) is { } code ? code.Words() : f.Code,
                    Amount(f.Amount), f.Remedy is null ? "" : WrittenNames.Read<Remedy>(f.Remedy) is { } remedy ? Say.Of(remedy) : f.Remedy,
                    f.Reason, f.By))]),
            new("Matched by hand", "pairings",
                [new("What", Share: 10), new("Journal", Share: 24), new("Settled", Share: 24), new("Reason", Share: 30),
                    new("By", Share: 20)],
                [.. doc.Pairings.Select(p =>
                    Row(p.Kind, string.Join(" + ", p.Journal), string.Join(" + ", p.Rows), p.Reason, $"{p.By}, {At(p.At)}"))]),
            new("Carried to the next day", "carried",
                [new("What", Share: 26), new("From", Share: 12), new("Amount", true), new("Owner", Share: 22),
                    new("Until", Share: 14)],
                [.. doc.Carried.Select(c => Row(c.Key, c.From, Amount(c.Amount), c.Owner, c.Until is { } until ? At(until) : ""))]),
        ];

        /// <summary>Safe, bags, floats, deposits and bank.</summary>
        private ImmutableArray<CloseTable> Places =>
        [
            new("The safe", "safe", [new("When", Share: 12), new("What", Share: 30), new("In or out", true)],
                [
                    .. (doc.Whereabouts?.Safe ?? [])
                        .Select(l => Row(l.At is { } at ? At(at) : "",
                            $"{l.Kind} {(Guid.TryParse(l.Source, out _) ? "" : l.Source)}".Trim(), Amount(l.Amount))),
                    .. doc.Whereabouts is { } where
                        ? [
                            Row("", "expected", Amount(where.Expected)),
                            Row("", "counted", Amount(where.Counted)),
                            Row("", "at the end", Amount(where.Loose))
                        ]
                        : (ImmutableArray<TableValue>[])[]]),
            new("Safe, bags, floats and bank", "places",
                [new("What", Share: 30), new("Expected", true), new("Proof", true), new("Over or short", true), new("Explained", true),
                    new("State", Share: 9)],
                [.. (doc.Whereabouts?.Cells ?? [])
                    .Select(c => Row(c.Register, Amount(c.Expected), Amount(c.Proof), Amount(c.Variance), Amount(c.Explained), c.State))]),
            new("Deposits sealed", "deposits",
                [new("Deposit", Share: 10), new("Bag", Share: 14), new("Cash", true), new("Checks", true), new("Packed by", Share: 20),
                    new("And", Share: 20), new("At", Share: 12)],
                [.. (doc.Whereabouts?.Sealed ?? [])
                    .Select(d => Row(d.Number.ToString(CultureInfo.InvariantCulture), d.Bag, Amount(d.Cash), Amount(d.Checks), d.By,
                        d.Witness, At(d.At)))]),
            new("The bank’s lines", "bank", [new("Booked", Share: 10), new("The bank says", Share: 44), new("Amount", true)],
                [.. (doc.Whereabouts?.Bank ?? [])
                    .Select(l => Row(l.Booked.ToString("d MMM", CultureInfo.InvariantCulture), l.Text, Amount(l.Amount)))]),
            new("In transit", "on-its-way",
                [new("Where", Share: 18), new("What", Share: 36), new("Since", Share: 10), new("Amount", true), new("Account", Share: 26)],
                [.. (doc.Whereabouts?.Items ?? [])
                    .Select(i => Row(i.Place.Replace('-', ' '), i.Name, i.Since.ToString("d MMM", CultureInfo.InvariantCulture),
                        Amount(i.Amount), i.Account))]),
        ];

        /// <summary>Customers and the books.</summary>
        private ImmutableArray<CloseTable> Booked =>
        [
            new("Paid on account", "paid-on-account",
                [new("Number", Share: 16), new("Name", Share: 30), new("Ticket", Share: 16), new("Paid", true), new("Still owed", true)],
                [.. doc.PaidOnAccount.Select(c => Row(c.Reference.Length == 0 ? "none" : c.Reference, c.Name ?? c.What, c.Ticket,
                    Amount(Turned(c.Amount)), Amount(c.Left)))]),
            new("What customers owe and are owed", "customers",
                [new("Account", Share: 40), new("Owed to the store", true), new("Owed by the store", true)],
                [.. doc.CustomerAccounts.Select(c => c.Balance.StartsWith('-')
                    ? Row(c.Account, "", Amount(Turned(c.Balance)))
                    : Row(c.Account, Amount(c.Balance), ""))]),
            new("The books", "books", [new("Account", Share: 30), new("Register", Share: 14), new("What", Share: 28), new("Debit", true),
                new("Credit", true)],
                [.. doc.Books.Select(b => b.Amount.StartsWith('-')
                    ? Row(b.Account, b.Register, b.What, "", Amount(b.Amount[1..]))
                    : Row(b.Account, b.Register, b.What, Amount(b.Amount), ""))]),
        ];

        /// <summary>Where the records came from, and who signed.</summary>
        private ImmutableArray<CloseTable> Origins =>
        [
            new("How the records came in", "sources",
                [new("What", Share: 20), new("How", Share: 50), new("Records", true, 9), new("Since", Share: 16)],
                [.. doc.Sources.Select(s => Row(Say.Records(s.Kind),
                    Say.Way(WrittenNames.Read<SourceWay>(s.Way) ?? SourceWay.Page, s.By, s.File),
                    s.Records.ToString(CultureInfo.InvariantCulture), At(s.First)))]),
            new("Signed", "signatures", [new("What", Share: 30), new("By", Share: 24), new("Id", Share: 8), new("At", Share: 16)],
                [.. doc.Signatures.Select(s => Row(s.What, s.By, s.ById, At(s.At)))]),
        ];

        private static string Where(string register, string? drawer) => drawer is null ? register : $"{register} ({drawer})";

        private static string Turned(string amount) => amount.StartsWith('-') ? amount[1..] : "-" + amount;

        private static string Counted(ClosedCount c) => c.Kind switch
        {
            "drop" => $"bag {c.Bag}",
            "safe" => "the safe",
            "closing" or null => c.Drawer,
            var kind => $"{c.Drawer}, {kind}"
        };

        private static TableValue Count(int? number) => number is { } known ? known : "";

        private TableValue Amount(string? text) => AmountOf(text, _currency);

        private TableValue Sum(IEnumerable<string?> amounts) => Amount(amounts.OfType<string>()
            .Sum(a => decimal.Parse(a, CultureInfo.InvariantCulture)).ToString(CultureInfo.InvariantCulture));

        private string At(DateTimeOffset at) =>
            (_zone is null ? at : TimeZoneInfo.ConvertTime(at, _zone)).ToString("d MMM HH:mm", CultureInfo.InvariantCulture);
    }
}
