using System.Globalization;
using Fondo.Core.Days;
using Fondo.Core.SetUp;

namespace Fondo.Wording;

/// <summary>Cells as a person calls them.</summary>
public static class CellText
{
    /// <summary>In the middle of a sentence: “Lane 2 cash”, “bag B-311”.</summary>
    public static string NameIn(this CellKey key, Setup setup) => key switch
    {
        CellKey.Safe => "the safe",
        CellKey.Bag bag => $"bag {bag.Number}",
        CellKey.Float @float => $"the float of {setup.NameOf(@float.Register)}",
        CellKey.Deposit deposit => $"deposit {deposit.Written.Drawer} at the bank",
        CellKey.BankLine line => $"the bank’s line {line.Line}",
        CellKey.Funding funding => FundingName(funding, setup),
        CellKey.Takings takings => $"{setup.NameOf(takings.Register)} {setup.NameOf(takings.Tender).ToLowerInvariant()}",
        _ => throw new ArgumentOutOfRangeException(nameof(key)),
    };

    /// <summary>At the beginning of a sentence.</summary>
    public static string TitleIn(this CellKey key, Setup setup) =>
        key.NameIn(setup) is var name && name.Length > 0 ? char.ToUpperInvariant(name[0]) + name[1..] : name;

    /// <summary>“what Card processor paid for 18 Nov and 1 more”.</summary>
    private static string FundingName(CellKey.Funding funding, Setup setup)
    {
        var name = setup.Processors.FirstOrDefault(p => p.Id == funding.Processor)?.Name ?? funding.Processor;
        return $"what {name} paid for {funding.Day.Date.ToString("d MMM", CultureInfo.InvariantCulture)}"
            + (funding.More == 0 ? "" : string.Create(CultureInfo.InvariantCulture, $" and {funding.More} more"));
    }
}
