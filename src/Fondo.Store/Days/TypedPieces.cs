using System.Collections.Immutable;
using System.Text.Json.Nodes;
using Fondo.Core.Amounts;
using Fondo.Core.Cash;
using Fondo.Core.Proof;
using Fondo.Core.SetUp;

namespace Fondo.Store.Days;

/// <summary>Pieces of money as a person typed them, denomination by denomination.</summary>
internal static class TypedPieces
{
    /// <summary>What was typed, largest first; what is wrong with a row becomes an objection at that row.</summary>
    public static ImmutableArray<Pieces> Read(IReadOnlyDictionary<long, string> typed, Setup setup, List<CountObjection> objections)
    {
        var read = ImmutableArray.CreateBuilder<Pieces>();
        foreach (var worth in setup.Denominations.Select(d => d.Worth))
        {
            var (pieces, objection) = CountSheet.Pieces(typed.GetValueOrDefault(worth.Minor));
            if (objection is not null)
            {
                objections.Add(new($"p{worth.Minor}", objection));
            }
            else if (pieces > 0)
            {
                read.Add(new(worth, pieces));
            }
        }

        return read.ToImmutable();
    }

    /// <summary>As counts.json writes it.</summary>
    public static JsonObject Json(IEnumerable<Pieces> pieces, Currency currency) =>
        new(pieces.Select(p => KeyValuePair.Create<string, JsonNode?>(currency.Format(p.Denomination), p.Number)));
}
