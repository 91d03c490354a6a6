using System.Text.Json;
using Fondo.Core.Cells;
using Fondo.Core.Journal;
using Fondo.Core.Proof;
using Fondo.Core.SetUp;
using Fondo.Files.Reading;
using Fondo.Files.Text;
using Fondo.Files.Writing;
using Fondo.Store.Intake;
using Fondo.Store.Model;
using Microsoft.EntityFrameworkCore;

namespace Fondo.Store.Days;

/// <summary>What a person has typed into a count, as typed.</summary>
/// <param name="Pieces">By denomination in minor units.</param>
/// <param name="Stubs">By tender id.</param>
/// <param name="Overrules">Why a hand says otherwise than a machine.</param>
public sealed record TypedCount(Dictionary<long, string> Pieces, List<TypedCheck> Checks, Dictionary<string, string> Stubs,
    string? Overrules = null)
{
    public static TypedCount Empty => new([], [], []);

    /// <summary>Whether a person said that checks which look the same are several.</summary>
    public bool HasSameChecks { get; init; }

    /// <summary>The page that it was typed on, and the one of the same person that was typed on before that.</summary>
    public Guid? Page { get; init; }

    public Guid? PageBefore { get; init; }

    /// <summary>The same, typed on a page after this had been saved.</summary>
    public TypedCount After(TypedCount? before) =>
        this with { PageBefore = before is null ? null : before.Page == Page ? before.PageBefore : before.Page };

    /// <summary>Whether somebody types on two pages at once, and this one is the other.</summary>
    public bool ComesAgain(TypedCount? before) =>
        before is not null && Page is not null && before.Page != Page && before.PageBefore == Page;

    /// <summary>Whether two of the checks look the same.</summary>
    public bool AreChecksAlike() => Checks.Where(c => c.Number.Trim().Length > 0)
        .GroupBy(c => (c.Number.Trim(), c.Amount.Trim(), c.Routing.Trim())).Any(g => g.Skip(1).Any());
}

public sealed record TypedCheck(string Number, string Amount, string Routing = "");

/// <summary>What somebody is typing into a count at this moment.</summary>
public sealed record Draft(PersonId By, DateTimeOffset SavedAt, TypedCount Typed);

/// <summary>A count as it is handed in.</summary>
/// <param name="Form">Made with the page: the same form twice is one count.</param>
/// <param name="Attempt">The attempt that the person saw; another one may have been handed in meanwhile.</param>
/// <param name="Reason">Why an earlier count is corrected.</param>
public sealed record HandedIn(Guid Form, CountKind Kind, int Attempt, TypedCount Typed, string? Reason, DateTimeOffset At)
{
    /// <summary>Who stood by and proved it with their PIN.</summary>
    public PersonId? Witness { get; init; }

    /// <summary>The readings of machines that the sheet was filled with.</summary>
    public IReadOnlyList<long> Readings { get; init; } = [];
}

/// <summary>Counts a drawer, a bag or the safe: drafts as one types, each person their own, and the handing in.</summary>
public sealed class Counting(StoreContext db, DayStore days, DayLock guard, Sightings sightings, MachineDesk machines, TimeProvider clock)
{
    /// <summary>What is being typed into this count, the latest first.</summary>
    public async Task<IReadOnlyList<Draft>> Drafts(DateOnly day, CountTarget target) =>
        [.. (await db.CountDrafts.AsNoTracking().Where(d => d.Day == day && d.Drawer == target.ToString()).OrderByDescending(d => d.SavedAt)
            .ToListAsync())
            .Select(d => new Draft(new(d.Person), d.SavedAt, JsonSerializer.Deserialize<TypedCount>(d.Json)!))];

    /// <param name="attempt">What is being typed; a draft that arrives after its hand-in is not kept.</param>
    public Task<Outcome> SaveDraft(DateOnly day, CountTarget target, CountKind kind, int attempt, TypedCount typed, Person by) =>
        guard.Write(day, by, ActKind.Draft, async () =>
    {
        if ((await days.View(day))!.CountsOf(target, kind) is [.., var last] && attempt <= last.Attempt)
        {
            return Outcome.Refused("This count was handed in already.");
        }

        var json = JsonSerializer.Serialize(typed);
        if (CardNumbers.Contains(json))
        {
            return Outcome.Refused("You typed a full card number. It was not saved. Type the last four digits at most.");
        }

        var key = target.ToString();
        if (await db.CountDrafts.SingleOrDefaultAsync(d => d.Day == day && d.Drawer == key && d.Person == by.Id.Value) is { } draft)
        {
            draft.Json = json;
            draft.SavedAt = clock.GetUtcNow();
        }
        else
        {
            db.CountDrafts.Add(new() { Day = day, Drawer = key, Person = by.Id.Value, Json = json, SavedAt = clock.GetUtcNow() });
        }

        return Outcome.Done;
    });

    /// <summary>The denominations that the last count of this drawer had, or of its register's drawer before; empty where there is
    /// none.</summary>
    public async Task<IReadOnlySet<long>> UsedLast(DayView view, CountTarget target)
    {
        if (target.Drawer is not { } drawer || view.Overview.Sessions.FirstOrDefault(s => s.Drawer == drawer) is not { } session)
        {
            return new HashSet<long>();
        }

        var own = view.Overview.Sessions.Where(s => s.Register == session.Register && s.From <= session.From).Select(s => s.Drawer)
            .ToHashSet();
        if (Last(view.Day.Counts.Where(c => c.Drawer is { } d && own.Contains(d))) is { } today)
        {
            return today;
        }

        await foreach (var counts in EarlierCounts.Before(db, view.Setup.TradingDay.Date, view.Setup))
        {
            if (Last(counts[session.Register].Select(c => c.Count)) is { } earlier)
            {
                return earlier;
            }
        }

        return new HashSet<long>();

        static HashSet<long>? Last(IEnumerable<Count> counts) =>
            counts.Where(c => c.Kind is CountKind.Closing or CountKind.Spot && !c.Pieces.IsEmpty)
                .MaxBy(c => (c.At.UtcTicks, c.Attempt))?.Pieces.Select(p => p.Denomination.Minor).ToHashSet();
    }

    /// <summary>The count's key, in letters alone: among the digits of an identifier one could by chance read a card number, and the record
    /// would be refused ever after.</summary>
    public static string KeyOf(Guid form) =>
        "c-" + string.Concat(form.ToString("N").Select(c => char.IsAsciiDigit(c) ? (char)('g' + c - '0') : c));

    /// <summary>Hands the count in as the next attempt. While a session runs it is a spot count; a closing count needs a session that has
    /// ended.</summary>
    public Task<Outcome> HandIn(DateOnly day, CountTarget target, HandedIn count, Person by)
    {
        List<Objection> objections = [];
        return guard.Write(day, by, ActKind.Count, async () =>
        {
            if (await days.View(day) is not { } view)
            {
                return Outcome.Refused("Nothing was imported for this day yet.");
            }

            var key = KeyOf(count.Form);
            var says = await machines.Says(view, target, count.Readings);
            if (await db.Records.Where(r => r.Day == day && r.Kind == RecordKind.Count && r.Key == key).Select(r => r.Json)
                .FirstOrDefaultAsync() is { } made)
            {
                var again = TypedCounts.Read(key, target, count, isBlind: true, by, view.Setup, says, []);
                return CountJson.HoldsTheSame(made, again, view.Setup.Currency) ? Outcome.Done
                    : Outcome.Refused(
                        "This count was already handed in with different values, and those were kept. Reload the page to see them.");
            }

            if (Unfit(view, target, count) is { } unfit)
            {
                return Outcome.Refused(unfit);
            }

            var isCorrection = IsCorrection(view, target, count.Kind);
            if (isCorrection && !by.May(ActKind.CorrectCount))
            {
                return Outcome.Refused("This count was handed in. Only a supervisor or a manager can correct it.");
            }

            if (isCorrection && string.IsNullOrWhiteSpace(count.Reason))
            {
                objections.Add(new("reason", "Give a reason for the correction. Fondo keeps both counts."));
            }

            if (Reasons.Objection(count.Reason) is { } withheld)
            {
                objections.Add(new("reason", withheld));
            }

            if (WitnessObjection(view.Setup, count, by) is { } alone)
            {
                objections.Add(new("witness", alone));
            }

            var isBlind = count.Kind == CountKind.Spot
                || (!isCorrection && !(target.Drawer is { } drawer && await sightings.Has(day, drawer, by.Id)));
            var read = TypedCounts.Read(key, target, count, isBlind, by, view.Setup, says, objections);
            if (objections.Count > 0)
            {
                return Outcome.Refused(objections);
            }

            await RecordWriter.Append(db, day, [new(RecordKind.Count, key, CountJson.Of(read, view.Setup.Currency))], by.Id.Value,
                clock.GetUtcNow(),
                string.IsNullOrWhiteSpace(count.Reason) ? null : count.Reason.Trim());
            await db.CountDrafts.Where(d => d.Day == day && d.Drawer == target.ToString() && d.Person == by.Id.Value).ExecuteDeleteAsync();
            await guard.Revise(day);
            return Outcome.Done;
        });
    }

    /// <summary>Whether one more count is asked for, still blind.</summary>
    public static bool AsksRecount(DayView view, CountTarget target, CountKind kind) =>
        IsJudged(target, kind) && Recount.IsAsked(view.CountsOf(target, kind).Count, view.IsOff(target));

    /// <summary>Whether a further count corrects one that stands.</summary>
    public static bool IsCorrection(DayView view, CountTarget target, CountKind kind) =>
        IsJudged(target, kind) && Recount.IsCorrection(view.CountsOf(target, kind).Count, view.IsOff(target));

    /// <summary>A spot count and a count of the safe may be made again and again: each is one of its moment.</summary>
    private static bool IsJudged(CountTarget target, CountKind kind) => kind == CountKind.Closing || target.Bag is not null;

    private static string? Unfit(DayView view, CountTarget target, HandedIn count)
    {
        if (!target.Fits(count.Kind))
        {
            return "This page is out of date: it belongs to a different count. Reload it; what you typed is kept.";
        }

        if (target.Drawer is { } drawer)
        {
            if (view.Overview.Sessions.FirstOrDefault(s => s.Drawer == drawer) is not { } session)
            {
                return "The journal of this day has no such drawer session any more.";
            }

            if (view.HasEnded(session) == (count.Kind == CountKind.Spot))
            {
                return !view.HasEnded(session)
                    ? "The session has not ended: a closing count comes after it. Close the drawer at the register first."
                    : "The session has ended, so this is now the closing count. Reload the page; what you typed is kept.";
            }
        }

        var counts = view.CountsOf(target, count.Kind);
        return (counts.Count == 0 ? 1 : counts[^1].Attempt + 1) == count.Attempt ? null
            : counts.Count == 0 ? "This has not been counted yet. Reload the page and make the first count."
            : $"{view.Setup.NameOf(counts[^1].By)} has just handed in attempt {counts[^1].Attempt}. Your count was not saved. Look at it "
                + "first.";
    }

    private static string? WitnessObjection(Setup setup, HandedIn count, Person by) =>
        count.Witness == by.Id ? "Someone else must witness this count."
        : count.Witness is null
            && setup.Policy.Witnessed.Contains(count.Kind) ? "This count needs a second person. They choose their name and type their PIN."
        : null;
}
