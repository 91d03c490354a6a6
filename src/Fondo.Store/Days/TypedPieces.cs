using System.Collections.Immutable;
using Fondo.Core.Amounts;
using Fondo.Core.Cash;
using Fondo.Core.Proof;
using Fondo.Core.SetUp;

namespace Fondo.Store.Days;

/// <summary>Pieces of money as a person typed them, denomination by denomination.</summary>
internal static class TypedPieces
{
    /// <summary>What was typed, largest first; what is wrong with a row becomes an objection at that row.</summary>
    public static ImmutableArray<Pieces> Read(IReadOnlyDictionary<long, string> typed, Setup setup, List<Objection> objections) =>
        Of(Rows(typed, setup, objections));

    /// <summary>What lies there by the rows of a count.</summary>
    public static ImmutableArray<Pieces> Of(ImmutableArray<CountedRow> rows) => [.. rows.Select(PiecesOf).Where(p => p.Number > 0)];

    /// <summary>The rows in which something was typed, each with how it was counted.</summary>
    public static ImmutableArray<CountedRow> Rows(IReadOnlyDictionary<long, string> typed, Setup setup, List<Objection> objections)
    {
        var rows = ImmutableArray.CreateBuilder<CountedRow>();
        foreach (var kind in setup.Denominations)
        {
            var text = typed.GetValueOrDefault(kind.Worth.Minor);
            var read = CountSheet.Row(text, kind, setup.Currency, setup.Policy.Scale);
            if (read.Fault is { } fault)
            {
                objections.Add(new($"p{kind.Worth.Minor}", fault.Says(text, setup.Currency)));
            }
            else if (!read.Parts.IsEmpty)
            {
                rows.Add(new(kind.Worth, read.Parts));
            }
        }

        foreach (var unknown in typed.Keys.Where(k => setup.Denominations.All(d => d.Worth.Minor != k)))
        {
            objections.Add(new(null, $"{setup.Currency.Format(new(unknown))} is not a note or coin in the set-up. Nothing was handed in."));
        }

        return rows.ToImmutable();
    }

    public static Pieces PiecesOf(CountedRow row) => new(row.Denomination, row.Parts.Sum(p => p.Pieces));
}
