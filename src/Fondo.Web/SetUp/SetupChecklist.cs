using System.Globalization;
using Fondo.Core.Amounts;
using Fondo.Core.SetUp;
using Fondo.Store.Model;
using Fondo.Web.Text;

namespace Fondo.Web.SetUp;

/// <summary>One thing that a store needs before its first day.</summary>
/// <param name="Href">Where it is done.</param>
internal sealed record SetupStep(string Name, bool IsDone, string Says, string Href);

/// <summary>What is missing, in the order in which a new store needs it.</summary>
internal static class SetupChecklist
{
    public static IReadOnlyList<SetupStep> Of(Setup? setup, IReadOnlyList<Person> canSignIn, IReadOnlyList<RegisterKeyRow> keys)
    {
        if (setup is null)
        {
            return [];
        }

        var bare = setup.Registers.Where(r => setup.Terminals.All(t => t.Register != r.Id)).ToList();
        var doubled = setup.Terminals.Where((t, i) => setup.Terminals.Skip(i + 1).Any(o => o.Terminal == t.Terminal && t.Overlaps(o)))
            .Select(t => t.Terminal).Distinct().ToList();
        var silent = setup.Registers.Where(r => keys.All(k => k.Register != r.Id.Value || k.RevokedAt is not null)).ToList();
        var approvers = canSignIn.Count(p => p.May(Right.Supervise));
        var absent = setup.People.Where(p => canSignIn.All(c => c.Id != p.Id)).Select(p => p.Name);
        var floats = setup.Denominations.Sum(d => d.Worth * d.Kept);
        return
        [
            new("The store", true,
                $"{setup.Store}, {setup.Currency.Code}, {setup.TimeZone.Id}; a trading day ends at {setup.DayEndsAt:HH:mm}.",
                "/store/shop"),
            new("Registers", !setup.Registers.IsEmpty,
                setup.Registers.IsEmpty ? "There is no register yet." : string.Join(", ", setup.Registers.Select(r => r.Name)),
                "/store/registers"),
            new("Terminals", doubled.Count == 0,
                doubled.Count > 0 ? $"In two places at once: {string.Join(", ", doubled)}. Give the end and the start the same time."
                : bare.Count == 0 ? "Each register has a terminal."
                : $"Without a terminal: {string.Join(", ", bare.Select(r => r.Name))}. That is fine where no cards are taken.",
                "/store/terminals"),
            new("Settling", true, setup.Terminals.Any(t => t.SettlesAt is not null)
                ? string.Join(", ", setup.Terminals.Where(t => t.SettlesAt is not null)
                    .Select(t => $"{t.Terminal} by itself at {t.SettlesAt:HH:mm}")) + "; the others by hand. They are watched."
                : "Every terminal is settled by hand.", "/store/terminals"),
            new("Tenders", true, $"{setup.Tenders.Length} kinds of tender, the standard ones included.", "/store/tenders"),
            new("Notes and coins", !floats.IsZero,
                $"{setup.Denominations.Length} are counted. The preferred float comes to {setup.Currency.Say(floats)}.",
                "/store/notes"),
            new("People", approvers > 1,
                approvers < 2 ? "Two people who can approve are needed. Give one more a PIN."
                    : absent.Any() ? $"Cannot sign in yet: {string.Join(", ", absent)}."
                    : $"{canSignIn.Count} can sign in, and {approvers} of them can approve.", absent.Any() ? "/people" : "/store/people"),
            new("Rules", true,
                $"Tolerance {setup.Currency.Say(setup.Policy.CashTolerance)}, approval above "
                    + $"{setup.Currency.Say(setup.Policy.ApprovalAbove)}.", "/store/rules"),
            new("Prices", true, $"{Say.Capital(Programme(setup.Policy.PriceProgramme))}.", "/store/prices"),
            new("Who pays for cards", true, $"{string.Join(", ", setup.Processors.Select(p => p.Name))}.", "/store/processors"),
            new("The bank", true, setup.BankAccounts.IsEmpty
                ? "The first statement’s account is the store’s."
                : string.Join(", ", setup.BankAccounts.Select(b => b.Name ?? b.Number)), "/store/bank"),
            new("Accounts in the books", true, "Every account is set.", "/store/accounts"),
            new("What sends to Fondo", true,
                silent.Count == 0
                    ? "Every register can send its journal."
                    : $"Without a key: {string.Join(", ", silent.Select(r => r.Name))}. Files work without one.", "/store/connect"),
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
