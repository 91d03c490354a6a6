using Fondo.Core.Proof;

namespace Fondo.Core.Matching;

/// <summary>Pairs items that agree exactly on an identifier, the direction and the amount.</summary>
/// <param name="name">The rule's name.</param>
/// <param name="identity">What must agree; null for an item that lacks the identifier.</param>
/// <remarks>Where several tenders and rows agree alike: most pairs, then least total time distance, then lowest keys.</remarks>
public sealed class AgreementRule(string name, Func<Item, (string, string, Direction, Money)?> identity) : IMatchRule
{
    public string Name => name;

    public IEnumerable<Match> Find(IReadOnlyList<Item> journal, IReadOnlyList<Item> rows)
    {
        var alike = rows.Where(r => identity(r) is not null).ToLookup(r => identity(r)!.Value);
        foreach (var group in journal.Where(j => identity(j) is not null).GroupBy(j => identity(j)!.Value))
        {
            foreach (var (left, right) in TimeLine.Pair([.. group], [.. alike[group.Key]]))
            {
                yield return new([left], [right], name);
            }
        }
    }
}
