using System.Globalization;
using System.Text.Json;
using System.Text.Json.Nodes;
using Fondo.Core.Amounts;
using Fondo.Core.Cells;
using Fondo.Core.Journal;
using Fondo.Core.Proof;
using Fondo.Core.SetUp;
using Fondo.Files.Reading;
using Fondo.Files.Text;
using Fondo.Store.Intake;
using Fondo.Store.Model;
using Microsoft.EntityFrameworkCore;

namespace Fondo.Store.Days;

/// <summary>What a person has typed into a count, as typed.</summary>
/// <param name="Pieces">By denomination in minor units.</param>
/// <param name="Stubs">By tender id.</param>
public sealed record TypedCount(Dictionary<long, string> Pieces, List<TypedCheck> Checks, Dictionary<string, string> Stubs)
{
    public static TypedCount Empty => new([], [], []);
}

public sealed record TypedCheck(string Number, string Amount);

/// <summary>Where an objection belongs on the sheet: a denomination, a check, a stub; null for the whole.</summary>
public sealed record CountObjection(string? Field, string Sentence);

/// <summary>What somebody is typing into a count at this moment.</summary>
public sealed record Draft(PersonId By, DateTimeOffset SavedAt, TypedCount Typed);

/// <summary>A count as it is handed in.</summary>
/// <param name="Form">Made with the page: the same form twice is one count.</param>
/// <param name="Kind">Closing, or spot while the session runs.</param>
/// <param name="Attempt">The attempt that the person saw; another one may have been handed in meanwhile.</param>
/// <param name="Reason">Why an earlier count is corrected.</param>
public sealed record HandedIn(Guid Form, CountKind Kind, int Attempt, TypedCount Typed, string? Reason, DateTimeOffset At);

/// <summary>Counts a drawer: drafts as one types, each person their own, and the handing in.</summary>
public sealed class Counting(StoreContext db, DayStore days, DayLock guard, Sightings sightings, TimeProvider clock)
{
    /// <summary>What of a count is counted.</summary>
    private static readonly string[] _parts = ["cash", "checks", "stubs"];

    /// <summary>What is being typed into the count of this drawer, the latest first.</summary>
    public async Task<IReadOnlyList<Draft>> Drafts(DateOnly day, DrawerId drawer) =>
        [.. (await db.CountDrafts.AsNoTracking().Where(d => d.Day == day && d.Drawer == drawer.Value).OrderByDescending(d => d.SavedAt).ToListAsync())
            .Select(d => new Draft(new(d.Person), d.SavedAt, JsonSerializer.Deserialize<TypedCount>(d.Json)!))];

    /// <param name="attempt">What is being typed; a draft that arrives after its hand-in is not kept.</param>
    public Task<Outcome> SaveDraft(DateOnly day, DrawerId drawer, CountKind kind, int attempt, TypedCount typed, Person by) => guard.Write(day, async () =>
    {
        if ((await days.View(day))!.CountsOf(drawer, kind) is [.., var last] && attempt <= last.Attempt)
        {
            return Outcome.Refused("This count was handed in already.");
        }

        var json = JsonSerializer.Serialize(typed);
        if (CardNumbers.Contains(json))
        {
            return Outcome.Refused("A full card number was typed. It was not saved; write the last four digits at most.");
        }

        if (await db.CountDrafts.SingleOrDefaultAsync(d => d.Day == day && d.Drawer == drawer.Value && d.Person == by.Id.Value) is { } draft)
        {
            draft.Json = json;
            draft.SavedAt = clock.GetUtcNow();
        }
        else
        {
            db.CountDrafts.Add(new() { Day = day, Drawer = drawer.Value, Person = by.Id.Value, Json = json, SavedAt = clock.GetUtcNow() });
        }

        return Outcome.Done;
    });

    /// <summary>The count's key, in letters alone: among the digits of an identifier one could by chance read a card number, and the record would be refused ever after.</summary>
    public static string KeyOf(Guid form) => "c-" + string.Concat(form.ToString("N").Select(c => char.IsAsciiDigit(c) ? (char)('g' + c - '0') : c));

    /// <summary>Hands the count in as the next attempt. While the session runs it is a spot count; a closing count needs a session that has ended.</summary>
    public async Task<IReadOnlyList<CountObjection>> HandIn(DateOnly day, DrawerId drawer, HandedIn count, Person by)
    {
        List<CountObjection> objections = [];
        var outcome = await guard.Write(day, async () =>
        {
            var (view, key) = ((await days.View(day))!, KeyOf(count.Form));
            if (await db.Records.Where(r => r.Day == day && r.Kind == RecordKind.Count && r.Key == key).Select(r => r.Json).FirstOrDefaultAsync() is { } made)
            {
                var again = ToJson(key, drawer, count, isBlind: true, by, view.Setup, []);
                return HoldsTheSame(made, again) ? Outcome.Done
                    : Outcome.Refused("This form was handed in before with other contents, and those stand. Nothing was changed; load the page to see them.");
            }

            var counts = view.CountsOf(drawer, count.Kind);
            var next = counts.Count == 0 ? 1 : counts[^1].Attempt + 1;
            if (view.Overview.Sessions.FirstOrDefault(s => s.Drawer == drawer) is not { } session)
            {
                return Outcome.Refused("The journal of this day has no such drawer session any more.");
            }

            if (view.HasEnded(session) == (count.Kind == CountKind.Spot))
            {
                return Outcome.Refused(!view.HasEnded(session)
                    ? "The session has not ended: a closing count comes after it. Close the drawer at the register first."
                    : "The session has ended meanwhile, so this is the closing count now. Load the page again; what you typed is kept.");
            }

            if (next != count.Attempt)
            {
                return Outcome.Refused(counts.Count == 0
                    ? "This drawer has not been counted yet: its first count comes first. Load the page again."
                    : $"Attempt {counts[^1].Attempt} was handed in meanwhile by {view.Setup.NameOf(counts[^1].By)}. Nothing was changed; look at it first.");
            }

            var isCorrection = count.Kind == CountKind.Closing && Recount.IsCorrection(counts.Count, view.Bridges[new(session.Register, drawer, TenderId.Cash)].Cell);
            if (isCorrection)
            {
                if (!by.May(Right.Supervise))
                {
                    return Outcome.Refused("The count is handed in. Only a supervisor or a manager corrects it.");
                }

                if (string.IsNullOrWhiteSpace(count.Reason))
                {
                    objections.Add(new("reason", "Say why the count is corrected: both attempts are kept."));
                }
            }

            if (Reasons.Objection(count.Reason) is { } withheld)
            {
                objections.Add(new("reason", withheld));
            }

            var isBlind = count.Kind == CountKind.Spot || (!isCorrection && !await sightings.Has(day, drawer, by.Id));
            var json = ToJson(key, drawer, count, isBlind, by, view.Setup, objections);
            if (objections.Count > 0)
            {
                return Outcome.Refused("");
            }

            await RecordWriter.Append(db, day, [new(RecordKind.Count, key, json)], by.Id.Value, clock.GetUtcNow(), string.IsNullOrWhiteSpace(count.Reason) ? null : count.Reason.Trim());
            await db.CountDrafts.Where(d => d.Day == day && d.Drawer == drawer.Value && d.Person == by.Id.Value).ExecuteDeleteAsync();
            await guard.Revise(day);
            return Outcome.Done;
        });
        return outcome.IsDone ? [] : objections.Count > 0 ? objections : [new(null, outcome.Objection!)];
    }

    /// <summary>Whether two counts hold the same pieces, checks and paper.</summary>
    internal static bool HoldsTheSame(string made, string again)
    {
        var (one, other) = (JsonNode.Parse(made)!, JsonNode.Parse(again)!);
        return _parts.All(part => JsonNode.DeepEquals(one[part], other[part]));
    }

    private static string ToJson(string key, DrawerId drawer, HandedIn count, bool isBlind, Person by, Setup setup, List<CountObjection> objections)
    {
        var typed = count.Typed;
        var pieces = TypedPieces.Read(typed.Pieces, setup, objections);
        var checks = new JsonArray();
        for (var i = 0; i < typed.Checks.Count; i++)
        {
            var (number, amount) = (typed.Checks[i].Number.Trim(), typed.Checks[i].Amount.Trim());
            if (number.Length == 0 && amount.Length == 0)
            {
                continue;
            }

            if (Amount(amount, setup.Currency) is not { } worth || worth.Sign <= 0)
            {
                objections.Add(new($"c{i}", $"Check {(number.Length > 0 ? number : "without number")}: type its amount, like {setup.Currency.Format(new(5820))}."));
            }
            else if (CardNumbers.Contains(number))
            {
                objections.Add(new($"c{i}", "This looks like a full card number. It was not saved."));
            }
            else
            {
                checks.Add(new JsonObject { ["number"] = number, ["amount"] = setup.Currency.Format(worth) });
            }
        }

        var stubs = new JsonObject();
        foreach (var (tender, text) in typed.Stubs.Where(s => s.Value.Trim().Length > 0))
        {
            if (setup.Find(new TenderId(tender)) is not { Proof: Core.SetUp.ProofKind.Count } || Amount(text, setup.Currency) is not { } worth || worth.Sign < 0)
            {
                objections.Add(new($"s{tender}", $"{setup.NameOf(new TenderId(tender))}: type an amount, like {setup.Currency.Format(new(350))}."));
            }
            else
            {
                stubs[tender] = setup.Currency.Format(worth);
            }
        }

        var json = new JsonObject
        {
            ["id"] = key,
            ["kind"] = count.Kind.Written(),
            ["drawer"] = drawer.Value,
            ["by"] = by.Id.Value,
            ["at"] = IsoTime.Format(count.At),
            ["attempt"] = count.Attempt,
            ["cash"] = TypedPieces.Json(pieces, setup.Currency),
            ["checks"] = checks,
            ["stubs"] = stubs,
        };
        if (!isBlind)
        {
            json["blind"] = false;
        }

        return json.ToJsonString();
    }

    /// <summary>An amount as people type it: <c>58.2</c>, <c>58.20</c>, <c>58</c>, <c>1,058.20</c>.</summary>
    public static Money? Amount(string? typed, Currency currency)
    {
        var text = typed?.Trim().Replace(",", "", StringComparison.Ordinal).Replace('−', '-').TrimStart('+') ?? "";
        return text.Length is > 0 and <= 15
            && decimal.TryParse(text, NumberStyles.AllowDecimalPoint | NumberStyles.AllowLeadingSign, CultureInfo.InvariantCulture, out var value)
            && decimal.Round(value, currency.MinorDigits) == value && Math.Abs(value) < Limits.WholeUnits
            ? new Money((long)(value * currency.Unit))
            : null;
    }
}
