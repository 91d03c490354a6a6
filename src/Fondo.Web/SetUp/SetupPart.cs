namespace Fondo.Web.SetUp;

/// <summary>A part of the set-up that has a page of its own.</summary>
/// <param name="Name">In its address.</param>
/// <param name="Read">Takes over the fields that stand beside the tables.</param>
/// <param name="Fields">The paths of these fields in day.json.</param>
public sealed record SetupPart(string Name, string Title, string Hint, Action<SetupForm, IFormCollection> Read, string[] Fields,
    params SetupTable[] Tables)
{
    private static readonly string[] _none = [];

    public static readonly SetupPart[] All =
    [
        new("shop", "The shop", "",
            (s, f) =>
            {
                s.ReadTexts(f, "store", "currency", "timeZone");
                s.ReadDecimalMark(f);
                s.ReadTimes(f, "dayEndsAt");
            },
            ["store", "currency", "timeZone", "dayEndsAt"]),
        new("registers", "Registers", "Lanes, self-service, desks, and what is sold online.", Nothing, _none, SetupTable.Registers),
        new("terminals", "Card terminals", "", Nothing, _none, SetupTable.Terminals),
        new("tenders", "Tenders", "", Nothing, _none, SetupTable.Tenders),
        new("notes", "Notes and coins", "", Nothing, _none, SetupTable.Denominations),
        new("people", "People", "", Nothing, _none, SetupTable.People),
        new("rules", "Rules", "",
            (s, f) =>
            {
                s.ReadPolicyAmounts(f, "cashTolerance", "approvalAbove", "cashRounding", "safeFund");
                s.ReadPolicy(f, "matchMinutes", "disputeHours", "showsOwnResult", "scaleDivision", "scaleTare");
                s.ReadTimes(f, "settledBy");
                s.ReadWitness(f);
            },
            ["policy.cashTolerance", "policy.approvalAbove", "policy.cashRounding", "policy.safeFund", "policy.matchMinutes",
                "policy.disputeHours", "policy.scaleDivision", "policy.scaleTare", "policy.settledBy"]),
        new("prices", "Prices, benefits, layaway", "",
            (s, f) =>
            {
                s.ReadProgramme(f);
                s.ReadPolicy(f, "layaway", "ebtTax");
            },
            ["policy.priceProgramme.rate", "policy.priceProgramme.tenders"]),
        new("bank", "The bank", "", (s, f) => s.ReadHolidays(f), ["bankHolidays"], SetupTable.BankAccounts),
        new("processors", "Who pays for cards", "", Nothing, _none, SetupTable.Processors, SetupTable.CardFees),
        new("accounts", "Accounts in the books", "", Nothing, _none, SetupTable.Accounts),
    ];

    public static SetupPart? Find(string? name) => All.FirstOrDefault(p => p.Name == name);

    /// <summary>Whether a field of day.json stands on the page of this part.</summary>
    public bool Shows(string path) => Fields.Contains(path) || Tables.Any(t => path.StartsWith($"{t.Name}[", StringComparison.Ordinal)
        && t.Columns.Any(c => path.EndsWith($"].{c.Name}", StringComparison.Ordinal)));

    private static void Nothing(SetupForm setup, IFormCollection form)
    {
    }
}
