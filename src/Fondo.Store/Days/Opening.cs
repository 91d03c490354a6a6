using System.Text.Json.Nodes;
using Fondo.Core.Amounts;
using Fondo.Core.Cash;
using Fondo.Core.Days;
using Fondo.Core.Journal;
using Fondo.Core.Proof;
using Fondo.Files.Reading;
using Fondo.Files.Text;
using Fondo.Store.Intake;
using Fondo.Store.Model;
using Fondo.Store.SetUp;
using Microsoft.EntityFrameworkCore;

namespace Fondo.Store.Days;

/// <summary>What should be in a drawer when it is opened, and who left it.</summary>
/// <param name="LeftBy">Who counted this register last, and when; null where nobody did.</param>
public sealed record FloatExpected(Money Amount, PersonId? LeftBy, DateTimeOffset? LeftAt);

/// <summary>Opens drawer sessions: the float counted, or the standard one accepted.</summary>
public sealed class Opening(StoreContext db, DayStore days, DayLock guard, SetupBook book, TimeProvider clock)
{
    /// <summary>Begins today's trading day with the set-up that holds; the day when it has begun already.</summary>
    /// <returns>Null when nothing is set up.</returns>
    public async Task<DateOnly?> Begin(Person by)
    {
        await using var transaction = await db.Database.BeginTransactionAsync();
        if (await book.Now() is not { } held)
        {
            return null;
        }

        if (!await db.Days.AnyAsync(d => d.Date == held.Setup.TradingDay.Date))
        {
            await book.Begin(held, by.Id.Value);
            await transaction.CommitAsync();
        }

        return held.Setup.TradingDay.Date;
    }

    /// <summary>The float that a register should begin with: its standard, as it was left by the last count before this day.</summary>
    public async Task<FloatExpected> Expected(DayView view, Register register)
    {
        if (await db.Days.Where(d => d.Date < view.Setup.TradingDay.Date).OrderByDescending(d => d.Date).Select(d => (DateOnly?)d.Date).FirstOrDefaultAsync() is { } before
            && await days.View(before) is { } last)
        {
            var drawers = last.Reconciliation.Sessions.Where(s => s.Register == register.Id).Select(s => s.Drawer).ToHashSet();
            var count = last.Day.Counts.Where(c => c.Kind == CountKind.Closing && c.Drawer is { } drawer && drawers.Contains(drawer)).MaxBy(c => c.At);
            return new(register.Float, count?.By, count?.At);
        }

        return new(register.Float, null, null);
    }

    /// <summary>Opens the next drawer session of a register. The same <paramref name="form"/> twice is one opening.</summary>
    /// <param name="pieces">As typed, by denomination in minor units; null: the standard float is accepted uncounted.</param>
    public async Task<IReadOnlyList<CountObjection>> Open(DateOnly day, RegisterId register, Guid form, IReadOnlyDictionary<long, string>? pieces, Person by)
    {
        List<CountObjection> objections = [];
        var outcome = await guard.Write(day, async () =>
        {
            var key = Counting.KeyOf(form);
            if (await db.Records.AnyAsync(r => r.Day == day && r.Kind == RecordKind.Event && r.Key == OpenKey(key)))
            {
                return Outcome.Done;
            }

            var view = (await days.View(day))!;
            if (view.Setup.Find(register) is not { } known)
            {
                return Outcome.Refused($"The set-up names no register {register}.");
            }

            if (known.Kind == RegisterKind.Online)
            {
                return Outcome.Refused($"{known.Name} has no drawer: it opens by itself with its first order.");
            }

            if (view.Reconciliation.Sessions.FirstOrDefault(s => s.Register == register && s.Until is null) is { } open)
            {
                return Outcome.Refused($"{known.Name} is open already: drawer {open.Drawer}, {view.Setup.NameOf(open.Cashier)}. It has to be closed at the register first.");
            }

            var (cash, amount) = Read(pieces, known, view.Setup, objections);
            if (objections.Count > 0)
            {
                return Outcome.Refused("");
            }

            await Append(view.Setup, known, key, cash, amount, by);
            await guard.Revise(day);
            return Outcome.Done;

            async Task Append(Setup setup, Register at, string id, JsonObject? counted, Money declared, Person person)
            {
                var (drawer, now) = (NextDrawer(view, at), TimeZoneInfo.ConvertTime(clock.GetUtcNow(), setup.TimeZone));
                var json = new JsonObject
                {
                    ["id"] = OpenKey(id),
                    ["register"] = at.Id.Value,
                    ["drawer"] = drawer,
                    ["cashier"] = person.Id.Value,
                    ["at"] = IsoTime.Format(now),
                    ["kind"] = EventKind.Open,
                    ["amount"] = setup.Currency.Format(declared),
                }.ToJsonString();
                var (e, findings, _) = new EventLines(setup).Read(System.Text.Encoding.UTF8.GetBytes(json), 1);
                List<RawRecord> records = [new(RecordKind.Event, OpenKey(id), json, e ?? throw new InvalidOperationException(findings[0].ToString()))];
                if (counted is not null)
                {
                    records.Add(new(RecordKind.Count, id, new JsonObject
                    {
                        ["id"] = id,
                        ["kind"] = "opening",
                        ["drawer"] = drawer,
                        ["by"] = person.Id.Value,
                        ["at"] = IsoTime.Format(now),
                        ["attempt"] = 1,
                        ["cash"] = counted,
                    }.ToJsonString()));
                }

                await RecordWriter.Append(db, day, records, person.Id.Value, clock.GetUtcNow());
            }
        });
        return outcome.IsDone ? [] : objections.Count > 0 ? objections : [new(null, outcome.Objection!)];
    }

    private static string OpenKey(string count) => "o" + count[1..];

    /// <summary>What was counted, and what it comes to; the standard float where nothing was.</summary>
    private static (JsonObject? Cash, Money Amount) Read(IReadOnlyDictionary<long, string>? typed, Register register, Setup setup, List<CountObjection> objections)
    {
        if (typed is null)
        {
            return (null, register.Float);
        }

        var (cash, sum) = (new JsonObject(), Money.Zero);
        foreach (var denomination in setup.Denominations)
        {
            var (pieces, objection) = CountSheet.Pieces(typed.GetValueOrDefault(denomination.Worth.Minor));
            if (objection is not null)
            {
                objections.Add(new($"p{denomination.Worth.Minor}", objection));
            }
            else if (pieces > 0)
            {
                cash[setup.Currency.Format(denomination.Worth)] = pieces;
                sum += denomination.Worth * pieces;
            }
        }

        if (objections.Count == 0 && cash.Count == 0)
        {
            objections.Add(new(null, "Nothing was typed. Count the float, or accept the standard one."));
        }

        return (cash, sum);
    }

    /// <summary>L1-A, L1-B, and so on: a register may have several sessions in a day.</summary>
    private static string NextDrawer(DayView view, Register register)
    {
        var taken = view.Reconciliation.Sessions.Select(s => s.Drawer.Value).ToHashSet();
        return Enumerable.Range(0, 26 * 26).Select(n => $"{register.Id}-{(n < 26 ? "" : ((char)('A' + (n / 26) - 1)).ToString())}{(char)('A' + (n % 26))}").First(d => !taken.Contains(d));
    }
}
