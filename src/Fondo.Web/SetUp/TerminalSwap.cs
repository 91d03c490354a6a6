using System.Globalization;
using System.Text.Json.Nodes;
using Fondo.Core.SetUp;
using Fondo.Store;
using Fondo.Store.Intake;
using Fondo.Store.SetUp;
using Fondo.Web.Text;

namespace Fondo.Web.SetUp;

/// <summary>“T-51 replaces T-02 from 17:40”, as a person picks it.</summary>
/// <param name="On">The trading day.</param>
/// <param name="At">The local time, as typed.</param>
public sealed record TerminalSwap(string? Replaced, string? Replacement, DateOnly On, string? At);

/// <summary>Puts a swapped terminal into the set-up, and then takes in the lines that waited because nobody knew it.</summary>
public sealed class TerminalSwaps(SetupBook book, Waiting waiting)
{
    private static readonly string[] _times = ["H:mm", "HH:mm", "H.mm", "HHmm"];

    /// <returns>What is said of it.</returns>
    public async Task<Outcome<string>> Make(TerminalSwap swap, Person by)
    {
        if (await book.For(swap.On) is not { } held)
        {
            return Outcome.Refused<string>("Save the set-up first.");
        }

        if (swap.Replacement?.Trim() is not { Length: > 0 } replacement || !Limits.IsId(replacement))
        {
            return Outcome.Refused<string>("Give the new terminal's id as its slips print it, like T-51.");
        }

        if (!TimeOnly.TryParseExact(swap.At?.Trim(), _times, CultureInfo.InvariantCulture, DateTimeStyles.None, out var time))
        {
            return Outcome.Refused<string>("Give the time of the swap like 17:40.");
        }

        var (setup, from) = (held.Setup, held.Setup.At(time));
        if (setup.Terminals.FirstOrDefault(t => t.Terminal.Value == replacement && t.Holds(from)) is { } elsewhere)
        {
            return Outcome.Refused<string>($"{replacement} stands at {setup.NameOf(elsewhere.Register)} at that time already.");
        }

        if (setup.Terminals.FirstOrDefault(t => t.Terminal.Value == swap.Replaced && t.Holds(from)) is not { } place)
        {
            return Outcome.Refused<string>("Choose the terminal that was replaced. It must have stood somewhere at that time.");
        }

        var saved = await book.Save(swap.On, Written(held.Json, setup, place, replacement, from), by);
        if (!saved.IsDone)
        {
            return Outcome.Refused<string>(saved.Objection!);
        }

        var taken = await TakeWaiting(replacement, by);
        return $"{replacement} stands at {setup.NameOf(place.Register)} from {Say.Time(from, setup)}."
            + (taken == 0 ? "" : $" {Say.Capital(Say.Count(taken, "waiting line"))} {(taken == 1 ? "is" : "are")} imported.");
    }

    private static string Written(string json, Setup setup, TerminalPlace place, string replacement, DateTimeOffset from)
    {
        var root = JsonNode.Parse(json)!;
        var (terminals, moment) =
            (root["terminals"]!.AsArray(), from.ToString("yyyy-MM-ddTHH:mm:sszzz", CultureInfo.InvariantCulture));
        var old = terminals[setup.Terminals.IndexOf(place)]!.AsObject();
        var added = old.DeepClone().AsObject();
        old["until"] = moment;
        (added["id"], added["from"]) = (replacement, moment);
        terminals.Add(added);
        return root.ToJsonString();
    }

    /// <summary>Tries the lines that name the terminal again; those that still do not fit keep waiting.</summary>
    private async Task<int> TakeWaiting(string terminal, Person by)
    {
        for (var taken = 0; ;)
        {
            var before = taken;
            foreach (var line in (await waiting.All()).Where(a => a is { IsConflict: false, Kind: Files.Reading.RecordKind.Event }
                && a.Json.Contains($"\"{terminal}\"", StringComparison.Ordinal)))
            {
                taken += (await waiting.TryAgain(line.Id, by)).IsDone ? 1 : 0;
            }

            if (taken == before)
            {
                return taken;
            }
        }
    }
}
