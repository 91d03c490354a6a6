using System.Globalization;
using System.Net;
using System.Text;
using System.Text.RegularExpressions;
using Fondo.Core.Custody;
using Fondo.Core.Days;
using Fondo.Core.Entries;
using Fondo.Core.Journal;
using Fondo.Core.SetUp;
using Fondo.Files;
using Fondo.Files.Mapping;
using Fondo.Files.Reading;
using Fondo.Standins.Bank;
using Fondo.Store.Days;
using Fondo.Store.Intake;
using Fondo.Store.Model;
using Fondo.Store.Settling;
using Fondo.Store.Treasury;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;

namespace Fondo.Web.Tests;

/// <summary>Whatever is taken still reads: random sequences of parts over three days and two registers, valid, late, doubled, cut, in any
/// order, mutated, before and after closes.
/// After every step each known day reads, is worked out, conserves, and no ticket counts twice; its pages answer.</summary>
public sealed class TheLaw : InOwnShop
{
    [Theory]
    [MemberData(nameof(Seeds))]
    public async Task Whatever_is_taken_still_reads(int seed)
    {
        var world = new World(seed);
        var visitor = await Shop.SignedIn();
        for (var step = 0; step < 30; step++)
        {
            var did = await Step(world);
            await Holds(world, $"seed {seed}, step {step}: {did}");
        }

        foreach (var day in await Days(world))
        {
            foreach (var page in new[]
            {
                "board",
                "journal",
                "watch",
                "take-in",
                "count",
                "close",
                "open",
                "approvals",
                "checks",
                "pairing",
                "carried",
                "bridge",
                "open-items",
                "settle",
                "close/revisions",
                "safe",
                "deposit",
                "floats",
                "bank",
                "money",
                "books"
            })
            {
                using var answer = await visitor.Get($"/{new TradingDay(day)}/{page}");
                Assert.True(answer.StatusCode == HttpStatusCode.OK, $"seed {seed}: {page} of {day}: {answer.StatusCode}");
            }
        }
    }

    public static TheoryData<int> Seeds() => [.. Enumerable.Range(
        int.Parse(Environment.GetEnvironmentVariable("LAW_FROM") ?? "1", CultureInfo.InvariantCulture),
        int.Parse(Environment.GetEnvironmentVariable("LAW_DAYS") ?? "6", CultureInfo.InvariantCulture))];

    private async Task<string> Step(World world)
    {
        switch (world.Random.Next(37))
        {
            case 20:
                var printed = await Shop.Ask<PrintedDesk, Store.Outcome>(p =>
                    p.Keep(world.AnyDay(), world.AnyTerminal(), world.Totals(), Shop.Odile));
                return $"printed totals: {(printed.Objection ?? "kept")}";
            case 21 or 22:
                var (rows, totals, closed) = world.Wire();
                var batch = await Shop.Ask<BatchIntake, (DateOnly? Day, string? Objection)>(b => b.Take(rows, totals, closed));
                return $"a batch over the wire: {batch.Day} {batch.Objection}";
            case 23:
                var counted = await Shop.Ask<Counting, Store.Outcome>(c =>
                    c.HandIn(world.AnyDay(), world.AnyTarget(), world.Count(), Shop.Odile));
                return $"a count: {(counted.Objection ?? "kept")}";
            case 24:
                var shape = world.Shape();
                var setup = (await Shop.Ask<Store.SetUp.SetupBook, Store.SetUp.HeldSetup?>(b => b.For(world.First)))!.Setup;
                var mapped = MappedFile.Of("other.csv", Encoding.UTF8.GetBytes(shape),
                    MappingGuess.Of("other.csv", Encoding.UTF8.GetBytes(shape), setup), setup);
                if (mapped.Findings.Count > 0)
                {
                    return $"a file of another shape: {mapped.Findings[0]}";
                }

                var other = await Shop.Ask<DayIntake, IntakeResult>(i =>
                    i.Take([new(mapped.Name, () => new MemoryStream(Encoding.UTF8.GetBytes(mapped.Text)))], world.AnyDay(), "p01"));
                return $"a file of another shape: {other.Added} added, {other.Objection} {string.Join(' ', other.Findings.Take(1))}";
            case 32:
                var amount = $"{world.Random.Next(900)}.{world.Random.Next(100):00}";
                var form = new SafeMovementForm(Guid.NewGuid(), (SafeMovementKind)world.Random.Next(6), amount, "change")
                {
                    Register = new("L1"),
                    Order = world.Random.Next(3) is > 0 and var order ? order : null,
                };
                var moved = await Shop.Ask<SafeDesk, Store.Outcome>(s => s.Move(world.AnyDay(), form, Shop.Odile, Shop.Tamsin));
                return $"the safe: {moved.Objection}";
            case 33:
                return await Deposit(world);
            case 34 or 35:
                return await Statement(world);
            case 36:
                return await AtAPlace(world);
            case 25 or 26:
                return await Resolve(world);
            case 27 or 28:
                return await Pair(world);
            case 29:
                return await Reopen(world);
            case 30:
                return await Answer(world);
            case < 9:
                var register = world.AnyRegister();
                var part = world.Part(register);
                var taken =
                    await Shop.Ask<JournalIntake, PartTaken>(i => i.TakePart(new MemoryStream(Encoding.UTF8.GetBytes(part)), register));
                return $"a part: {taken.Taken} taken, {taken.Known} known, {taken.Aside.Count} aside, {taken.Refusal}";
            case < 12:
                var file = world.Part(null);
                var whole =
                    await Shop.Ask<JournalIntake, PartTaken>(i => i.TakeFile(new MemoryStream(Encoding.UTF8.GetBytes(file)), "p01"));
                return $"a file: {whole.Taken} taken, {string.Join(' ', whole.Findings.Take(1))}";
            case < 15:
                var (date, files) = world.Folder();
                var result = await Shop.Ask<DayIntake, IntakeResult>(i => i.Take(files, date, "p01"));
                return $"a folder of {date}: {result.Added} added, {result.Objection} {string.Join(' ', result.Findings.Take(1))}";
            case < 18:
                var waiting = await Shop.Ask<Waiting, IReadOnlyList<AsideRow>>(w => w.All());
                if (waiting.Where(w => w.Key.StartsWith(world.Prefix, StringComparison.Ordinal)
                    || w.Key.Contains(world.Prefix, StringComparison.Ordinal)).MinBy(_ => world.Random.Next()) is not { } row)
                {
                    return "nothing to decide";
                }

                var how = world.Random.Next(3);
                var outcome = await Shop.Ask<Waiting, Store.Outcome>(w => how switch
                {
                    0 => w.TakeInstead(row.Id, "so it was", Shop.Odile),
                    1 => w.TryAgain(row.Id, Shop.Odile),
                    _ => w.LeaveOut(row.Id, "nonsense", Shop.Odile)
                });
                return $"decided {row.Key} ({how}): {outcome.Objection}";
            default:
                return await Close(world);
        }
    }

    private async Task<DayView?> Any(World world) => (await Days(world)) is { Count: > 0 } days
        ? await Shop.Ask<DayStore, DayView?>(d => d.View(days[world.Random.Next(days.Count)]))
        : null;

    /// <summary>Carries, claims, accepts or takes back something at random.</summary>
    private async Task<string> Resolve(World world)
    {
        if (await Any(world) is not { } view)
        {
            return "no day to resolve";
        }

        var (day, random) = (view.Setup.TradingDay.Date, world.Random);
        if (view.Entries.Count > 0 && random.Next(4) == 0)
        {
            var any = view.Entries[random.Next(view.Entries.Count)].Id;
            var reversed = await Shop.Ask<Resolving, Store.Outcome>(r => r.Reverse(day, Guid.NewGuid(), any, "wrong", Shop.Odile));
            return $"took back on {day}: {reversed.Objection}";
        }

        var carried = Carrying.Open(view.Reconciliation, view.Entries);
        var item = view.Reconciliation.OpenItems.Where(o => o.Item.CarriedFrom is null).MinBy(_ => random.Next());
        var kind = random.Next(3) switch { 0 => EntryKind.Carry, 1 => EntryKind.Claim, _ => EntryKind.Accept };
        EntryDetail? detail = kind switch
        {
            EntryKind.Carry => new EntryDetail.Awaited(new("p01"), Shop.Clock.GetUtcNow().AddDays(2), AwaitedProof.LaterBatch),
            EntryKind.Claim => new EntryDetail.Owed(ClaimParty.Customer, true, new("p01"), Shop.Clock.GetUtcNow().AddDays(2)),
            _ => null,
        };
        var holds = view.Overview.OpenHolds;
        var proposal =
            carried.Length > 0 && random.Next(2) == 0 ? new Proposal(kind, [], detail, "why", [carried[random.Next(carried.Length)].Key])
            : holds.Length > 0 && random.Next(2) == 0 ? new Proposal(kind, [], detail, "why", [holds[random.Next(holds.Length)].Id.Value])
            : item is null ? new Proposal(kind, [], detail, "why", ["nothing"])
            : new Proposal(kind, [new(item.Item.Cell, item.Effect)], detail, "why", [item.Item.Key]);
        var made = await Shop.Ask<Resolving, Store.Outcome>(r => r.Add(day, Guid.NewGuid(), [proposal], Shop.Odile));
        return $"{kind} on {day}: {made.Objection}";
    }

    /// <summary>Seals a deposit of anything, hands one over, or opens one again.</summary>
    private async Task<string> Deposit(World world)
    {
        var (random, day) = (world.Random, world.AnyDay());
        var number = random.Next(1, 6);
        switch (random.Next(4))
        {
            case 0:
                return $"handed over {number}: "
                    + $"{(await Shop.Ask<DepositDesk, Store.Outcome>(d => d.HandOver(number, "a carrier", "S1", Shop.Odile))).Objection}";
            case 1:
                var opened = await Shop.Ask<DepositDesk, Store.Outcome>(d =>
                    d.Unseal(day, number, "a check was forgotten", Shop.Odile, Shop.Tamsin));
                return $"opened {number} again on {day}: {opened.Objection}";
            default:
                if (await Shop.Ask<DayStore, DayView?>(d => d.View(day)) is not { } view)
                {
                    return "no day to seal on";
                }

                var typed = new Dictionary<long, string>
                {
                    [2000] = $"{random.Next(9)}",
                    [25] = random.Next(4) == 0 ? "2*" : "",
                    [random.Next(5) == 0 ? 3 : 1] = $"{random.Next(40)}"
                };
                var sealed_ = await Shop.Ask<DepositDesk, Store.Outcome>(d => d.Seal(
                    day, Guid.NewGuid(), $"{world.Prefix}{random.Next(6)}", typed,
                    [.. view.Money.Custody.End.Checks.Select(c => c.Key).Where(_ => random.Next(3) > 0)], Shop.Odile,
                    new(new("p02"), "Tamsin Okafor", Role.Manager)));
                return $"a deposit on {day}: {(sealed_.Objection ?? "sealed")}";
        }
    }

    /// <summary>A statement of the bank: the next one, one that overlaps, the same again, or one that is damaged somewhere.</summary>
    private async Task<string> Statement(World world)
    {
        var random = world.Random;
        var from = world.First.AddDays(random.Next(-1, 4));
        for (var i = random.Next(4); i > 0; i--)
        {
            world.Bank.Book(from, random.Next(-50_00, 400_00), $"DEPOSIT BAG {world.Prefix}{random.Next(6)}");
        }

        var text = random.Next(3) == 0 && world.LastStatement is { } last
            ? last
            : world.LastStatement = world.Bank.Statement(from, from.AddDays(random.Next(2)), random.Next(2) == 0 ? "02" : "08");
        if (random.Next(3) == 0)
        {
            var at = random.Next(text.Length);
            text = random.Next(2) == 0 ? text[..at] : text.Remove(at, 1).Insert(at, $"{(char)random.Next(32, 127)}");
        }

        var read = CamtFile.Read(new MemoryStream(Encoding.UTF8.GetBytes(text)), TimeZoneInfo.FindSystemTimeZoneById("America/New_York"));
        if (read.Objection is { } unread)
        {
            return $"a statement: {unread}";
        }

        var taken = await Shop.Ask<BankDesk, BankDesk.Taken>(b => b.Take([.. read.Statements], "statement.xml", Shop.Odile.Id.Value));
        return $"a statement: {taken.Lines} lines, {taken.Objection}";
    }

    /// <summary>An entry on the safe, a bag, a float or a line of the bank.</summary>
    private async Task<string> AtAPlace(World world)
    {
        if (await Any(world) is not { } view
            || view.Unresolved.Where(b => b.Cell.Key.IsPlace).MinBy(_ => world.Random.Next()) is not { } off)
        {
            return "no place is off";
        }

        var lead = view.PlaceLeads.FirstOrDefault(l => l.Cell == off.Cell.Key);
        var proposal = lead is not null && world.Random.Next(2) == 0
            ? lead.Proposal(view.Reconciliation, Shop.Odile.Id, lead.Says(view.Setup))
            : new Proposal(EntryKind.Accept, [new(off.Cell.Key, off.Left!.Value)], null, "so it was", []);
        var day = view.Setup.TradingDay.Date;
        var made = await Shop.Ask<Resolving, Store.Outcome>(r => r.Add(day, Guid.NewGuid(), [proposal], Shop.Odile));
        return $"{proposal.Kind} at {off.Cell.Key}: {made.Objection}";
    }

    private async Task<string> Pair(World world)
    {
        if (await Any(world) is not { } view)
        {
            return "no day to pair on";
        }

        var random = world.Random;
        var keys = view.Reconciliation.Matches.SelectMany(m => m.Journal.Concat(m.Rows))
            .Concat(view.Reconciliation.OpenItems.Select(o => o.Item)).Select(i => i.Key).Append("nothing").OrderBy(_ => random.Next())
            .Take(random.Next(1, 5)).ToList();
        var kind = (PairingKind)random.Next(3);
        var day = view.Setup.TradingDay.Date;
        var paired = await Shop.Ask<PairingDesk, Store.Outcome>(p => p.Say(day, Guid.NewGuid(), kind, keys, "why", Shop.Odile));
        return $"{kind} on {view.Setup.TradingDay}: {paired.Objection}";
    }

    private async Task<string> Reopen(World world)
    {
        if (world.Closed.Count == 0)
        {
            return "nothing to open again";
        }

        var day = world.Closed.OrderBy(_ => world.Random.Next()).First();
        var outcome = await Shop.Ask<ClosingDesk, Store.Outcome>(d =>
            d.Reopen(day, "something was found", new(new("p02"), "Tamsin Okafor", Role.Manager)));
        Assert.True(outcome.IsDone, outcome.Objection);
        world.Closed.Remove(day);
        world.Frozen.Remove(day);
        return $"opened {day} again";
    }

    private async Task<string> Answer(World world)
    {
        if (await Any(world) is not { } view)
        {
            return "no day to answer";
        }

        var day = view.Setup.TradingDay.Date;
        var answered = await Shop.Ask<ClosingDesk, Store.Outcome>(d => d.Answer(day,
            [.. view.Reconciliation.TicketFindings.Take(3).Select(f => new ProposedAnswer(f, Core.Entries.Answer.Usual(f.Code), "seen"))],
            Shop.Odile));
        var signed = await Shop.Ask<ClosingDesk, Store.Outcome>(d => d.SignOff(day, new(world.AnyRegister()), Shop.Odile));
        return $"answered and signed off on {day}: {answered.Objection} {signed.Objection}";
    }

    /// <summary>Closes a day as the desk does, without asking its gates.</summary>
    private async Task<string> Close(World world)
    {
        var open = (await Days(world)).Where(d => !world.Closed.Contains(d)).ToList();
        if (open.Count == 0 || world.Closed.Count == 2)
        {
            return "nothing to close";
        }

        var day = open[world.Random.Next(open.Count)];
        using var scope = Shop.Services.CreateScope();
        var db = scope.ServiceProvider.GetRequiredService<StoreContext>();
        var view = (await scope.ServiceProvider.GetRequiredService<DayStore>().View(day))!;
        if (!view.OpenBefore.IsEmpty)
        {
            return $"{day} stays open: an earlier day is open";
        }

        await using var transaction = await db.Database.BeginTransactionAsync();
        var evening = new Microsoft.Extensions.Time.Testing.FakeTimeProvider(World.At(day, 19.5));
        await ActivatorUtilities.CreateInstance<ClosingDesk>(scope.ServiceProvider, evening).Freeze(view, Shop.Odile);
        await transaction.CommitAsync();
        world.Closed.Add(day);
        world.Frozen[day] = Fingerprint(view.Day);
        return $"closed {day}";
    }

    private Task<List<DateOnly>> Days(World world) =>
        Shop.InStore(db => db.Days.Where(d => d.Date >= world.First && d.Date <= world.Last).Select(d => d.Date).ToListAsync());

    private async Task Holds(World world, string after)
    {
        var counted = new Dictionary<EventId, DateOnly>();
        var waiting = new HashSet<EventId>();
        foreach (var day in await Days(world))
        {
            DayView view;
            try
            {
                view = (await Shop.Ask<DayStore, DayView?>(d => d.View(day)))!;
            }
            catch (UnreadableDayException e)
            {
                throw new InvalidOperationException($"{after}: {e.Message}");
            }

            var standing = new Standing(view.Day);
            foreach (var ticket in view.Day.Journal.OfType<Ticket>().Where(standing.Stands))
            {
                Assert.True(counted.TryAdd(ticket.Id, day),
                    $"{after}: {ticket.Id} counts on {day} and on {counted.GetValueOrDefault(ticket.Id)}");
            }

            waiting.UnionWith(view.Day.Waiting.Select(t => t.Id));
            if (world.Frozen.TryGetValue(day, out var frozen))
            {
                Assert.True(frozen == Fingerprint(view.Day), $"{after}: {day} is closed, and is another");
                Assert.True(view.Otherwise.Count == 0,
                    $"{after}: {day} is closed, and its records say otherwise than its document: {string.Join("; ", view.Otherwise)}");
            }
        }

        // Every ticket that was taken counts once, waits, or is voided.
        var (tickets, voided) = await Shop.InStore(async db => (
            await db.Events.Where(e => e.Day >= world.First && e.Day <= world.Last
                && (e.Kind == EventKind.Sale || e.Kind == EventKind.Refund)).Select(e => e.Key).ToListAsync(),
            (await db.Events.Where(e => e.Kind == EventKind.Void).Select(e => e.Original).ToListAsync()).ToHashSet()));
        // What is rung late waits while no day with trade is open behind it.
        var begun = await Shop.InStore(db => db.Days.Where(d => d.Date >= world.First && d.Date <= world.Last && d.HasTrade
            && !db.StandingCloses.Any(c => c.Day == d.Date)).Select(d => d.Date).ToListAsync());
        var filed = await Shop.InStore(db => db.Events.Where(e => e.Day >= world.First && e.Day <= world.Last)
            .ToDictionaryAsync(e => e.Key, e => e.Day));
        var lost = tickets.Where(t => !voided.Contains(t) && !counted.ContainsKey(new(t)) && !waiting.Contains(new(t))
            && begun.Any(d => d > filed[t])).ToList();
        Assert.True(lost.Count == 0, $"{after}: {string.Join(", ", lost)} count nowhere; {await Around(world, lost)}");
        var records = await Shop.InStore(db => db.Records.CountAsync(r => r.Kind == Files.Reading.RecordKind.Event && r.Version == 1
            && r.Day >= world.First && r.Day <= world.Last));
        var keys = await Shop.InStore(db => db.Records.Where(r => r.Kind == Files.Reading.RecordKind.Event && r.Version == 1
            && r.Day >= world.First && r.Day <= world.Last).Select(r => r.Key).Distinct().CountAsync());
        Assert.True(records == keys, $"{after}: an event is there twice");
    }

    /// <summary>What one needs to know to see why.</summary>
    private Task<string> Around(World world, List<string> lost) => Shop.InStore(async db =>
    {
        var tickets = await db.Events.Where(e => lost.Contains(e.Key)).ToListAsync();
        var drawers = tickets.Select(t => t.Drawer).ToList();
        var closes = await db.Events.Where(e => e.Day >= world.First && e.Day <= world.Last && e.Kind == EventKind.Close
            && drawers.Contains(e.Drawer)).ToListAsync();
        var days = await db.Days.Where(d => d.Date >= world.First && d.Date <= world.Last).Select(d => d.Date).ToListAsync();
        var moved = await db.LateTickets.Where(t => lost.Contains(t.Ticket)).ToListAsync();
        return string.Join("; ", tickets.Select(t => $"{t.Key} {t.Register} {t.Drawer} filed {t.Day} at {t.At:u}")
            .Concat(closes.Select(c => $"{c.Drawer} closed {c.Day} at {c.At:u} ({c.Register})"))
            .Concat(days.Select(d => $"day {d}{(world.Closed.Contains(d) ? " closed" : "")}"))
            .Concat(moved.Select(m => $"{m.Ticket} moved to {m.CountsOn}")));
    });

    /// <summary>What a day comes to.</summary>
    private static string Fingerprint(Day day) =>
        string.Join('|', Core.Reconciling.Reconciliation.Of(day).Cells
            .Select(c => $"{c.Key} {c.Expected.Minor} {c.ExpectedCount} {c.Proof?.Minor}"));

    /// <summary>Three days of two registers, as they really were, and everything that can go wrong on the way.</summary>
    private sealed class World
    {
        private static readonly string[] _kinds =
            ["sale", "refund", "void", "hold", "recall", "open", "close", "drop", "loan", "paid-in", "paid-out", "no-sale"];

        private readonly List<(string Register, string Line)> _lines = [];
        private readonly List<string> _ids = [];
        private int _next;

        public World(int seed)
        {
            (Random, Prefix) = (new(seed), $"LAW{seed:000}-");
            First = new DateOnly(2018, 1, 8).AddDays(seed * 7);
            Last = First.AddDays(6);
            for (var d = 0; d < 3; d++)
            {
                foreach (var register in new[] { "L1", "L2" })
                {
                    Trade(register, First.AddDays(d));
                }
            }
        }

        /// <summary>Of all worlds of a store one: its account is the same.</summary>
        public StandInBank Bank { get; } = new("4471-0092-MM", "USD", 0);

        public string? LastStatement { get; set; }

        public Random Random { get; }

        public string Prefix { get; }

        public DateOnly First { get; }

        public DateOnly Last { get; }

        public HashSet<DateOnly> Closed { get; } = [];

        public Dictionary<DateOnly, string> Frozen { get; } = [];

        public static DateTimeOffset At(DateOnly day, double hour) =>
            new DateTimeOffset(day.ToDateTime(TimeOnly.MinValue), TimeSpan.FromHours(-5)).AddSeconds(Math.Round(hour * 3600));

        public string AnyRegister() => Random.Next(2) == 0 ? "L1" : "L2";

        /// <summary>Some lines of a register, or of both: cut anywhere, in any order, some twice, some mutated.</summary>
        public string Part(string? register)
        {
            var own = _lines.Where(l => register is null || l.Register == register || Random.Next(40) == 0).ToList();
            var from = Random.Next(own.Count);
            var lines = own.Skip(from).Take(Random.Next(1, 25)).Select(l => Random.Next(8) == 0 ? Mutated(l.Line) : l.Line).ToList();
            if (Random.Next(3) == 0)
            {
                lines = [.. lines.OrderBy(_ => Random.Next())];
            }

            lines.AddRange(lines.Where(_ => Random.Next(10) == 0).ToList());
            var text = string.Join('\n', lines);
            return Random.Next(12) == 0 ? text[..Random.Next(text.Length)] : text;
        }

        /// <summary>The journal of one day as a file beside others, offered on that day or, by mistake, on another.</summary>
        public (DateOnly Day, List<OfferedFile> Files) Folder()
        {
            var (day, offered) = (First.AddDays(Random.Next(3)), First.AddDays(Random.Next(3)));
            var journal = string.Join('\n',
                _lines.Where(l => l.Line.Contains($"\"at\":\"{day:yyyy-MM-dd}", StringComparison.Ordinal)).Where(_ => Random.Next(4) > 0)
                    .Select(l => Random.Next(60) == 0 ? Mutated(l.Line) : l.Line));
            var rows = "terminal,batch,seq,at,type,amount,tip,cashback,brand,card,auth,rrn,entry,benefit\n"
                + string.Concat(Enumerable.Range(1, Random.Next(4)).Select(n =>
                $"T-01,{Prefix}{day.DayNumber},{n},{Time(At(day, 12))},{(Random.Next(4) == 0 ? "refund" : "sale")},"
                    + $"{Random.Next(1, 60)}.50,,,heron,{Random.Next(3)}234,{Random.Next(3)},{Random.Next(3)},chip,\n"));
            static OfferedFile File(string name, string text) => new(name, () => new MemoryStream(Encoding.UTF8.GetBytes(text)));
            return (offered, Random.Next(2) == 0
                ? [File(DayFiles.Journal, journal)]
                : [File(DayFiles.Journal, journal), File(DayFiles.Rows, rows)]);
        }

        public DateOnly AnyDay() => First.AddDays(Random.Next(4));

        public string AnyTerminal() => Random.Next(8) == 0 ? "T-77" : $"T-0{Random.Next(1, 4)}";

        public Core.Proof.CountTarget AnyTarget() => Random.Next(5) switch
        {
            0 => Core.Proof.CountTarget.Safe,
            1 => Core.Proof.CountTarget.OfBag($"{Prefix}B{Random.Next(40)}"),
            _ => Core.Proof.CountTarget.Of(new DrawerId($"{AnyRegister()}-A"))
        };

        private string Odd(string usual) => Random.Next(6) == 0
            ? new[] { "-1", "", "999999999999", "x", "0.001", "4111111111111111", "=1+1", "\"a,b\"" }[Random.Next(8)]
            : usual;

        public List<TypedTotals> Totals() => [.. Enumerable.Range(0, Random.Next(1, 4))
            .Select(_ => new TypedTotals(Odd(new[] { "heron", "debit", "food benefits", "wic" }[Random.Next(4)]), Odd($"{Random.Next(9)}"),
                Odd($"{Random.Next(90)}.50"), Odd("1"), Odd("2.00")))];

        /// <summary>A batch as a processor gives it out; some odd.</summary>
        public (string Rows, string Totals, DateTimeOffset Closed) Wire()
        {
            var (closed, terminal, batch) = (At(AnyDay(), Random.Next(2, 30)), AnyTerminal(), $"{Prefix}W{Random.Next(4)}");
            return ("terminal,batch,seq,at,type,amount,tip,cashback,brand,card,auth,rrn,entry,benefit\n"
                + string.Concat(Enumerable.Range(1, Random.Next(5))
                    .Select(n =>
                        $"{terminal},{batch},{n},{Time(closed.AddHours(-1))},sale,{Odd($"{Random.Next(1, 60)}.50")},,,{Odd("heron")},1234,"
                            + $"{Random.Next(3)},{Random.Next(3)},chip,\n")),
                $"terminal,batch,closed,sales_count,sales_amount,refunds_count,refunds_amount\n{terminal},{batch},{Time(closed)},"
                    + $"{Odd("2")},{Odd("9.00")},0,0.00\n", closed);
        }

        public HandedIn Count() => new(
            Guid.NewGuid(), new[]
            {
                Core.Proof.CountKind.Closing,
                Core.Proof.CountKind.Spot,
                Core.Proof.CountKind.Drop,
                Core.Proof.CountKind.Safe
            }[Random.Next(4)], Random.Next(1, 3),
            new(new() { [2000] = Odd("12"), [25] = Odd(new[] { "1*+3", "7.50", "226.8/", "3-1" }[Random.Next(4)]) },
                [new("77", Odd("5.50"), Odd(""))], new() { ["coupon"] = Odd("1.00") }), Random.Next(2) == 0 ? "so it is" : null,
            At(AnyDay(), 21))
        {
            Witness = Random.Next(2) == 0 ? new PersonId("p02") : null,
        };

        /// <summary>A flat journal, or a processor's file, of another shape; some odd.</summary>
        public string Shape() => Random.Next(2) == 0
            ? "Receipt No,Register,Date Time,Payment,Amount,Auth\n"
                + string.Concat(Enumerable.Range(1, Random.Next(5))
                    .Select(n =>
                        $"{Odd($"{900 + n}")},{Odd(AnyRegister())},{Odd($"{AnyDay():yyyy-MM-dd} 11:00")},{Odd("cash")},"
                            + $"{Odd($"{Random.Next(1, 60)}.50")},\n"))
            : "Date Time;Terminal;Amount;Reference\n"
                + string.Concat(Enumerable.Range(1, Random.Next(5))
                    .Select(n =>
                        $"{Odd($"{AnyDay():dd.MM.yyyy} 11:00")};{Odd(AnyTerminal())};{Odd($"{Random.Next(1, 60)},50")};"
                            + $"{Odd($"{Prefix}R{n}")}\n"));

        private static string Time(DateTimeOffset at) => at.ToString("yyyy-MM-dd'T'HH:mm:sszzz", CultureInfo.InvariantCulture);

        private string Add(string register, DateOnly day, string session, double hour, string kind, string more)
        {
            var id = $"{Prefix}{register}-{++_next:000000}";
            _ids.Add(id);
            _lines.Add((register,
                $$"""{"id":"{{id}}","register":"{{register}}","drawer":"{{register}}-{{session}}","cashier":"p15","at":"{{Time(At(day, hour))}}","kind":"{{kind}}"{{more}}}"""));
            return id;
        }

        private static string Ticket(string total, string tenders) =>
            $",\"lines\":[],\"subtotal\":\"{total}\",\"tax\":\"0.00\",\"total\":\"{total}\",\"tenders\":[{tenders}]";

        private string Tenders(string total) => Random.Next(5) switch
        {
            0 =>
                $$"""{"type":"credit","amount":"{{total}}","terminal":"T-01","brand":"heron","card":"{{Random.Next(3)}}234","auth":"{{Random.Next(3)}}","rrn":"{{Random.Next(3)}}"}""",
            1 => $$"""{"type":"check","amount":"{{total}}","number":"77"}""",
            2 => $$"""{"type":"credit","amount":"{{total}}","change":"1.00","terminal":"T-02"}""",
            _ => $$"""{"type":"cash","amount":"{{total}}"}""",
        };

        private void Trade(string register, DateOnly day)
        {
            Add(register, day, "A", 8, "open", ",\"amount\":\"200.00\"");
            var tickets = new List<string>();
            for (var n = 0; n < 14; n++)
            {
                var total = $"{Random.Next(1, 60)}.50";
                tickets.Add(Add(register, day, "A", 8.5 + (n * 0.5), "sale", Ticket(total, Tenders(total))));
            }

            Add(register, day, "A", 12.2, "void", $",\"original\":\"{tickets[3]}\"");
            Add(register, day, "A", 12.3, "refund",
                $",\"original\":\"{tickets[5]}\"" + Ticket("-1.50", """{"type":"cash","amount":"-1.50"}"""));
            var hold = Add(register, day, "A", 12.4, "hold", ",\"total\":\"9.00\"");
            Add(register, day, "A", 12.5, "recall", $",\"original\":\"{hold}\"");
            Add(register, day, "A", 13, "drop", $",\"amount\":\"40.00\",\"bag\":\"{Prefix}B{_next}\"");
            Add(register, day, "A", 16, "close", "");
            // Rung after the close of the drawer, after that of the day, and around the end of the trading day; and voids of some of them.
            tickets.Add(Add(register, day, "A", 16.5, "sale", Ticket("3.50", Tenders("3.50"))));
            Add(register, day, "A", 16.6, "void",
                $",\"original\":\"{Add(register, day, "A", 16.55, "sale", Ticket("4.50", Tenders("4.50")))}\"");
            Add(register, day, "A", 20, "sale", Ticket("5.50", Tenders("5.50")));
            Add(register, day, "A", 28.02, "void",
                $",\"original\":\"{Add(register, day, "A", 27.98, "sale", Ticket("6.50", Tenders("6.50")))}\"");
        }

        private string Mutated(string line)
        {
            var any = _ids[Random.Next(_ids.Count)];
            return Random.Next(16) switch
            {
                0 => Regex.Replace(line, "\"kind\":\"[a-z-]+\"",
                    $"\"kind\":\"{_kinds[Random.Next(_kinds.Length)]}\",\"original\":\"{any}\",\"amount\":\"5.00\""),
                1 => Regex.Replace(line, "\"original\":\"[^\"]+\"", $"\"original\":\"{any}\""),
                2 => Regex.Replace(line, "\"drawer\":\"[^\"]+\"", "\"drawer\":\"L2-A\""),
                3 => Regex.Replace(line, "\"at\":\"[^\"]+\"", $"\"at\":\"{Time(At(First.AddDays(Random.Next(-1, 5)), Random.Next(30)))}\""),
                4 => Regex.Replace(line, "\"at\":\"[^\"]+\"",
                    Random.Next(2) == 0 ? "\"at\":\"0001-01-01T00:00:00Z\"" : "\"at\":\"9999-12-31T23:59:59-05:00\""),
                5 => Regex.Replace(line, "\"total\":\"[^\"]+\"", "\"total\":\"999999999.99\""),
                6 => Regex.Replace(line, "\"amount\":\"[^\"]+\"", "\"amount\":\"-999999999.99\""),
                7 => line.Replace("\"id\":\"", "\"id\":\"\\u0041", StringComparison.Ordinal),
                8 => line.Replace("\"id\":", "\"\\u0069d\":\"zzz\",\"id\":", StringComparison.Ordinal),
                9 => Regex.Replace(line, "\"id\":\"[^\"]+\"", $"\"id\":\"{any}\""),
                10 =>
                    Regex.Replace(line, "\"register\":\"[^\"]+\"", $"\"register\":\"{new[] { "L1", "L2", "ZZ", "WO" }[Random.Next(4)]}\""),
                11 => line.Replace("\"tenders\":[",
                    "\"tenders\":[" + string.Concat(Enumerable.Repeat("{\"type\":\"cash\",\"amount\":\"0.00\"},",
                        Random.Next(2) == 0 ? 98 : 1200)), StringComparison.Ordinal),
                12 => line.Replace("\"lines\":[]",
                    "\"lines\":[{\"sku\":\"x\",\"name\":\"x\",\"qty\":\"1\",\"amount\":\"3.00\",\"tax\":\"0.00\",\"taxRate\":\""
                        + new[] { "1", "10000000000", "0.99999999999999999999" }[Random.Next(3)] + "\",\"ebt\":true}]",
                    StringComparison.Ordinal),
                13 => line.Replace("\"type\":\"cash\"", "\"type\":\"ebt-food\",\"terminal\":\"T-01\"", StringComparison.Ordinal),
                14 => line.Remove(Random.Next(line.Length), 1),
                _ => Regex.Replace(line, "\"drawer\":\"[^\"]+\"", "\"drawer\":\"Ü-1\""),
            };
        }
    }
}
