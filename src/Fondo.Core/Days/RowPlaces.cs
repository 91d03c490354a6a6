using System.Collections.Frozen;
using Fondo.Core.Journal;
using Fondo.Core.Proof;
using Fondo.Core.SetUp;

namespace Fondo.Core.Days;

/// <summary>Which cell a settled row proves: where its terminal stood, and what its benefit or brand says (files: batches.csv).</summary>
public sealed class RowPlaces
{
    private readonly Dictionary<(RegisterId?, TenderId), CellKey.Takings> _cells = new();
    private readonly FrozenDictionary<TerminalId, TerminalPlace[]> _places;
    private (string? Terminal, string? Brand, Benefit Benefit, CellKey.Takings? Cell) _last;
    private readonly FrozenDictionary<RegisterId, RegisterKind> _kinds;

    public RowPlaces(Setup setup)
    {
        _places = setup.Terminals.GroupBy(t => t.Terminal).ToFrozenDictionary(g => g.Key, g => g.ToArray());
        _kinds = setup.Registers.ToFrozenDictionary(r => r.Id, r => r.Kind);
    }

    /// <summary>The register where the terminal stood; null when it stood nowhere.</summary>
    public RegisterId? RegisterOf(TerminalId terminal, DateTimeOffset at)
    {
        foreach (var place in _places.GetValueOrDefault(terminal, []))
        {
            if (place.Holds(at))
            {
                return place.Register;
            }
        }

        return null;
    }

    /// <summary>One key for each cell, shared by its rows.</summary>
    public CellKey.Takings CellOf(BatchRow row) => CellOf(row.Key.Terminal, row.At, row.Benefit, row.Card.Brand);

    public CellKey.Takings CellOf(PrintedLine line) => CellOf(line.Terminal, line.At, line.Benefit, line.Brand);

    private CellKey.Takings CellOf(TerminalId terminal, DateTimeOffset at, Benefit benefit, string? brand)
    {
        // Row after row comes from one terminal, which mostly stands at one place all day.
        if (ReferenceEquals(terminal.Value, _last.Terminal) && ReferenceEquals(brand, _last.Brand) && benefit == _last.Benefit
            && _last.Cell is { } same)
        {
            return same;
        }

        var found = FindCell(terminal, at, benefit, brand);
        if (_places.GetValueOrDefault(terminal, []) is [{ From: null, Until: null }])
        {
            _last = (terminal.Value, brand, benefit, found);
        }

        return found;
    }

    private CellKey.Takings FindCell(TerminalId terminal, DateTimeOffset at, Benefit benefit, string? brand)
    {
        var register = RegisterOf(terminal, at);
        var key = (register, TenderOf(benefit, brand, register));
        return _cells.TryGetValue(key, out var cell) ? cell : _cells[key] = new(key.register, null, key.Item2);
    }

    private TenderId TenderOf(Benefit benefit, string? brand, RegisterId? register) => benefit switch
    {
        Benefit.Food => TenderId.EbtFood,
        Benefit.Cash => TenderId.EbtCash,
        _ when Is(brand, "wic") => TenderId.Wic,
        _ when Is(brand, "debit") => TenderId.Debit,
        _ when register is { } id && _kinds.GetValueOrDefault(id) == RegisterKind.Online => TenderId.Online,
        _ => TenderId.Credit,
    };

    private static bool Is(string? brand, string name) => string.Equals(brand, name, StringComparison.OrdinalIgnoreCase);
}
