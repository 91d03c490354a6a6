using System.Collections.Immutable;
using System.Globalization;
using Fondo.Core.Amounts;
using Fondo.Core.Banking;
using Fondo.Core.Custody;
using Fondo.Core.Entries;
using Fondo.Core.Journal;
using Fondo.Core.Proof;
using Fondo.Core.SetUp;
using Fondo.Core.Sheets;
using Fondo.Store.Days;
using Fondo.Store.Model;
using Microsoft.EntityFrameworkCore;

namespace Fondo.Store.Treasury;

/// <summary>Puts together where the money is on a day: what the close before left, and what was done since.</summary>
public sealed class MoneyBook(StoreContext db, CloseOrder chain)
{
    /// <summary>So far back a bank corrects a deposit.</summary>
    private const int WeeksBack = 10;

    private const int MostCharges = 3;

    /// <param name="close">The number of the day's own close: then it begins with what was known before that one.</param>
    /// <param name="before">What the day before leaves as it stands, where that one is still open; null: as the last close says.</param>
    internal async Task<(MoneyDay Money, FloatsBefore Floats)> Of(KnownDay known, IReadOnlyCollection<Entry> entries, int? close,
        MoneyStart? before)
    {
        var setup = known.Overview.Result.Day.Setup;
        var date = setup.TradingDay.Date;
        var floats = await Before(known.Overview);
        var acts = new CustodyActs(
            [.. (await db.SafeMovements.AsNoTracking().Where(m => m.Day == date).OrderBy(m => m.At).ToListAsync()).Select(ToMovement)],
            await Deposits(db.Deposits.Where(d => d.Day == date || db.Unsealings.Any(u => u.Number == d.Number && u.Day == date))))
        {
            Orders = [.. (await db.ChangeOrders.AsNoTracking().Where(o => o.Day == date).OrderBy(o => o.Number).ToListAsync())
                .Select(o => new OpenOrder(o.Number, new(o.Day), ReadPieces(o.Pieces), Money.Zero, Money.Zero, new(o.By)))],
        };
        var lines = await Lines(date);
        var earlier = lines.Any(l => l.Amount.Sign < 0)
            ? await Deposits(db.Deposits.Where(d => d.Day >= date.AddDays(-WeeksBack * 7) && d.Day <= date))
            : [];
        var start = await Start(date, close, setup.Currency, before);
        var day = MoneyDay.Of(known.Overview, floats, entries, start, acts, lines, known.Settled, earlier.Where(d => d.Stands),
            await Decisions(date));
        return (day with { Charges = await TakenBack(day.Bank, setup), Earlier = earlier }, floats);
    }

    /// <summary>The bank's lines that are looked at on a day.</summary>
    private async Task<ImmutableArray<BankLine>> Lines(DateOnly date)
    {
        var rows = await (
            from line in db.BankLines.AsNoTracking()
            join statement in db.BankStatements on line.Statement equals statement.Id
            where ((line.Day == date && !line.Waits) || db.BankLineDays.Any(d => d.Key == line.Key && d.Day == date))
                && !db.StatementWithdrawals.Any(w => w.Statement == line.Statement)
            select new { Line = line, statement.Account }).ToListAsync();
        return [.. rows.Select(r => BankDesk.ToLine(r.Line) with { Account = r.Account }).OrderBy(l => l.Booked)
            .ThenBy(l => l.Key, StringComparer.Ordinal)];
    }

    /// <summary>What persons decided about them, in its order.</summary>
    private async Task<ImmutableArray<BankDecision>> Decisions(DateOnly date) =>
    [
        .. (await db.BankDecisions.AsNoTracking().Where(d => d.Day == date).OrderBy(d => d.Number).ToListAsync())
            .Select(d => new BankDecision(d.Id, d.Kind, d.Line, BankTarget.Parse(d.Target), d.Reason, new(d.By), d.At)),
    ];

    /// <summary>The card tenders of the weeks before whose amount an open line of their processor takes back.</summary>
    private async Task<ImmutableArray<ChargeTakenBack>> TakenBack(BankDay bank, Setup setup)
    {
        var found = ImmutableArray.CreateBuilder<ChargeTakenBack>();
        foreach (var line in bank.Open.Where(l => l.Amount.Sign < 0))
        {
            var types = setup.Processors.Where(p => line.Names(p.Reference)).SelectMany(p => p.Tenders).Select(t => t.Value).ToList();
            var (amount, from) = (-line.Amount.Minor, line.Booked.AddDays(-WeeksBack * 7));
            var sales = types.Count == 0 ? [] : await db.Tenders.AsNoTracking().Where(t => t.Amount == amount && types.Contains(t.Type))
                .Join(db.Events.Where(e => e.Day >= from && e.Day <= line.Booked && e.Kind == EventKind.Sale),
                    t => t.Id / TenderRow.PlacesOfATicket, e => e.Id, (t, e) => new { t.Type, t.LastFour, e.Key, e.Day, e.Register, e.At })
                .OrderByDescending(s => s.At).Take(MostCharges).ToListAsync();
            found.AddRange(sales.Select(s =>
                new ChargeTakenBack(line.Key, new(s.Key), new(s.Day), new(s.Register), s.At, new(s.Type), s.LastFour)));
        }

        return found.ToImmutable();
    }

    /// <summary>A deposit by its number; null where there is none.</summary>
    public async Task<Deposit?> Deposit(int number) => (await Deposits(db.Deposits.Where(d => d.Number == number))).FirstOrDefault();

    /// <summary>The deposits of a query, by number.</summary>
    internal async Task<ImmutableArray<Deposit>> Deposits(IQueryable<DepositRow> which)
    {
        var rows = await which.AsNoTracking().OrderBy(d => d.Number).ToListAsync();
        if (rows.Count == 0)
        {
            return [];
        }

        var numbers = rows.Select(r => r.Number).ToList();
        var handed = await db.HandOvers.AsNoTracking().Where(h => numbers.Contains(h.Number)).ToDictionaryAsync(h => h.Number);
        var opened = await db.Unsealings.AsNoTracking().Where(u => numbers.Contains(u.Number)).ToDictionaryAsync(u => u.Number);
        return [.. rows.Select(r => ToDeposit(r, handed.GetValueOrDefault(r.Number), opened.GetValueOrDefault(r.Number)))];
    }

    /// <summary>What the days before left: as the last one that was closed handed it on, with the corrections that are posted on this
    /// day.</summary>
    private async Task<MoneyStart> Start(DateOnly date, int? close, Currency currency, MoneyStart? live)
    {
        var start = live is not null ? live with { Corrections = [] }
            : await chain.Before(date, close) is { } last ? await StartOf(last, currency)
            : MoneyStart.Unknown;
        foreach (var correction in await chain.PostedOn(date))
        {
            var after = (await chain.Document(correction))!;
            var before = after.Corrects is { } number ? await chain.Document(number) : null;
            start = start.With(before is null ? MoneyStart.Unknown : await StartOf(before.Number, currency),
                await StartOf(correction, currency));
            _ = TradingDay.TryParse(after.TradingDay, out var corrected);
            // A day that was closed for the first time behind later ones had no entry yet.
            var posted = before?.TradingDay == after.TradingDay ? before.ToAccountingEntry() : new([]);
            start = start with
            {
                Corrections = start.Corrections.Add(new(correction, corrected,
                    [.. posted.CorrectionTo(after.ToAccountingEntry()).Sums
                        .Select(s => new CorrectedSum(s.Account, s.Register, s.What, s.Amount))]))
            };
        }

        return start;
    }

    private async Task<MoneyStart> StartOf(int close, Currency currency)
    {
        if (await chain.Document(close) is not { Whereabouts: { } money })
        {
            return MoneyStart.Unknown;
        }

        var numbers = money.OpenDeposits.Select(d => d.Number).ToList();
        var deposits = numbers.Count == 0
            ? []
            : (await Deposits(db.Deposits.Where(d => numbers.Contains(d.Number)))).ToDictionary(d => d.Number);
        return money.ToStart(currency, deposits.GetValueOrDefault);
    }

    /// <summary>How the floats were left before a day, register by register.</summary>
    private async Task<FloatsBefore> Before(Overview overview)
    {
        var setup = overview.Result.Day.Setup;
        var left = new Dictionary<RegisterId, Count>();
        var wanted = setup.Registers.Where(r => r.Kind != RegisterKind.Online).Select(r => r.Id).ToHashSet();
        await foreach (var counts in EarlierCounts.Before(db, setup.TradingDay.Date, setup))
        {
            foreach (var register in wanted.Where(r => counts.Contains(r)).ToList())
            {
                if (FloatsBefore.Latest(counts[register]) is { } last)
                {
                    left[register] = last;
                }
            }

            wanted.ExceptWith(left.Keys);
            if (wanted.Count == 0)
            {
                break;
            }
        }

        return new(overview, left);
    }

    internal static string Write(IEnumerable<Pieces> pieces) => string.Join('\n',
        pieces.Where(p => p.Number > 0).Select(p => string.Create(CultureInfo.InvariantCulture, $"{p.Denomination.Minor}x{p.Number}")));

    private static ImmutableArray<Pieces> ReadPieces(string text) =>
        [.. text.Split('\n', StringSplitOptions.RemoveEmptyEntries).Select(l => l.Split('x'))
            .Select(p => new Pieces(new(long.Parse(p[0], CultureInfo.InvariantCulture)), int.Parse(p[1], CultureInfo.InvariantCulture)))];

    /// <summary>As <see cref="HeldCheck.Key"/> has it; the number is what stands between the drawer and the last two parts.</summary>
    private static HeldCheck ReadCheck(string key)
    {
        var parts = key.Split('|');
        _ = TradingDay.TryParse(parts[0], out var day);
        return new(day, new(parts[1]), string.Join('|', parts[2..^2]), new(long.Parse(parts[^2], CultureInfo.InvariantCulture)),
            int.Parse(parts[^1], CultureInfo.InvariantCulture));
    }

    private static Deposit ToDeposit(DepositRow r, HandOverRow? handed, UnsealingRow? opened) => new(
        r.Number, new(r.Day), r.Bag, ReadPieces(r.Pieces),
        [.. r.Checks.Split('\n', StringSplitOptions.RemoveEmptyEntries).Select(ReadCheck)], new(r.By), new(r.Witness), r.At)
    {
        HandedOver = handed is null ? null : new(handed.To, handed.Seal, new(handed.By), handed.At),
        Unsealed = opened is null ? null : new(new(opened.Day), opened.Reason, new(opened.By), opened.At),
    };

    private static SafeMovement ToMovement(SafeMovementRow r) => new(r.Id, new(r.Day), r.Kind, new(r.Amount), r.Reason, new(r.By), r.At)
    {
        Witness = r.Witness is null ? null : new(r.Witness),
        Register = r.Register is null ? null : new(r.Register),
        Order = r.Order,
        Pieces = ReadPieces(r.Pieces),
    };
}
