using System.Globalization;
using Fondo.Core.Amounts;
using Fondo.Core.SetUp;
using Fondo.Store.Model;

namespace Fondo.Web.SetUp;

/// <summary>One thing that a store needs before its first day.</summary>
internal sealed record SetupStep(string Name, bool IsDone, string Says, string Anchor);

/// <summary>What is missing, in the order in which a new store needs it.</summary>
internal static class SetupChecklist
{
    public static IReadOnlyList<SetupStep> Of(Setup? setup, IReadOnlyList<Person> canSignIn, IReadOnlyList<RegisterKeyRow> keys)
    {
        if (setup is null)
        {
            return [new("The store", false, "Save the set-up once. Every field has a default.", "store")];
        }

        var bare = setup.Registers.Where(r => setup.Terminals.All(t => t.Register != r.Id)).ToList();
        var doubled = setup.Terminals.Where((t, i) => setup.Terminals.Skip(i + 1).Any(o => o.Terminal == t.Terminal && t.Overlaps(o)))
            .Select(t => t.Terminal).Distinct().ToList();
        var silent = setup.Registers.Where(r => keys.All(k => k.Register != r.Id.Value || k.RevokedAt is not null)).ToList();
        var floats = setup.Denominations.Sum(d => d.Worth * d.Kept);
        return
        [
            new("The store", true,
                $"{setup.Store}, {setup.Currency.Code}, {setup.TimeZone.Id}; a trading day ends at {setup.DayEndsAt:HH:mm}.", "store"),
            new("Registers", !setup.Registers.IsEmpty,
                setup.Registers.IsEmpty ? "There is no register yet." : string.Join(", ", setup.Registers.Select(r => r.Name)),
                "registers"),
            new("Terminals", bare.Count == 0 && doubled.Count == 0,
                doubled.Count > 0 ? $"In two places at once: {string.Join(", ", doubled)}. Give the end and the start the same time."
                : bare.Count == 0 ? "Each register has a terminal."
                : $"Without a terminal: {string.Join(", ", bare.Select(r => r.Name))}. That is fine where no cards are taken.",
                "terminals"),
            new("Settlement", true, setup.Terminals.Any(t => t.SettlesAt is not null)
                ? string.Join(", ", setup.Terminals.Where(t => t.SettlesAt is not null)
                    .Select(t => $"{t.Terminal} by itself at {t.SettlesAt:HH:mm}")) + "; the others by hand. They are watched."
                : "Every terminal is settled by hand.", "terminals"),
            new("Tenders", true, $"{setup.Tenders.Length} kinds of tender, the standard ones included.", "tenders"),
            new("Notes and coins", !floats.IsZero,
                $"{setup.Denominations.Length} are counted. The preferred float comes to {setup.Currency.Say(floats)}.",
                "denominations"),
            new("People", canSignIn.Any(p => p.Role is Role.Supervisor) && canSignIn.Any(p => p.Role is Role.Manager),
                canSignIn.Any(p => p.Role is Role.Manager)
                    ? $"{canSignIn.Count} can sign in."
                    : "No one can approve yet. A manager needs a PIN.", "people"),
            new("Rules", true,
                $"Tolerance {setup.Currency.Say(setup.Policy.CashTolerance)}, approval above "
                    + $"{setup.Currency.Say(setup.Policy.ApprovalAbove)}; {Programme(setup.Policy.PriceProgramme)}.", "rules"),
            new("Accounts", true, "Every account is set.", "accounts"),
            new("Keys of the registers", silent.Count == 0,
                silent.Count == 0
                    ? "Every register can send its journal."
                    : $"Without a key: {string.Join(", ", silent.Select(r => r.Name))}. Files work without one.", "keys"),
        ];
    }

    private static string Programme(PriceProgramme programme) => programme.Kind switch
    {
        PriceProgrammeKind.Surcharge =>
            string.Create(CultureInfo.InvariantCulture, $"{string.Join(", ", programme.Tenders)} pays {programme.Rate * 100:0.##} % more"),
        PriceProgrammeKind.CashDiscount =>
            string.Create(CultureInfo.InvariantCulture, $"cash and checks pay {programme.Rate * 100:0.##} % less"),
        _ => "one price for all tenders",
    };
}
