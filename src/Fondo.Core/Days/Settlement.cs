using System.Collections.Frozen;
using Fondo.Core.Journal;
using Fondo.Core.Proof;

namespace Fondo.Core.Days;

/// <summary>Which cell a settled row proves: where its terminal stood, and what its benefit or brand says (files: batches.csv).</summary>
public sealed class Settlement
{
    private readonly FrozenDictionary<TerminalId, TerminalPlace[]> _places;
    private readonly FrozenDictionary<RegisterId, RegisterKind> _kinds;

    public Settlement(Setup setup)
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

    public CellKey CellOf(BatchRow row)
    {
        var register = RegisterOf(row.Key.Terminal, row.At);
        return new(register, null, TenderOf(row, register));
    }

    private TenderId TenderOf(BatchRow row, RegisterId? register) => row.Benefit switch
    {
        Benefit.Food => TenderId.EbtFood,
        Benefit.Cash => TenderId.EbtCash,
        _ when Is(row, "wic") => TenderId.Wic,
        _ when Is(row, "debit") => TenderId.Debit,
        _ when register is { } id && _kinds.GetValueOrDefault(id) == RegisterKind.Online => TenderId.Online,
        _ => TenderId.Credit,
    };

    private static bool Is(BatchRow row, string brand) => string.Equals(row.Card.Brand, brand, StringComparison.OrdinalIgnoreCase);
}
