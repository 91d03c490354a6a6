using System.Collections.Immutable;
using System.Text.Json.Nodes;
using Fondo.Core.Amounts;
using Fondo.Core.Cash;
using Fondo.Core.Days;
using Fondo.Core.Journal;
using Fondo.Core.Proof;
using Fondo.Core.SetUp;
using Fondo.Files.Reading;
using Fondo.Files.Text;
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
    public static Count? Kept(DayView view, DrawerId drawer) => view.Day.Counts.Where(c => c.Kind == CountKind.Kept && c.Drawer == drawer).MaxBy(c => c.Attempt);

    /// <summary>Writes down what stays in a counted drawer. The same <paramref name="form"/> twice is once; another one takes its place, and both are kept.</summary>
    /// <param name="typed">Pieces by denomination in minor units.</param>
    public async Task<IReadOnlyList<CountObjection>> Keep(DateOnly day, DrawerId drawer, Guid form, IReadOnlyDictionary<long, string> typed, Person by)
    {
        List<CountObjection> objections = [];
        var outcome = await guard.Write(day, async () =>
        {
            var key = Counting.KeyOf(form);
            var view = (await days.View(day))!;
            if (await db.Records.Where(r => r.Day == day && r.Kind == RecordKind.Count && r.Key == key).Select(r => r.Json).FirstOrDefaultAsync() is { } made)
            {
                var again = new JsonObject { ["cash"] = TypedPieces.Json(TypedPieces.Read(typed, view.Setup, []), view.Setup.Currency) }.ToJsonString();
                return Counting.HoldsTheSame(made, again) ? Outcome.Done
                    : Outcome.Refused("This form left another float before, and that one stands. Nothing was changed; load the page to see it.");
            }

            if (view.CountsOf(drawer) is not [.., var count])
            {
                return Outcome.Refused("The drawer is not counted yet. Count it first; then it is known what can stay.");
            }

            var how = TypedPieces.Rows(typed, view.Setup, objections);
            ImmutableArray<Pieces> pieces = [.. how.Select(TypedPieces.PiecesOf).Where(p => p.Number > 0)];
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
                ["how"] = TypedPieces.Json(how, view.Setup.Currency),
            }.ToJsonString();
            await RecordWriter.Append(db, day, [new(RecordKind.Count, key, json)], by.Id.Value, clock.GetUtcNow());
            await guard.Revise(day);
            return Outcome.Done;
        });
        return outcome.IsDone ? [] : objections.Count > 0 ? objections : [new(null, outcome.Objection!)];
    }
}
