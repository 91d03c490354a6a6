using System.Globalization;
using Fondo.Core.Amounts;
using Fondo.Core.Proof;
using Fondo.Core.SetUp;
using Fondo.Web.Text;

namespace Fondo.Web.Pages.Day;

/// <summary>One row of several attempts at a count, side by side.</summary>
/// <param name="Cells">What each attempt has of it.</param>
/// <param name="How">How the last attempt counted it, where by anything else than pieces.</param>
/// <param name="Difference">Between the first and the last attempt, signed.</param>
public sealed record AttemptRow(string Name, IReadOnlyList<string> Cells, bool Differs, string How, string Difference)
{
    /// <summary>Every denomination, check and paper that any attempt has, in the order of the sheet.</summary>
    public static IReadOnlyList<AttemptRow> Of(IReadOnlyList<Count> counts, Setup setup)
    {
        var rows = new List<AttemptRow>();
        var pieces = counts.Select(c => c.Pieces.GroupBy(p => p.Denomination).ToDictionary(g => g.Key, g => g.Sum(p => p.Number))).ToList();
        foreach (var denomination in pieces.SelectMany(p => p.Keys).Distinct().OrderDescending())
        {
            var numbers = pieces.Select(p => p.GetValueOrDefault(denomination)).ToList();
            rows.Add(new(Say.Amount(denomination, setup.Currency), [.. numbers.Select(n => n.ToString(CultureInfo.InvariantCulture))],
                numbers.Distinct().Count() > 1,
                counts[^1].How.FirstOrDefault(h => h.Denomination == denomination) is { } how ? HowOf(how) : "",
                Signed(numbers[^1] - numbers[0])));
        }

        if (counts.Any(c => !c.Checks.IsEmpty))
        {
            var worths = counts.Select(c => c.Checks.Sum(k => k.Amount)).ToList();
            rows.Add(new("Checks", [.. counts.Select((c, i) => $"{c.Checks.Length} · {Say.Amount(worths[i], setup.Currency)}")],
                !counts.All(c => c.Checks.SequenceEqual(counts[0].Checks)), "", Say.Signed(worths[^1] - worths[0], setup.Currency)));
        }

        foreach (var tender in counts.SelectMany(c => c.Stubs.Select(s => s.Tender)).Distinct())
        {
            var worths = counts.Select(c => c.Stubs.Where(s => s.Tender == tender).Sum(s => s.Amount)).ToList();
            rows.Add(new(setup.NameOf(tender), [.. worths.Select(w => Say.Amount(w, setup.Currency))], worths.Distinct().Count() > 1, "",
                Say.Signed(worths[^1] - worths[0], setup.Currency)));
        }

        return rows;
    }

    /// <summary>How a row was counted; nothing where piece by piece.</summary>
    public static string HowOf(CountedRow row)
    {
        var parts = row.Parts.All(p => p.By == Means.Piece)
            ? ""
            : string.Join(" ", row.Parts.Select((p, i) => (p.Pieces < 0 ? "− " : i > 0 ? "+ " : "") + Said(p)));
        return row.Instead is { } instead
            ? $"{(parts.Length > 0 ? parts : "by hand")} instead of {instead.Pieces} by {instead.Machine}: {instead.Reason}"
            : parts;
    }

    private static string Said(CountedPart part) => part.By switch
    {
        Means.Pack => $"{part.Said} packed ({Math.Abs(part.Pieces)})",
        Means.Value => $"{part.Said} in value",
        Means.Weight => $"{part.Said} g",
        Means.Machine => $"by {part.Said}",
        _ => part.Said,
    };

    private static string Signed(int difference) => difference > 0 ? $"+{difference}" : difference < 0 ? $"−{-difference}" : "0";
}
