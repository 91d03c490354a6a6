using Fondo.Core.SetUp;
using Fondo.Store.Days;

namespace Fondo.Web.Pages;

/// <summary>Pieces of money to type, denomination by denomination.</summary>
/// <param name="Typed">By denomination in minor units, as typed.</param>
/// <param name="Counted">What there is of each, shown beside it; null where nothing may be shown.</param>
public sealed record PiecesSheet(Setup Setup, IReadOnlyDictionary<long, string> Typed, IReadOnlyList<CountObjection> Objections, IReadOnlyDictionary<long, int>? Counted = null)
{
    /// <summary>What a form holds, by denomination in minor units; empty rows are left out.</summary>
    public static Dictionary<long, string> Read(IFormCollection form, Setup setup) =>
        setup.Denominations.Select(d => d.Worth.Minor).ToDictionary(m => m, m => Short(form[$"p{m}"])).Where(p => p.Value.Length > 0).ToDictionary();

    /// <summary>No longer than anybody types on purpose.</summary>
    public static string Short(string? text) => text is null ? "" : text.Trim() is { Length: > 40 } t ? t[..40] : text.Trim();
}
