namespace Fondo.Core.Matching;

/// <summary>A way in which a tender and a row can be told to belong together. Each rule works on what the earlier ones left.</summary>
public interface IMatchRule
{
    /// <summary>The rule's name in the answer (rules §5).</summary>
    string Name { get; }

    /// <summary>The matches this rule makes; no item in more than one. Must not depend on the order of the items.</summary>
    IEnumerable<Match> Find(IReadOnlyList<Item> journal, IReadOnlyList<Item> rows);
}

/// <summary>What was matched and what stayed open on each side.</summary>
public sealed record Matching(ImmutableArray<Match> Matches, ImmutableArray<Item> OpenJournal, ImmutableArray<Item> OpenRows);

/// <summary>Applies the rules in their order (rules §5).</summary>
public static class Matcher
{
    /// <summary>The rules in the order in which they apply. A new rule is one file and one line here.</summary>
    public static readonly ImmutableArray<IMatchRule> Rules =
    [
        new AgreementRule("reference", i => i.Card.Rrn is { } rrn ? (rrn, "", i.Direction, i.Amount) : null),
        new AgreementRule("approval", i => i.Card is { Approval: { } code, LastFour: { } last } ? (code, last, i.Direction, i.Amount) : null),
    ];

    public static Matching Match(IEnumerable<Item> journal, IEnumerable<Item> rows)
    {
        var openJournal = journal.OrderBy(i => i.Key, StringComparer.Ordinal).ToList();
        var openRows = rows.OrderBy(i => i.Key, StringComparer.Ordinal).ToList();
        var matches = new List<Match>();
        foreach (var rule in Rules)
        {
            var found = rule.Find(openJournal, openRows).ToList();
            var used = found.SelectMany(m => m.Journal.Concat(m.Rows)).ToHashSet(ReferenceEqualityComparer.Instance);
            openJournal.RemoveAll(used.Contains);
            openRows.RemoveAll(used.Contains);
            matches.AddRange(found);
        }

        return new(
            [.. matches.OrderBy(m => m.Journal[0].Key, StringComparer.Ordinal).ThenBy(m => m.Rows[0].Key, StringComparer.Ordinal)],
            [.. openJournal],
            [.. openRows]);
    }
}
