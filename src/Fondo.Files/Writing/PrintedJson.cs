using System.Globalization;
using System.Text.Json.Nodes;
using Fondo.Files.Text;

namespace Fondo.Files.Writing;

/// <summary>A line of a terminal's printed totals, with the columns of printed.csv.</summary>
public static class PrintedJson
{
    public static string Of(PrintedLine line, Currency currency) => new JsonObject
    {
        ["terminal"] = line.Terminal.Value,
        ["at"] = IsoTime.Format(line.At),
        ["by"] = line.By?.Value,
        ["brand"] = line.Brand,
        ["benefit"] = line.Benefit == Benefit.None ? "" : line.Benefit.Written(),
        ["sales_count"] = line.SalesCount.ToString(CultureInfo.InvariantCulture),
        ["sales_amount"] = currency.Format(line.SalesAmount),
        ["refunds_count"] = line.RefundsCount.ToString(CultureInfo.InvariantCulture),
        ["refunds_amount"] = currency.Format(line.RefundsAmount),
    }.ToJsonString();
}
