namespace Fondo.Core.Matching;

/// <summary>A way in which tenders and rows can be told to belong together. Each rule works on what the earlier ones left.</summary>
public interface IMatchRule
{
    /// <summary>What it is called in the answer (rules §5).</summary>
    MatchRule Rule { get; }

    /// <summary>The matches this rule makes; no item in more than one. The order of the items has no meaning; their ranks are that of their
    /// keys.</summary>
    /// <param name="window">How far apart in time the two sides may lie, where the rule heeds time.</param>
    IEnumerable<Match> Find(IReadOnlyList<Item> journal, IReadOnlyList<Item> rows, TimeSpan window);
}
