using System.Collections.Immutable;
using Fondo.Core.Amounts;
using Fondo.Core.Cash;
using Fondo.Core.Days;
using Fondo.Core.Journal;
using Fondo.Core.Proof;
using Fondo.Core.SetUp;
using Fondo.Files.Reading;
using Fondo.Files.Writing;
using Fondo.Store.Intake;
using Fondo.Store.Model;
using Microsoft.EntityFrameworkCore;

namespace Fondo.Store.Days;

/// <summary>What stays in the drawers for their next session.</summary>
public sealed class Floats(StoreContext db, DayStore days, DayLock guard, TimeProvider clock)
{
    /// <summary>What should stay: the register's float, in the pieces that a float should have.</summary>
    public static ImmutableArray<Pieces> Proposed(DayView view, DrawerSession session) =>
        view.CountsOf(session.Drawer) is [.., var count] && view.Setup.Find(session.Register) is { } register
            ? FloatToKeep.Choose(count.Pieces, register.Float, view.Setup.Denominations)
            : [];

    /// <summary>What was left in a drawer, and by whom; null while nobody said so.</summary>
    public static Count? Kept(DayView view, DrawerId drawer) =>
        view.Day.Counts.Where(c => c.Kind == CountKind.Kept && c.Drawer == drawer).MaxBy(c => c.Attempt);

    /// <summary>What there is for tomorrow's floats: what the registers' last drawers were counted with, and what lay in the safe this
    /// morning with the bags that were opened since.</summary>
    public static ImmutableArray<Pieces> Pool(DayView view) =>
    [
        .. LastCounted(view).SelectMany(s => view.CountsOf(s.Drawer)[^1].Pieces)
            .Concat(view.Money.Custody.Start.Pieces)
            .Concat(Core.Sheets.Bag.In(view.Day).Where(b => !b.Counts.IsEmpty).SelectMany(b => b.Counts[^1].Pieces))
            .GroupBy(p => p.Denomination).Select(g => new Pieces(g.Key, g.Sum(p => p.Number))).OrderByDescending(p => p.Denomination),
    ];

    /// <summary>Of each register the drawer that was counted last.</summary>
    public static IReadOnlyList<DrawerSession> LastCounted(DayView view) =>
        [.. view.Overview.Sessions.Where(s => view.CountsOf(s.Drawer).Count > 0).GroupBy(s => s.Register)
            .Select(g => g.MaxBy(s => (s.From, s.Drawer.Value))!)];

    /// <summary>Writes down the floats of several registers at once. The same <paramref name="form"/> twice is once.</summary>
    /// <param name="typed">For each drawer, pieces by denomination in minor units.</param>
    public Task<Outcome> KeepTogether(DateOnly day, Guid form,
        IReadOnlyDictionary<DrawerId, IReadOnlyDictionary<long, string>> typed, Person by)
    {
        List<Objection> objections = [];
        return guard.Write(day, by, ActKind.LeaveFloat, async () =>
        {
            if (await days.View(day) is not { } view)
            {
                return Outcome.Refused("Nothing was imported for this day yet.");
            }

            var keys = typed.Keys.Order(Comparer<DrawerId>.Create((a, b) => string.CompareOrdinal(a.Value, b.Value)))
                .Select((d, i) => (Drawer: d, Key: Counting.KeyOf(Numbered(form, i)))).ToList();
            if (keys.Count == 0 || await db.Records.AnyAsync(r => r.Day == day && r.Kind == RecordKind.Count && r.Key == keys[0].Key))
            {
                return keys.Count == 0
                    ? Outcome.Refused("No drawer is counted yet. Count the drawers first.")
                    : Outcome.Done;
            }

            var there = Pool(view).ToDictionary(p => p.Denomination, p => p.Number);
            var records = new List<RawRecord>();
            foreach (var (drawer, key) in keys)
            {
                if (view.CountsOf(drawer).Count == 0)
                {
                    return Outcome.Refused($"Drawer {drawer} is not counted. Nothing was changed. Reload the page.");
                }

                List<Objection> own = [];
                var kept = Left(key, drawer, TypedPieces.Rows(typed[drawer], view.Setup, own), view, by);
                objections.AddRange(own.Select(o => o with { Field = $"{drawer}-{o.Field}" }));
                foreach (var piece in kept.Pieces)
                {
                    there[piece.Denomination] = there.GetValueOrDefault(piece.Denomination) - piece.Number;
                }

                records.Add(new(RecordKind.Count, key, CountJson.Of(kept, view.Setup.Currency)));
            }

            foreach (var (denomination, left) in there.Where(t => t.Value < 0))
            {
                objections.Add(new(null, $"You used {-left} more pieces of {view.Setup.Currency.Say(denomination)} than there are."));
            }

            if (objections.Count > 0)
            {
                return Outcome.Refused(objections);
            }

            await RecordWriter.Append(db, day, records, by.Id.Value, clock.GetUtcNow());
            await guard.Revise(day);
            return Outcome.Done;
        });
    }

    /// <summary>The further records of one form have ids that follow from it.</summary>
    private static Guid Numbered(Guid form, int number) =>
        new(System.Security.Cryptography.SHA256.HashData(System.Text.Encoding.UTF8.GetBytes(string.Create(
            System.Globalization.CultureInfo.InvariantCulture, $"{form:N}/float/{number}"))).AsSpan(0, 16));

    private Count Left(string key, DrawerId drawer, ImmutableArray<CountedRow> how, DayView view, Person by) => new(
        key, CountKind.Kept, drawer, null, by.Id, null, TimeZoneInfo.ConvertTime(clock.GetUtcNow(), view.Setup.TimeZone),
        (Kept(view, drawer)?.Attempt ?? 0) + 1, TypedPieces.Of(how), [], [])
    { How = how };

    /// <summary>Writes down what stays in a counted drawer. The same <paramref name="form"/> twice is once; another one takes its place,
    /// and both are kept.</summary>
    /// <param name="typed">Pieces by denomination in minor units.</param>
    public Task<Outcome> Keep(DateOnly day, DrawerId drawer, Guid form, IReadOnlyDictionary<long, string> typed,
        Person by)
    {
        List<Objection> objections = [];
        return guard.Write(day, by, ActKind.Count, async () =>
        {
            var key = Counting.KeyOf(form);
            var view = (await days.View(day))!;
            if (await db.Records.Where(r => r.Day == day && r.Kind == RecordKind.Count && r.Key == key).Select(r => r.Json)
                .FirstOrDefaultAsync() is { } made)
            {
                var again = Left(key, drawer, TypedPieces.Rows(typed, view.Setup, []), view, by);
                return CountJson.HoldsTheSame(made, again, view.Setup.Currency) ? Outcome.Done
                    : Outcome.Refused(
                        "This form already left a different float, and that one was kept. Reload the page to see it.");
            }

            if (view.CountsOf(drawer) is not [.., var count])
            {
                return Outcome.Refused("Count this drawer first, then leave its float.");
            }

            var kept = Left(key, drawer, TypedPieces.Rows(typed, view.Setup, objections), view, by);
            foreach (var piece in kept.Pieces)
            {
                var counted = count.Pieces.Where(p => p.Denomination == piece.Denomination).Sum(p => p.Number);
                if (piece.Number > counted)
                {
                    objections.Add(new($"p{piece.Denomination.Minor}", $"Only {counted} were counted, so {piece.Number} cannot stay."));
                }
            }

            if (objections.Count > 0)
            {
                return Outcome.Refused(objections);
            }

            var json = CountJson.Of(kept, view.Setup.Currency);
            await RecordWriter.Append(db, day, [new(RecordKind.Count, key, json)], by.Id.Value, clock.GetUtcNow());
            await guard.Revise(day);
            return Outcome.Done;
        });
    }
}
