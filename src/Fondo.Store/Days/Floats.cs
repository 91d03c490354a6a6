using System.Collections.Immutable;
using System.Text.Json;
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
using Microsoft.EntityFrameworkCore;

namespace Fondo.Store.Days;

/// <summary>What should be in a drawer when it is opened, and who left it.</summary>
/// <param name="LeftBy">Who left the float in this register, or counted it last; null where nobody did.</param>
/// <param name="IsKept">Whether that person wrote down what stayed; else the amount is the standard float.</param>
public sealed record FloatExpected(Money Amount, PersonId? LeftBy, DateTimeOffset? LeftAt, bool IsKept);

/// <summary>A drawer that was opened with another float than was left in it, or than is standard where nobody wrote down what was left.</summary>
public sealed record FloatDifference(DrawerSession Session, Money Declared, FloatExpected Expected)
{
    /// <summary>Negative: less than should be there.</summary>
    public Money Off => Declared - Expected.Amount;
}

/// <summary>The floats as they were left before a day, and on it.</summary>
public sealed class FloatsBefore(DayView view, IReadOnlyDictionary<RegisterId, FloatExpected> earlier)
{
    /// <summary>What a register should begin with at that moment.</summary>
    public FloatExpected Expected(Register register, DateTimeOffset at)
    {
        var drawers = view.Reconciliation.Sessions.Where(s => s.Register == register.Id).Select(s => s.Drawer).ToHashSet();
        var today = view.Day.Counts.Where(c => c.Kind is CountKind.Kept or CountKind.Closing && c.Drawer is { } d && drawers.Contains(d) && c.At < at);
        return (Floats.Latest(today.Select(c => (c.Drawer!.Value.Value, new FloatExpected(c.Cash, c.By, c.At, c.Kind == CountKind.Kept)))) ?? earlier.GetValueOrDefault(register.Id)) switch
        {
            null => new(register.Float, null, null, false),
            { IsKept: false } known => known with { Amount = register.Float },
            var kept => kept,
        };
    }

    /// <summary>Every drawer of the day that was opened with another float than it should have had.</summary>
    public IEnumerable<FloatDifference> Differences()
    {
        foreach (var open in view.Day.Journal.OfType<SessionOpen>().Where(o => o.Drawer is not null).OrderBy(o => o.At))
        {
            if (view.Setup.Find(open.Register) is { } register && view.Reconciliation.Sessions.FirstOrDefault(s => s.Drawer == open.Drawer) is { } session
                && new FloatDifference(session, open.Float, Expected(register, open.At)) is { Off.IsZero: false } difference)
            {
                yield return difference;
            }
        }
    }
}

/// <summary>What stays in the drawers for their next session.</summary>
public sealed class Floats(StoreContext db, DayStore days, DayLock guard, TimeProvider clock)
{
    /// <summary>So far back one looks for what was left in a register.</summary>
    private const int MostDays = 14;

    /// <summary>What should stay: the register's float, in the pieces that a float should have.</summary>
    public static ImmutableArray<Pieces> Proposed(DayView view, DrawerSession session) =>
        view.CountsOf(session.Drawer) is [.., var count] && view.Setup.Find(session.Register) is { } register
            ? FloatToKeep.Choose(count.Pieces, register.Float, view.Setup.Denominations)
            : [];

    /// <summary>What was left in a drawer, and by whom; null while nobody said so.</summary>
    public static Count? Kept(DayView view, DrawerId drawer) => view.Day.Counts.Where(c => c.Kind == CountKind.Kept && c.Drawer == drawer).MaxBy(c => c.Attempt);

    /// <summary>How the floats were left before this day, register by register.</summary>
    public async Task<FloatsBefore> Before(DayView view)
    {
        var date = view.Setup.TradingDay.Date;
        var left = new Dictionary<RegisterId, FloatExpected>();
        var wanted = view.Setup.Registers.Where(r => r.Kind != RegisterKind.Online).Select(r => r.Id).ToHashSet();
        foreach (var day in await db.Days.Where(d => d.Date < date).OrderByDescending(d => d.Date).Select(d => d.Date).Take(MostDays).ToListAsync())
        {
            var counts = (await db.Records.AsNoTracking().Where(r => r.Day == day && r.Kind == RecordKind.Count).Select(r => r.Json).ToListAsync())
                .Select(json => Glance(json, view.Setup.Currency)).OfType<(string Drawer, FloatExpected Left)>().ToList();
            var drawers = counts.Select(c => c.Drawer).Distinct().ToList();
            var registers = await db.Events.AsNoTracking().Where(e => e.Day == day && e.Kind == EventKind.Open && drawers.Contains(e.Drawer!)).Select(e => new { e.Drawer, e.Register }).Distinct().ToListAsync();
            foreach (var register in registers.GroupBy(r => new RegisterId(r.Register), r => r.Drawer!).Where(r => wanted.Contains(r.Key)))
            {
                left[register.Key] = Latest(counts.Where(c => register.Contains(c.Drawer)))!;
            }

            wanted.ExceptWith(left.Keys);
            if (wanted.Count == 0)
            {
                break;
            }
        }

        return new(view, left);
    }

    /// <summary>Writes down what stays in a counted drawer. The same <paramref name="form"/> twice is once; another one takes its place, and both are kept.</summary>
    /// <param name="typed">Pieces by denomination in minor units.</param>
    public async Task<IReadOnlyList<CountObjection>> Keep(DateOnly day, DrawerId drawer, Guid form, IReadOnlyDictionary<long, string> typed, Person by)
    {
        List<CountObjection> objections = [];
        var outcome = await guard.Write(day, async () =>
        {
            var key = Counting.KeyOf(form);
            if (await db.Records.AnyAsync(r => r.Day == day && r.Kind == RecordKind.Count && r.Key == key))
            {
                return Outcome.Done;
            }

            var view = (await days.View(day))!;
            if (view.CountsOf(drawer) is not [.., var count])
            {
                return Outcome.Refused("The drawer is not counted yet. Count it first; then it is known what can stay.");
            }

            var pieces = TypedPieces.Read(typed, view.Setup, objections);
            foreach (var kept in pieces)
            {
                var counted = count.Pieces.Where(p => p.Denomination == kept.Denomination).Sum(p => p.Number);
                if (kept.Number > counted)
                {
                    objections.Add(new($"p{kept.Denomination.Minor}", $"{counted} were counted; {kept.Number} cannot stay."));
                }
            }

            if (objections.Count > 0)
            {
                return Outcome.Refused("");
            }

            var json = new JsonObject
            {
                ["id"] = key,
                ["kind"] = "kept",
                ["drawer"] = drawer.Value,
                ["by"] = by.Id.Value,
                ["at"] = IsoTime.Format(TimeZoneInfo.ConvertTime(clock.GetUtcNow(), view.Setup.TimeZone)),
                ["attempt"] = (Kept(view, drawer)?.Attempt ?? 0) + 1,
                ["cash"] = TypedPieces.Json(pieces, view.Setup.Currency),
            }.ToJsonString();
            await RecordWriter.Append(db, day, [new(RecordKind.Count, key, json)], by.Id.Value, clock.GetUtcNow());
            await guard.Revise(day);
            return Outcome.Done;
        });
        return outcome.IsDone ? [] : objections.Count > 0 ? objections : [new(null, outcome.Objection!)];
    }

    /// <summary>Of the drawer that was counted last: what was written down as left in it, else that count.</summary>
    internal static FloatExpected? Latest(IEnumerable<(string Drawer, FloatExpected Left)> counts) =>
        counts.GroupBy(c => c.Drawer, c => c.Left).MaxBy(d => d.Max(c => c.LeftAt))?.MaxBy(c => (c.IsKept, c.LeftAt));

    /// <summary>What a count of an earlier day says of a float; null where it says nothing of one.</summary>
    private static (string Drawer, FloatExpected Left)? Glance(string json, Currency currency)
    {
        using var parsed = JsonDocument.Parse(json);
        var count = parsed.RootElement;
        if (count.GetProperty("kind").GetString() is not ("kept" or "closing") || !count.TryGetProperty("drawer", out var drawer) || drawer.GetString() is not { } of)
        {
            return null;
        }

        var isKept = count.GetProperty("kind").GetString() == "kept";
        var sum = Money.Zero;
        if (isKept && count.TryGetProperty("cash", out var cash) && cash.ValueKind == JsonValueKind.Object)
        {
            sum = cash.EnumerateObject().Sum(p => currency.TryParse(p.Name, out var worth) ? worth * p.Value.GetInt32() : Money.Zero);
        }

        var by = count.TryGetProperty("by", out var who) && who.GetString() is { } id ? new PersonId(id) : (PersonId?)null;
        return (of, new(sum, by, count.GetProperty("at").GetDateTimeOffset(), isKept));
    }
}
