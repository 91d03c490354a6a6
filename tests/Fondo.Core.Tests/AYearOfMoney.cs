using System.Collections.Immutable;
using System.Diagnostics;
using System.Globalization;
using System.Text;
using Fondo.Core.Amounts;
using Fondo.Core.Banking;
using Fondo.Core.Books;
using Fondo.Core.Custody;
using Fondo.Core.Days;
using Fondo.Core.Entries;
using Fondo.Core.Journal;
using Fondo.Core.Proof;
using Fondo.Core.Reconciling;
using Fondo.Core.SetUp;
using Fondo.Core.Sheets;
using Fondo.Files;
using Fondo.Files.Reading;
using Fondo.Files.Writing;
using Fondo.Standins.Bank;
using Fondo.Standins.Days;

namespace Fondo.Core.Tests;

/// <summary>A year of generated days with faults, from drawer to bank: on every evening each clearing account is what is still on its way,
/// item by item; every entry balances;
/// two programs that keep books come to the same balances. The bank is a stand-in that finds notes short, splits deposits, pays late, pays
/// otherwise, and bills.</summary>
public sealed class AYearOfMoney
{
    private const int Days = 365;

    private static readonly string[] _clearing = ["Assets:Cash to deposit", "Assets:Checks to deposit", "Assets:Deposits on the way",
        "Assets:Card clearing", "Assets:Benefit clearing"];

    private static readonly ImmutableArray<Processor> _processors =
    [
        new("cards", "Cards", "QUILL 20441", [TenderId.Credit, TenderId.Debit, TenderId.Online], 2, true,
            [new("heron", 0.0175m, new(8)), new("", 0.02m, new(10))]),
        new("benefits", "Benefits", "HARVEST HOST", [TenderId.EbtFood, TenderId.EbtCash, TenderId.Wic], 1, false,
            [new("", 0.001m, new(2))]),
    ];

    private readonly Random _random = new(20260101);
    private readonly StandInBank _bank = new("4471-0092-MM", "USD", 10_000_00);
    private readonly Dictionary<string, Money> _accounts = [];
    private readonly StringBuilder _journal = new();
    private readonly HashSet<EntryKind> _kinds = [];
    private readonly HashSet<string> _found = [];
    private MoneyStart _start = MoneyStart.Unknown;
    private Dictionary<RegisterId, Count> _floats = [];
    private DateOnly? _stated;
    private int _deposits;

    [Fact]
    public void Every_clearing_account_is_what_is_on_its_way()
    {
        for (var number = 0; number < Days; number++)
        {
            Play(number, new DateOnly(2026, 1, 1).AddDays(number));
        }

        // The year had what it was meant to have.
        Assert.Empty(new[]
        {
            "WholeDeposit",
            "DepositPart",
            "Funded",
            "Fees",
            "@deposit",
            "@funding",
            "@bank",
            "@bag",
            "@float",
            "@safe",
            "claim paid",
            "given up",
            "paid at a drawer"
        }.Except(_found));
        Assert.Empty(new[] { EntryKind.Accept, EntryKind.Recount, EntryKind.Claim, EntryKind.Carry, EntryKind.Record }.Except(_kinds));
        foreach (var program in new[] { "ledger", "hledger" })
        {
            Assert.Equal(_accounts.Where(a => !a.Value.IsZero).ToDictionary(a => a.Key, a => a.Value.Minor / 100m)
                .OrderBy(a => a.Key, StringComparer.Ordinal), Balances(program).OrderBy(a => a.Key, StringComparer.Ordinal));
        }
    }

    private void Play(int number, DateOnly date)
    {
        var (result, lines) = (Reconciliation.Of(DayOf(number, date)), Statement(date));
        List<Entry> entries = [];
        var acts = CustodyActs.None;
        MoneyDay Now() => MoneyDay.Of(Overview.Of(result), new FloatsBefore(Overview.Of(result), _floats), entries, _start, acts, lines,
            Funding.Of(result));

        // The safe is counted late at night, and sometimes wrongly.
        if (number % 11 != 5)
        {
            var expected = Now().Custody.Expected ?? new Money(1_500_00);
            var counted = expected + new Money(number % 17 == 3 ? _random.Next(-40_00, 40_00) : 0);
            if (counted.Sign > 0)
            {
                result = Reconciliation.Of(result.Day with
                {
                    Counts = result.Day.Counts.Add(new($"safe-{number}", CountKind.Safe, null, null, new("p01"), new("p02"), At(date, 22),
                        1, [new(new(1), (int)counted.Minor)], [], []))
                });
            }
        }

        // Whatever is off is explained, a little of everything.
        for (var turn = 0; turn < 3; turn++)
        {
            var money = Now();
            foreach (var cell in result.Cells.Concat(money.Cells).ToList())
            {
                if (Bridge.Of(cell, entries, result.Day.Setup.ToleranceOf(cell.Key)) is
                    {
                        IsUnresolved: true,
                        Left: { IsZero: false } left
                    })
                {
                    _found.Add(cell.Key.Written.Tender);
                    entries.Add(Paid(cell.Key, money, result, entries, date) ?? Explain(cell.Key, left, date));
                }
            }
        }

        entries.AddRange(EndOfAClaim(number, date));
        var free = Now().Custody.End.Loose - new Money(1_000_00);
        if (number % 7 != 6 && free is { Sign: > 0 } amount)
        {
            acts = acts with
            {
                Deposits = [new(++_deposits, new(date), $"BAG{_deposits:0000}", [new(new(1), (int)amount.Minor)],
                    number % 5 == 4 ? [] : Now().Custody.End.Checks, new("p01"), new("p02"), At(date, 22.5))]
            };
        }

        // Now and then a bag that did not leave yet is opened again.
        if (number % 29 == 20 && _start.Bank.Deposits.FirstOrDefault(d => d.Deposit.HandedOver is null) is { } sealed_)
        {
            acts = acts with
            {
                Deposits = acts.Deposits.Add(sealed_.Deposit with
                {
                    Unsealed = new(new(date), "a check was forgotten", new("p01"), At(date, 22.6))
                })
            };
        }

        var day = Now();
        foreach (var match in day.Bank.Matches)
        {
            _found.Add(match.GetType().Name);
        }

        Hand(number, date, day);
        Post(number, date, result, entries, day);
        _start = day.End;
        _floats = result.Day.Setup.Registers.Select(r => (r.Id,
            Count: FloatsBefore.Latest(Sessions(result.Day, r.Id)) ?? _floats.GetValueOrDefault(r.Id))).Where(f => f.Count is not null)
            .ToDictionary(f => f.Id, f => f.Count!);
    }

    /// <summary>Of the claims that nobody paid, an old one is given up now and then, or paid at a drawer.</summary>
    private IEnumerable<Entry> EndOfAClaim(int number, DateOnly date)
    {
        if (number % 9 != 3 || _start.Claims.FirstOrDefault(c => c.Day.Date < date.AddDays(-8)) is not { } old)
        {
            yield break;
        }

        var way = number % 2 == 0 ? null : new EntryDetail.Moved(old.Amount.Sign < 0 ? MovementKind.PaidOut : MovementKind.PaidIn);
        yield return new(Guid.NewGuid(), way is null ? EntryKind.Accept : EntryKind.Record, [], "so it was", new("p01"), At(date, 22.3),
            [old.Key], null, false, null)
        { Detail = way };
        _found.Add(way is null ? "given up" : "paid at a drawer");
    }

    /// <summary>The day's entry goes to the accounts, which are what lies there and is on its way.</summary>
    private void Post(int number, DateOnly date, Reconciliation result, List<Entry> entries, MoneyDay day)
    {
        var entry = AccountingEntry.Of(result, entries, day);
        Assert.Equal(Money.Zero, entry.Balance);
        foreach (var sum in entry.Sums)
        {
            _accounts[sum.Account] = _accounts.GetValueOrDefault(sum.Account) + sum.Amount;
        }

        var items = MoneyItem.Of(Overview.Of(result), day, entries);
        foreach (var (account, use) in new[]
        {
            ("Assets:Claims", "claim-owed"),
            ("Liabilities:Claims", "claim-owing"),
            ("Assets:Carried items", "carried")
        })
        {
            Assert.Equal((date, account, _accounts.GetValueOrDefault(account)),
                (date, account, items.Where(i => i.Use == use).Sum(i => i.Amount)));
        }

        foreach (var account in _clearing)
        {
            var there = items.Where(i => (i.Place is MoneyPlace.SealedDeposit or MoneyPlace.DepositOnTheWay ? "Assets:Deposits on the way"
                : i.Account is { } t ? result.Day.Setup.Find(t)!.Account
                : "") == account).Sum(i => i.Amount);
            Assert.True(there == _accounts.GetValueOrDefault(account),
                $"{date:yyyy-MM-dd} {account}: {_accounts.GetValueOrDefault(account).Minor} by the entries, {there.Minor} by the items");
        }

        _journal.Append(BooksText.Journal(new(date, $"close {number + 1}", "Mossgate Market Hall"), entry, result.Day.Setup.Currency,
            r => result.Day.Setup.NameOf(r)));
    }

    private static IEnumerable<SessionCount> Sessions(Day day, RegisterId register) =>
        from session in DrawerSession.In(day)
        where session.Register == register
        from count in day.Counts
        where count.Drawer == session.Drawer
        select new SessionCount(session.From, count);

    /// <summary>A faulty day under its own date; some drawers opened with another float than was left, some bags holding otherwise than
    /// recorded.</summary>
    private static Day DayOf(int number, DateOnly date)
    {
        var made = DayMaker.MakeFaulty(7_000 + number, 3, 36, number % 4, overlap: false);
        var builder = new DayBuilder();
        foreach (var (name, text) in made.Files.Where(f => f.Key != DayFiles.Carried))
        {
            var dated = text.Replace("2026-11-22", "@next@", StringComparison.Ordinal)
                .Replace("2026-11-21", date.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture), StringComparison.Ordinal)
                .Replace("@next@", date.AddDays(1).ToString("yyyy-MM-dd", CultureInfo.InvariantCulture), StringComparison.Ordinal);
            builder.Take(name, new MemoryStream(Encoding.UTF8.GetBytes(dated)));
        }

        var day = builder.Build().Day!;
        day = day with { Setup = day.Setup with { Processors = _processors } };
        if (number % 13 == 7 && day.Journal.OfType<SessionOpen>().FirstOrDefault() is { } open)
        {
            day = day with { Journal = day.Journal.Replace(open, open with { Float = open.Float - new Money(10_00) }) };
        }

        if (number % 10 == 9 && day.Counts.FirstOrDefault(c => c.Kind == CountKind.Drop) is { Pieces: [var piece, ..] } bag)
        {
            day = day with
            {
                Counts = day.Counts.Replace(bag, bag with { Pieces = bag.Pieces.SetItem(0, piece with { Number = piece.Number + 1 }) })
            };
        }

        // A bag that is opened only on the next day.
        return number % 23 == 11 && day.Counts.FirstOrDefault(c => c.Kind == CountKind.Drop) is { } late
            ? day with { Counts = day.Counts.Remove(late) }
            : day;
    }

    /// <summary>What the bank's line says of a claim, taken as its lead proposes.</summary>
    private Entry? Paid(CellKey key, MoneyDay money, Reconciliation result, List<Entry> entries, DateOnly date)
    {
        var bridges = result.Cells.Concat(money.Cells)
            .ToDictionary(c => c.Key, c => Bridge.Of(c, entries, result.Day.Setup.ToleranceOf(c.Key)));
        if (key is not CellKey.BankLine
            || money.Leads(Overview.Of(result), bridges)
                .FirstOrDefault(l => l.Cell == key && l.Kind == Leads.LeadKind.ClaimPaid) is not { } lead)
        {
            return null;
        }

        _found.Add("claim paid");
        var made = lead.Proposal(result, new("p01"), "as it says");
        return new(Guid.NewGuid(), made.Kind, made.Postings, made.Reason, new("p01"), At(date, 22.2), made.Evidence, null, false, null)
        {
            Detail = made.Detail
        };
    }

    private Entry Explain(CellKey key, Money left, DateOnly date)
    {
        var until = At(date.AddDays(3), 12);
        (EntryKind Kind, EntryDetail? Detail)[] ways = key switch
        {
            CellKey.Takings { Drawer: not null } taken when taken.Tender == TenderId.Cash =>
                [
                    (EntryKind.Accept, null),
                    (EntryKind.Recount, new EntryDetail.Recounted("k-01", [])),
                    (EntryKind.Record, new EntryDetail.Moved(MovementKind.Loan)),
                    (EntryKind.Record, new EntryDetail.Moved(MovementKind.Drop, $"B-{date:MMdd}")),
                    (EntryKind.Record, new EntryDetail.Moved(MovementKind.PaidOut)),
                    (EntryKind.Claim, new EntryDetail.Owed(ClaimParty.Customer, left.Sign < 0, new("p01"), until))
                ],
            CellKey.Safe or CellKey.Bag => [
                (EntryKind.Accept, null),
                (EntryKind.Recount, new EntryDetail.Recounted("k-01", [])),
                (EntryKind.Record, new EntryDetail.Moved(MovementKind.Change))
            ],
            CellKey.Takings taken when taken.Tender == TenderId.Check =>
                [(EntryKind.Accept, null), (EntryKind.Recount, new EntryDetail.Recounted("k-01", []))],
            not CellKey.Takings =>
                [(EntryKind.Accept, null), (EntryKind.Claim, new EntryDetail.Owed(ClaimParty.Bank, left.Sign < 0, new("p01"), until))],
            _ => [
                (EntryKind.Accept, null),
                (EntryKind.Carry, new EntryDetail.Awaited(new("p01"), until, AwaitedProof.LaterBatch)),
                (EntryKind.Recount, new EntryDetail.Recounted("k-01", [])),
                (EntryKind.Claim, new EntryDetail.Owed(ClaimParty.Processor, left.Sign < 0, new("p01"), until))
            ],
        };
        var (kind, detail) = ways[_random.Next(ways.Length)];
        _kinds.Add(kind);
        return new(Guid.NewGuid(), kind, [new(key, left)], "so it was", new("p01"), At(date, 22.2), [], null, false, null)
        {
            Detail = detail
        };
    }

    /// <summary>What is handed over, and what the bank and the processors make of it.</summary>
    private void Hand(int number, DateOnly date, MoneyDay day)
    {
        foreach (var deposit in day.Acts.Deposits.Where(d => d.Stands && d.Day.Date == date && number % 29 != 19))
        {
            if (number % 37 == 9)
            {
                _bank.Book(StandInBank.NextBankDay(date), deposit.Amount.Minor - 10_00, $"DEPOSIT BAG {deposit.Bag}");
            }
            else if (number % 6 == 2)
            {
                // No bag's number on the line: only the amount tells.
                _bank.Book(StandInBank.NextBankDay(date), deposit.Amount.Minor, "DEPOSIT AT THE COUNTER");
            }
            else
            {
                _bank.Receive(deposit.Bag, date, deposit.Cash.Minor, deposit.CheckAmount.Minor, number % 40 == 8 ? 20_00 : 0,
                    number % 9 == 4);
            }
        }

        foreach (var funding in day.Settled)
        {
            var processor = _processors.First(p => p.Id == funding.Processor);
            _bank.Pay(processor.Reference, number % 31 == 12 ? BankDays.After(funding.Due, 3) : funding.Due,
                funding.Expected.Minor - (number % 25 == 14 ? 1_37 : 0), funding.Number, date);
        }

        if (date.Day == 28 && day.Bank.End.Fees is [var fee, ..] && date.DayOfWeek is not (DayOfWeek.Saturday or DayOfWeek.Sunday))
        {
            _bank.Book(date.AddDays(0), -fee.Amount.Minor, "HARVEST HOST FEES");
        }

        if (number % 8 == 6 && day.Claims.FirstOrDefault(c => c.Day.Date < date.AddDays(-3)) is { } claim)
        {
            _bank.Book(StandInBank.NextBankDay(date), claim.Amount.Minor, "BY REQUEST");
        }

        if (number % 33 == 5)
        {
            _bank.Book(StandInBank.NextBankDay(date), -_random.Next(5_00, 80_00), "QUILL 20441 DISPUTED CHARGE");
        }
    }

    /// <summary>What came to the bank until this morning, by the file that it sends.</summary>
    private ImmutableArray<BankLine> Statement(DateOnly date)
    {
        if (date.DayOfWeek is DayOfWeek.Saturday or DayOfWeek.Sunday)
        {
            return [];
        }

        var read = CamtFile.Read(new MemoryStream(Encoding.UTF8.GetBytes(_bank.Statement(_stated?.AddDays(1) ?? date, date,
            date.Day % 2 == 0 ? "02" : "08"))), TimeZoneInfo.FindSystemTimeZoneById("America/New_York"));
        Assert.Null(read.Objection);
        _stated = date;
        foreach (var statement in read.Statements)
        {
            Assert.Null(statement.Objection(["4471-0092-MM"], Currency.Of("USD")));
        }

        return [.. read.Statements.SelectMany(s => s.Lines).Select(l => l with { Day = new(date) })];
    }

    private Dictionary<string, decimal> Balances(string program)
    {
        var file = Path.GetTempFileName();
        try
        {
            File.WriteAllText(file, _journal.ToString());
            using var process = Process.Start(new ProcessStartInfo(program, $"-f {file} bal --flat --no-total")
            {
                RedirectStandardOutput = true,
                RedirectStandardError = true
            })!;
            var said = process.StandardOutput.ReadToEnd();
            Assert.True(process.WaitForExit(30_000) && process.ExitCode == 0, process.StandardError.ReadToEnd());
            return said.Split('\n', StringSplitOptions.RemoveEmptyEntries)
                .Select(l => l.Trim().Split("  ", 2, StringSplitOptions.TrimEntries))
                .ToDictionary(l => l[1], l => decimal.Parse(
                    l[0].Replace("USD", "", StringComparison.Ordinal).Replace(",", "", StringComparison.Ordinal).Trim(),
                    CultureInfo.InvariantCulture));
        }
        finally
        {
            File.Delete(file);
        }
    }

    private static DateTimeOffset At(DateOnly date, double hour) =>
        new DateTimeOffset(date.ToDateTime(TimeOnly.MinValue), TimeSpan.FromHours(-5)).AddHours(hour);
}
