namespace Fondo.Core.Matching;

/// <summary>Tenders and rows that belong together, and the rule that says so. Nearly all are one tender and one row, and kept without
/// lists.</summary>
public sealed class Match
{
    private readonly Item _tender, _row;
    private readonly Lists? _lists;

    private sealed record Lists(ImmutableArray<Item> Journal, ImmutableArray<Item> Rows);

    public Match(Item tender, Item row, MatchRule rule) => (_tender, _row, Rule) = (tender, row, rule);

    public Match(ImmutableArray<Item> journal, ImmutableArray<Item> rows, MatchRule rule)
        : this(journal[0], rows[0], rule) => _lists = journal.Length > 1 || rows.Length > 1 ? new(journal, rows) : null;

    public ImmutableArray<Item> Journal => _lists?.Journal ?? [_tender];

    public ImmutableArray<Item> Rows => _lists?.Rows ?? [_row];

    public MatchRule Rule { get; }

    /// <summary>The one tender and the one row; null where there are more.</summary>
    public (Item Tender, Item Row)? Pair => _lists is null ? (_tender, _row) : null;

    /// <summary>Whether it is as nearly all are: one tender and one row, of one cell and amount, of today, found by a rule.</summary>
    public bool IsPlain =>
        Rule != MatchRule.ByHand && Pair is ({ CarriedFrom: null } j, { CarriedFrom: null } r) && j.Amount == r.Amount && j.IsBeside(r);

    /// <summary>Rows less tenders.</summary>
    public Money Difference => Pair is var (tender, row) ? row.Amount - tender.Amount : Sum(Rows) - Sum(Journal);

    /// <summary>What the items of one side add up to.</summary>
    public static Money Sum(ImmutableArray<Item> items)
    {
        var sum = Money.Zero;
        foreach (var item in items)
        {
            sum += item.Amount;
        }

        return sum;
    }
}
