using Fondo.Core.Days;

namespace Fondo.Core.Leads;

/// <summary>Explanations by the cells that they touch, in the order in which they were found.</summary>
internal sealed class ByCell
{
    private readonly ILookup<CellKey, Explanation> _touching;

    public ByCell(IReadOnlyCollection<Explanation> all)
    {
        All = all;
        _touching = all.SelectMany(e => CellsOf(e).Select(c => (Cell: c, Explanation: e))).ToLookup(p => p.Cell, p => p.Explanation);
    }

    public IReadOnlyCollection<Explanation> All { get; }

    public IEnumerable<Explanation> this[CellKey cell] => _touching[cell];

    /// <summary>The cells that an explanation would put off.</summary>
    public static IEnumerable<CellKey> CellsOf(Explanation e) => e.Effects.Select(p => p.Cell).Distinct().Where(c => !e.On(c).IsZero);
}
