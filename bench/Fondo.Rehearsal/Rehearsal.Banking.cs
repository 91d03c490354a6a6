using System.Globalization;

namespace Fondo.Rehearsal;

/// <summary>The supervisor looks through the bank's lines with the processor's advice and the deposit slips at hand, and matches by hand
/// what the rules could not know.</summary>
public sealed partial class Rehearsal
{
    private async Task MatchByHand(DateOnly date)
    {
        var path = Path(date, "bank");
        HashSet<BankLine> looked = [];
        foreach (var row in (await _odile.Page(path)).QuerySelectorAll(".bank-lines tbody tr").ToList())
        {
            var (text, amount, says) = (row.QuerySelector(".said")!.TextContent.Trim(), row.QuerySelector(".n")!.TextContent,
                row.QuerySelector("td:nth-child(4)")!.TextContent);
            if (_bank.Stated.Find(l => !looked.Contains(l) && text.Contains(l.Text, StringComparison.Ordinal)
                && l.Amount == plan.Read(Plain(amount))) is not { } line)
            {
                continue; // what it was is compared at the close
            }

            looked.Add(line);
            var target = line.Deposit is { } number && line.Amount > 0 ? $"Deposit {number},"
                : line.Pays is { } pays ? $"batches of {Short(pays.Day)}"
                : null;
            var isRight = target is null || says.Contains(line.Deposit is { } own ? $"deposit {own}" : $"for {Short(line.Pays!.Value.Day)}",
                StringComparison.Ordinal);
            var isUnfinished = line is { Deposit: not null, IsLast: true } && says.Contains("part of", StringComparison.Ordinal);
            if (!isRight || isUnfinished)
            {
                await Match(date, isUnfinished ? "Last" : "Match", row.QuerySelector("td:nth-child(5) a")!.GetAttribute("href")!, target!,
                    line);
            }
        }
    }

    private async Task Match(DateOnly date, string kind, string form, string target, BankLine line)
    {
        var page = await _odile.Page(form.Split('#')[0]);
        var name = line.Pays?.Processor == "benefits" ? "Benefit" : line.Pays is null ? "" : "Card";
        if (page.QuerySelectorAll("#match label")
            .FirstOrDefault(l => l.TextContent.Contains(target, StringComparison.Ordinal)
                && l.TextContent.Contains(name, StringComparison.Ordinal))?.QuerySelector("input") is not { } choice)
        {
            Differs(date, $"“{line.Text}” of {line.Amount} cannot be matched to {target}");
            return;
        }

        var fields = Browser.Fields(page.QuerySelector("#match form")!).Where(f => f.Name is "form" or "line").ToList();
        Refused(date, await _odile.Post(Path(date, "bank?handler=Decide"),
            [.. fields, ("target", choice.GetAttribute("value")!), ("reason", "as the advice says"), ("kind", kind)], Path(date, "bank")),
            "matching by hand");
    }

    private static string Short(DateOnly date) => date.ToString("d MMM", CultureInfo.InvariantCulture);

    private static string Plain(string amount) =>
        string.Concat(amount.Replace('−', '-').Where(c => char.IsAsciiDigit(c) || c is '-' or '.'));
}
