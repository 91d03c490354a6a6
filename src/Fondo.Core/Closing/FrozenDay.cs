using Fondo.Core.Banking;
using Fondo.Core.Books;
using Fondo.Core.Cells;
using Fondo.Core.Days;
using Fondo.Core.Entries;
using Fondo.Core.Journal;
using Fondo.Core.Proof;
using Fondo.Core.Reconciling;
using Fondo.Core.SetUp;
using Fondo.Core.Sheets;

namespace Fondo.Core.Closing;

/// <summary>Writes a day down as its close document has it: amounts as texts, people and registers by their names of today.</summary>
internal sealed class FrozenDay
{
    /// <summary>The shape that is written now; see <see cref="CloseDocument.Fondo"/>.</summary>
    private const int Shape = 4;

    private readonly Overview _overview;
    private readonly DayDecisions _decisions;
    private readonly MoneyDay? _money;
    private readonly CustomerDay? _customers;
    private readonly IDocumentNames _names;
    private readonly ImmutableArray<Bridge> _bridges;
    private readonly AccountingEntry _books;

    public FrozenDay(Overview overview, DayDecisions decisions, MoneyDay? money, CustomerDay? customers, IDocumentNames names)
    {
        (_overview, _decisions, _money, _customers, _names) = (overview, decisions, money, customers, names);
        _bridges =
        [
            .. Result.Cells.Select(c => Bridge.Of(c, Made, Setup.ToleranceOf(c.Key)))
                .OrderBy(b => Setup.Registers.IndexOf(Setup.Registers.FirstOrDefault(r => r.Id == b.Cell.Key.Register)!)),
        ];
        _books = AccountingEntry.Of(Result, Made, money);
    }

    private Reconciliation Result => _overview.Result;

    private Day Day => Result.Day;

    private Setup Setup => Day.Setup;

    private ImmutableArray<Entry> Made => _decisions.Entries;

    public CloseDocument Document(int number, int revision, PersonId? closedBy, DateTimeOffset closedAt)
    {
        ImmutableArray<ClosedItem> open =
            [.. Result.OpenItems.Select(o => new ClosedItem(o.Item.Key, Text(o.Item.Amount), o.Cause.Written()))];
        return new(Shape, number, Setup.Store, Setup.TradingDay.ToString(), Setup.Currency.Code, NameOrNone(closedBy), closedAt, Cells,
            Totals, Entries, Excuses, ClosingCounts, open)
        {
            MinorDigits = Setup.Currency.MinorDigits,
            DecimalMark = Setup.Currency.DecimalMark == Currency.Point ? null : $"{Setup.Currency.DecimalMark}",
            Revision = revision,
            ClosedById = closedBy?.Value,
            TimeZone = Setup.TimeZone.Id,
            Sessions = [.. DrawerSession.In(Day)
                .Select(s => new ClosedSession(s.Register.Value, Setup.NameOf(s.Register), s.Drawer.Value, s.Cashier?.Value,
                    NameOrNone(s.Cashier), s.From, s.Until))],
            OtherCounts = OtherCounts,
            Batches = Batches,
            Findings = Findings,
            Books = [.. _books.Sums.Select(s => new ClosedBookSum(s.Account, s.Register?.Value,
                s.Register is null ? null : Setup.NameOf(s.Register), s.What, Text(s.Amount), s.Number))],
            Whereabouts = Whereabouts,
            Customers = _customers is null ? [] : ClosedCustomerMovement.Of(_customers, _books, _money, Text),
            CustomerAccounts = _customers is null ? [] : ClosedCustomerAccount.Of(_customers, _books, Text),
            Pairings = [.. Day.Pairings.Select(p =>
                new ClosedPairing(p.Kind.Written(), p.Journal, p.Rows, p.Reason, p.By.Value, _names.Of(p.By), p.At))],
            Carried = Carried,
            Signatures = Signatures(closedBy, closedAt),
        };
    }

    private ImmutableArray<ClosedCell> Cells =>
        [.. _bridges.Select(b => Frozen(b, Setup.NameOf(b.Cell.Key.Register), Setup.NameOf(b.Cell.Key.OfTender)))];

    private ImmutableArray<ClosedTender> Totals =>
    [
        .. Setup.Tenders.Select(t => (Tender: t, Cells: _bridges.Where(b => b.Cell.Key.OfTender == t.Id).ToList()))
            .Where(t => t.Cells.Count > 0)
            .Select(t => new ClosedTender(t.Tender.Name, Text(t.Cells.Sum(b => b.Cell.Expected)),
                Text(t.Cells.Sum(b => b.Cell.Proof ?? Money.Zero)), Text(t.Cells.Sum(b => b.Cell.Variance ?? Money.Zero)))
            {
                TenderId = t.Tender.Id.Value
            }),
    ];

    private ImmutableArray<ClosedEntry> Entries =>
    [
        .. Made.OrderBy(e => e.At).ThenBy(e => e.Id).Select(e => new ClosedEntry(
            e.Kind.Written(), e.Reason, _names.Of(e.By), e.At, e.ApprovedBy is { } approver ? _names.Of(approver) : null,
            [.. e.Postings.Select(Posted)])
        {
            Id = e.Id,
            ById = e.By.Value,
            ApprovedById = e.ApprovedBy?.Value,
            Reverses = e.Reverses,
            Together = e.Together,
            Evidence = e.Evidence,
            Says = e.Detail is { } detail ? _names.Of(detail) : null
        }),
    ];

    private ImmutableArray<ClosedExcuse> Excuses =>
    [
        .. _decisions.Excuses.OrderBy(e => e.At).ThenBy(e => e.Item, StringComparer.Ordinal)
            .Select(e => new ClosedExcuse(e.Gate.Written(), e.Item, e.Reason, _names.Of(e.By), e.At) { ById = e.By.Value }),
    ];

    private ImmutableArray<ClosedCount> ClosingCounts =>
    [
        .. Day.Counts.Where(c => c.Kind == CountKind.Closing).OrderBy(c => c.Drawer!.Value.Value, StringComparer.Ordinal)
            .ThenBy(c => c.Attempt).Select(Counted),
    ];

    private ImmutableArray<ClosedCount> OtherCounts =>
    [
        .. Day.Counts.Where(c => c.Kind != CountKind.Closing).OrderBy(c => c.Kind)
            .ThenBy(c => c.Drawer?.Value ?? c.Bag, StringComparer.Ordinal).ThenBy(c => c.Attempt)
            .ThenBy(c => c.Id, StringComparer.Ordinal).Select(Counted),
    ];

    /// <summary>Those with totals first, then those of which only rows came.</summary>
    private ImmutableArray<ClosedBatch> Batches
    {
        get
        {
            var rows = (Day.Rows ?? []).GroupBy(r => (r.Key.Terminal, r.Key.Batch)).ToDictionary(g => g.Key, g => g.ToList());
            return
            [
                .. Day.Totals.OrderBy(t => t.Terminal.Value, StringComparer.Ordinal).ThenBy(t => t.Batch, StringComparer.Ordinal)
                    .Select(t => new ClosedBatch(t.Terminal.Value, t.Batch, t.Closed, t.SalesCount, Text(t.SalesAmount), t.RefundsCount,
                        Text(t.RefundsAmount), rows.TryGetValue((t.Terminal, t.Batch), out var own) ? own.Count : 0)),
                .. rows.Where(r => !Day.Totals.Any(t => (t.Terminal, t.Batch) == r.Key))
                    .OrderBy(r => r.Key.Terminal.Value, StringComparer.Ordinal).ThenBy(r => r.Key.Batch, StringComparer.Ordinal)
                    .Select(r => OfRows(r.Key.Terminal, r.Key.Batch, r.Value)),
            ];
        }
    }

    private ImmutableArray<ClosedFinding> Findings
    {
        get
        {
            var answers = _decisions.Answers.GroupBy(a => a.Finding).ToDictionary(g => g.Key, g => g.MaxBy(a => a.At)!);
            return
            [
                .. Result.TicketFindings.Select(f => answers.GetValueOrDefault(f) is var a && a is null
                    ? new ClosedFinding(f.Ticket.Value, f.Code.Written(), Text(f.Amount), null, null, null, null)
                    : new ClosedFinding(f.Ticket.Value, f.Code.Written(), Text(f.Amount), a.Remedy.Written(), a.Reason, a.By.Value,
                        _names.Of(a.By))),
            ];
        }
    }

    private ClosedMoney? Whereabouts => _money is null
        ? null
        : ClosedMoney.Of(_money, MoneyItem.Of(_overview, _money, Made), Setup, _names.Of,
            _money.Cells.Select(c => Bridge.Of(c, Made, Setup.ToleranceOf(c.Key)))
                .Select(b => Frozen(b, _names.Of(b.Cell.Key), "")));

    private ImmutableArray<ClosedCarry> Carried
    {
        get
        {
            var next = Carrying.Next(Result, Made);
            return
            [
                .. next.Journal.Select(c => Carry(c.Ticket.KeyOf(c.Place).ToString(), c.Day, c.Tender.Amount, c.Owned)),
                .. next.Rows.Select(c => Carry(c.Row.Key.ToString(), c.Day, c.Row.Signed, c.Owned)),
                .. next.Holds.Select(c => Carry(c.Hold.Id.Value, c.Day, c.Hold.Total, c.Owned)),
            ];
        }
    }

    private ImmutableArray<ClosedSignature> Signatures(PersonId? closedBy, DateTimeOffset closedAt) =>
    [
        .. _decisions.SignOffs.GroupBy(s => s.Register).Select(g => g.MaxBy(s => s.At)!)
            .OrderBy(s => s.Register.Value, StringComparer.Ordinal)
            .Select(s => new ClosedSignature($"signed off {Setup.NameOf(s.Register)}", s.By.Value, _names.Of(s.By), s.At)),
        .. closedBy is { } closer
            ? [new ClosedSignature("closed the day", closer.Value, _names.Of(closer), closedAt)]
            : (ClosedSignature[])[],
    ];

    private ClosedBatch OfRows(TerminalId terminal, string batch, List<BatchRow> rows)
    {
        var (sales, refunds) = (rows.Where(r => r.Direction == Direction.Sale).ToList(),
            rows.Where(r => r.Direction == Direction.Refund).ToList());
        return new(terminal.Value, batch, null, sales.Count, Text(sales.Sum(r => r.Amount)), refunds.Count,
            Text(refunds.Sum(r => r.Amount)), rows.Count);
    }

    private ClosedPosting Posted(Posting p) => new(
        p.Cell.IsPlace ? _names.Of(p.Cell) : Setup.NameOf(p.Cell.Register), p.Cell.IsPlace ? null : p.Cell.Drawer?.Value,
        p.Cell is CellKey.Takings taken ? Setup.NameOf(taken.Tender) : "", Text(p.Amount))
    {
        RegisterId = p.Cell.Register?.Value,
        TenderId = p.Cell.Written.Tender
    };

    private ClosedCount Counted(Count c) => new(c.Drawer?.Value ?? "", c.Attempt, NameOrNone(c.By), c.At, Text(c.Cash), c.IsBlind)
    {
        Id = c.Id,
        Kind = c.Kind.Written(),
        Bag = c.Bag,
        ById = c.By?.Value,
        Witness = c.Witness is { } witness ? _names.Of(witness) : null,
        WitnessId = c.Witness?.Value,
        Pieces = [.. c.Pieces.OrderByDescending(p => p.Denomination).Select(p => new ClosedPieces(Text(p.Denomination), p.Number))],
        Checks = [.. c.Checks.Select(k => new ClosedCheck(k.Number, Text(k.Amount), k.Routing))],
        Others = [.. c.Stubs.Select(s => new ClosedStub(s.Tender.Value, Text(s.Amount)))],
    };

    private ClosedCell Frozen(Bridge b, string register, string tender) => new(
        register, b.Cell.Key.Written.Drawer, tender, Text(b.Cell.Expected), TextOrNull(b.Cell.Proof),
        TextOrNull(b.Cell.Variance), Text(b.Explained), TextOrNull(b.Left), b.IsExplained ? "explained" : b.Cell.State.Written())
    {
        RegisterId = b.Cell.Key.Register?.Value,
        TenderId = b.Cell.Key.Written.Tender,
        ExpectedCount = b.Cell.ExpectedCount,
        ProofCount = b.Cell.ProofCount
    };

    private ClosedCarry Carry(string key, TradingDay from, Money amount, Ownership? owned) =>
        new(key, from.ToString(), Text(amount), owned?.Owner.Value, owned is null ? null : _names.Of(owned.Owner), owned?.Deadline);

    private string Text(Money amount) => Setup.Currency.Format(amount);

    private string? TextOrNull(Money? amount) => amount is { } known ? Text(known) : null;

    private string NameOrNone(PersonId? id) => id is { } known ? _names.Of(known) : "";
}
