using Fondo.Core.Amounts;
using Fondo.Core.Cash;
using Fondo.Core.SetUp;
using Fondo.Store;

namespace Fondo.Web.Pages;

/// <summary>Pieces of money to type, denomination by denomination.</summary>
/// <param name="Typed">By denomination in minor units, as typed.</param>
/// <param name="Counted">What there is of each, shown beside it; null where nothing may be shown.</param>
public sealed record PiecesSheet(Setup Setup, IReadOnlyDictionary<long, string> Typed, IReadOnlyList<Objection> Objections,
    IReadOnlyDictionary<long, int>? Counted = null)
{
    /// <summary>The denominations that come first; empty: all in their order.</summary>
    public IReadOnlySet<long> First { get; init; } = new HashSet<long>();

    /// <summary>What is typed, and what stands beside it.</summary>
    public string Goes { get; init; } = "stays";

    public string There { get; init; } = "counted";

    /// <summary>Whether the hand begins at another field.</summary>
    public bool BeginsElsewhere { get; init; }

    /// <summary>What machines say.</summary>
    public IReadOnlyList<MachineSays> Machines { get; init; } = [];

    /// <summary>Those that the last count had, then the others; each largest first.</summary>
    public IEnumerable<IEnumerable<Denomination>> Parts =>
        Setup.Denominations.GroupBy(d => First.Count == 0 || First.Contains(d.Worth.Minor)).OrderByDescending(g => g.Key);

    /// <summary>What a form holds, by denomination in minor units; empty rows are left out. A row of a denomination that the set-up does
    /// not know stays, and is told.</summary>
    public static Dictionary<long, string> Read(IFormCollection form) =>
        form.Keys.Where(k => k.Length > 1 && k[0] == 'p' && long.TryParse(k.AsSpan(1), out _))
            .ToDictionary(k => long.Parse(k.AsSpan(1), System.Globalization.CultureInfo.InvariantCulture), k => Short(form[k]))
            .Where(p => p.Value.Length > 0).ToDictionary();

    /// <summary>No longer than anybody types on purpose.</summary>
    public static string Short(string? text) => text is null ? "" : text.Trim() is { Length: > 40 } t ? t[..40] : text.Trim();
}
