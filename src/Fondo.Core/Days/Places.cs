using Fondo.Core.Journal;
using Fondo.Core.SetUp;

namespace Fondo.Core.Days;

/// <summary>The store's money has cells outside of the registers' tenders too: the safe, a bag, a float, a deposit at the bank, a line of
/// the bank, what a processor owes.</summary>
public static class Places
{
    public static CellKey OfSafe => new(null, null, PlaceId.Safe);

    public static CellKey OfBag(string name) => new(null, new DrawerId(name), PlaceId.Bag);

    public static CellKey OfFloat(RegisterId register, DrawerId drawer) => new(register, drawer, PlaceId.Float);

    public static CellKey OfDeposit(int number) =>
        new(null, new DrawerId(number.ToString(System.Globalization.CultureInfo.InvariantCulture)), PlaceId.Deposit);

    public static CellKey OfBankLine(string key) => new(null, new DrawerId(key), PlaceId.BankLine);

    /// <param name="what">The processor and the day of its batches.</param>
    public static CellKey OfFunding(string what) => new(null, new DrawerId(what), PlaceId.Funding);

    public static bool IsPlace(this CellKey key) => key.Tender.IsPlace();

    /// <summary>As a person calls it, in the middle of a sentence: “Lane 2 cash”, “bag B-311”.</summary>
    public static string NameIn(this CellKey key, Setup setup) => key.Tender switch
    {
        _ when key.Tender == PlaceId.Safe => "the safe",
        _ when key.Tender == PlaceId.Bag => $"bag {key.Drawer}",
        _ when key.Tender == PlaceId.Float => $"the float of {setup.NameOf(key.Register)}",
        _ when key.Tender == PlaceId.Deposit => $"deposit {key.Drawer} at the bank",
        _ when key.Tender == PlaceId.BankLine => $"the bank’s line {key.Drawer}",
        _ when key.Tender == PlaceId.Funding => FundingName(key.Drawer?.Value ?? "", setup),
        _ => $"{setup.NameOf(key.Register)} {setup.NameOf(key.Tender).ToLowerInvariant()}",
    };

    /// <summary>“Card processor 2026-11-18 +1” as “what Card processor paid for 18 Nov and the next day”.</summary>
    private static string FundingName(string key, Setup setup)
    {
        var (parts, more) = (key.Split(' '), key.IndexOf(" +", StringComparison.Ordinal) is > 0 and var at ? key[(at + 2)..] : null);
        var name = setup.Processors.FirstOrDefault(p => p.Id == parts[0])?.Name ?? parts[0];
        var of = parts.Length > 1 && TradingDay.TryParse(parts[1], out var day)
            ? $" for {day.Date.ToString("d MMM", System.Globalization.CultureInfo.InvariantCulture)}"
            : "";
        return $"what {name} paid{of}{(more is null ? "" : $" and {more} more")}";
    }

    /// <summary>The same at the beginning of a sentence.</summary>
    public static string TitleIn(this CellKey key, Setup setup) =>
        key.NameIn(setup) is var name && name.Length > 0 ? char.ToUpperInvariant(name[0]) + name[1..] : name;
}
