namespace Fondo.Core.Matching;

/// <summary>What was matched and what stayed open on each side, in the order of their keys.</summary>
public sealed record Paired(ImmutableArray<Match> Matches, ImmutableArray<Item> OpenJournal, ImmutableArray<Item> OpenRows)
{
    public static readonly Paired Nothing = new([], [], []);
}

/// <summary>Applies the rules in their order (rules §5).</summary>
public static class Matcher
{
    /// <summary>The rules that go by a code which names the transaction.</summary>
    private static readonly ImmutableArray<IMatchRule> _byCode = [PairRules.Reference, PairRules.Approval];

    /// <summary>The rules that go by circumstance, on what the codes left.</summary>
    private static readonly ImmutableArray<IMatchRule> _byCircumstance =
        [PairRules.Proximity, PairRules.OtherTerminal, PairRules.AmountDiffers, PairRules.Turned, new GroupRule()];

    /// <summary>All rules in the order in which they apply. A new rule is one line here.</summary>
    public static ImmutableArray<IMatchRule> Rules => [.. _byCode, .. _byCircumstance];

    /// <param name="isSpokenFor">Whether the codes of a row name a tender that does not count: voided, reversed, declined, rung after the
    /// close.
    /// Such a row is offered to no rule that goes by circumstance.</param>
    public static Paired Match(IReadOnlyCollection<Item> journal, IReadOnlyCollection<Item> rows, TimeSpan window,
        Func<Item, bool> isSpokenFor)
    {
        var (tenders, settled) = (new OneSide(journal), new OneSide(rows));
        var matches = new Match?[tenders.Items.Length];
        foreach (var rule in _byCode)
        {
            Apply(rule);
        }

        settled.PutAside(isSpokenFor);
        foreach (var rule in _byCircumstance)
        {
            Apply(rule);
        }

        return new(Made(matches), tenders.Left(), settled.Left());

        void Apply(IMatchRule rule)
        {
            if (tenders.Open.Count == 0 || settled.Open.Count == 0)
            {
                return;
            }

            foreach (var match in rule.Find(tenders.Open, settled.Open, window))
            {
                if (match.Pair is var (tender, row))
                {
                    tenders.Use(tender);
                    settled.Use(row);
                    matches[tender.Rank] = match;
                    continue;
                }

                match.Journal.ToList().ForEach(tenders.Use);
                match.Rows.ToList().ForEach(settled.Use);
                matches[match.Journal[0].Rank] = match;
            }

            tenders.Refresh();
            settled.Refresh();
        }
    }

    private static ImmutableArray<Match> Made(Match?[] matches)
    {
        var made = ImmutableArray.CreateBuilder<Match>(matches.Count(m => m is not null));
        foreach (var match in matches)
        {
            if (match is not null)
            {
                made.Add(match);
            }
        }

        return made.MoveToImmutable();
    }

    /// <summary>The items of one side, and which of them are still open.</summary>
    private sealed class OneSide
    {
        private readonly bool[] _used;
        private bool[] _aside;

        public OneSide(IReadOnlyCollection<Item> items)
        {
            Items = items.ToArray();
            KeyOrder.Rank(Items);
            (_used, _aside, Open) = (new bool[Items.Length], [], Items);
        }

        public Item[] Items { get; }

        /// <summary>What the next rule may use.</summary>
        public IReadOnlyList<Item> Open { get; private set; }

        public void Use(Item item)
        {
            if (_used[item.Rank])
            {
                throw new InvalidOperationException($"{item.Key} was matched twice.");
            }

            _used[item.Rank] = true;
        }

        public void PutAside(Func<Item, bool> which)
        {
            _aside = new bool[Items.Length];
            foreach (var item in Open)
            {
                _aside[item.Rank] = which(item);
            }

            Refresh();
        }

        public void Refresh() => Open = Open.Where(i => !_used[i.Rank] && (_aside.Length == 0 || !_aside[i.Rank])).ToList();

        public ImmutableArray<Item> Left() => [.. Items.Where(i => !_used[i.Rank]).OrderBy(i => i.Rank)];
    }
}
