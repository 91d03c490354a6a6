using Fondo.Core.Amounts;
using Fondo.Core.Journal;
using Fondo.Core.SetUp;
using Fondo.Store.Intake;
using Fondo.Store.Mappings;
using Fondo.Store.People;

namespace Fondo.Web.Pages;

/// <summary>The files that wait for other persons, as a page shows them and answers about them.</summary>
/// <param name="Others">Who may give their word here.</param>
/// <param name="Failed">Whose form was refused, and why.</param>
public sealed record HeldList(IReadOnlyList<Held> All, Setup? Setup, Person Me, IReadOnlyList<Person> Others,
    (Guid Id, string Objection)? Failed)
{
    public static async Task<HeldList> Of(IServiceProvider services, Setup? setup, Person me, (Guid, string)? failed = null) => new(
        await services.GetRequiredService<HeldFiles>().All(), setup, me,
        [.. (await services.GetRequiredService<PeopleRegister>().All()).Where(p => p.Id != me.Id)], failed);

    /// <summary>Whom files wait for, in a sentence.</summary>
    public string WaitsFor(Held held)
    {
        List<string> who = [.. held.Missing.Select(NameOf)];
        if (held.NeedsSecond)
        {
            who.Insert(0, "another supervisor or manager");
        }

        return string.Join(", ", who);
    }

    public string NameOf(PersonId id) => Others.Append(Me).FirstOrDefault(p => p.Id == id)?.Name ?? Setup?.NameOf(id) ?? id.Value;

    public string CellName(HeldChange change) => Setup is null ? change.Cell.ToString()
        : change.Cell.NameIn(Setup) is { Length: > 0 } name ? char.ToUpperInvariant(name[0]) + name[1..]
        : "";

    /// <summary>“short 300.00”, “right”.</summary>
    public string Says(Money difference) =>
        difference.IsZero ? "right" : $"{(difference.Sign < 0 ? "short" : "over")} {Setup?.Currency.Say(difference.Abs())}";

    public string Amount(long minor) => Setup?.Currency.Say(new(minor)) ?? "";

    /// <summary>Answers a form of the list: somebody agrees, or the files are given up.</summary>
    /// <returns>What is said of it; or why nothing was done.</returns>
    public static async Task<(string? Notice, string? Objection, IntakeResult? Result)> Answer(IServiceProvider services, Guid id,
        string? how, string? who, string? pin, Person me)
    {
        var (held, files) = (services.GetRequiredService<HeldFiles>(), services.GetRequiredService<PersonsFiles>());
        if (how == "give-up")
        {
            var ended = await held.GiveUp(id, me);
            return (ended.IsDone ? "The files were not imported." : null, ended.Objection, null);
        }

        if ((await held.All()).FirstOrDefault(h => h.Id == id) is not { } own)
        {
            return (null, "These files were already imported or discarded. Reload the page.", null);
        }

        var (person, objection) = await services.GetRequiredService<PinSignIn>().ProveSecond(who, pin, own.By);
        if (person is null)
        {
            return (null, objection, null);
        }

        var (outcome, result) = await files.Agree(id, person.ToPerson());
        return !outcome.IsDone ? (null, outcome.Objection, null)
            : result is null ? ($"{person.Name} agreed. The files still wait for others.", null, null)
            : result.Waits is not null ? (null, "The files would now change something else. Look at them again.", null)
            : (null, null, result);
    }
}
