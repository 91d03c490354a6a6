using System.Collections.Frozen;
using Fondo.Core.Cells;
using Fondo.Core.Checks;
using Fondo.Core.Days;
using Fondo.Core.Journal;
using Fondo.Core.Matching;
using Fondo.Core.SetUp;

namespace Fondo.Core.Reconciling;

/// <summary>What follows from the tickets and the proofs one by one: it does not depend on the matching, so that the two may be worked out
/// side by side.</summary>
public sealed record CellResults(ImmutableArray<Cell> Cells, ImmutableArray<TicketFinding> TicketFindings,
    ImmutableArray<BatchTotalDifference> BatchDifferences)
{
    public static CellResults Of(Day day)
    {
        var standing = new Standing(day);
        return new(CellSums.Of(day, standing, new(day.Setup)), TicketChecks.Of(day, standing), BatchTotalDifference.In(day));
    }
}

/// <summary>Everything that follows from a day by arithmetic: cells, matches, open items, ticket findings. A plain value, and a pure
/// function of the day.</summary>
/// <param name="OpenItems">The settled rows first, by key; then the tenders, by key.</param>
public sealed record Reconciliation(
    Day Day,
    ImmutableArray<Cell> Cells,
    ImmutableArray<Match> Matches,
    ImmutableArray<OpenItem> OpenItems,
    ImmutableArray<TicketFinding> TicketFindings,
    ImmutableArray<BatchTotalDifference> BatchDifferences)
{
    /// <exception cref="InvalidOperationException">Money was lost or doubled on the way: a bug, never the data's fault.</exception>
    public static Reconciliation Of(Day day) => Of(day, Matched.Of(day), CellResults.Of(day));

    /// <summary>Puts together what was worked out apart; both of this day.</summary>
    /// <exception cref="InvalidOperationException">As above.</exception>
    public static Reconciliation Of(Day day, Matched matched, CellResults results)
    {
        var result =
            new Reconciliation(day, results.Cells, matched.Matches, matched.OpenItems, results.TicketFindings, results.BatchDifferences);
        if (day.Rows is not null)
        {
            Conservation.Assert(result, day.Setup.Tenders.ToFrozenDictionary(t => t.Id, t => t.Proof));
        }

        return result;
    }
}

/// <summary>Which tenders and rows belong together, and what is left of them.</summary>
public sealed record Matched(ImmutableArray<Match> Matches, ImmutableArray<OpenItem> OpenItems)
{
    public static Matched Of(Day day)
    {
        var (standing, places) = (new Standing(day), new RowPlaces(day.Setup));
        var proofs = day.Setup.Tenders.ToFrozenDictionary(t => t.Id, t => t.Proof);
        var (rows, stoodNowhere) = Rows(day, places);
        var uncounted = new Uncounted(day, standing);
        var printed = new PrintedTotals(day);
        var paired = day.Rows is null && day.Carried.Rows.IsEmpty
            ? Paired.Nothing with
            {
                OpenJournal = [.. day.Carried.Journal.Select(c => Item.Of(new TakenTender(c.Ticket, c.Place), c.Day)).Order()]
            }
            : Pair(day, Tenders(day, standing, proofs, printed), rows, uncounted);
        var causes = new Causes(day, uncounted, paired);
        return new(
            paired.Matches,
            [
                .. paired.OpenRows.Concat(stoodNowhere).Order().Select(r => new OpenItem(OpenIn.Batch, r, causes.OfRow(r))),
                // While no batch is in, today's tenders wait for theirs and are not open.
                .. paired.OpenJournal.Where(j => day.Rows is not null || j.CarriedFrom is not null)
                    .Select(j => new OpenItem(OpenIn.Journal, j, causes.OfTender(j))),
            ]);
    }

    /// <summary>By hand what persons said, by the rules the rest.</summary>
    private static Paired Pair(Day day, List<Item> tenders, List<Item> rows, Uncounted uncounted)
    {
        var hand = ByHand.Of(day.Pairings, tenders, rows);
        if (hand.Matches.IsEmpty && hand.Parted.IsEmpty)
        {
            return Matcher.Match(tenders, rows, day.Setup.Policy.MatchWindow, uncounted.Names);
        }

        var taken = hand.Matches.SelectMany(m => m.Journal.Concat(m.Rows)).Concat(hand.Parted).ToHashSet();
        var paired = Matcher.Match([.. tenders.Where(t => !taken.Contains(t))], [.. rows.Where(r => !taken.Contains(r))],
            day.Setup.Policy.MatchWindow, uncounted.Names);
        return new(
            [.. paired.Matches.Concat(hand.Matches).OrderBy(m => m.Journal[0])],
            [.. paired.OpenJournal.Concat(hand.Parted.Where(i => i.Row is null)).Order()],
            [.. paired.OpenRows.Concat(hand.Parted.Where(i => i.Row is not null)).Order()]);
    }

    /// <summary>The approved batch-proved tenders of today that a row should prove, and the carried ones.</summary>
    private static List<Item> Tenders(Day day, Standing standing, FrozenDictionary<TenderId, ProofKind> proofs, PrintedTotals printed)
    {
        var items = new List<Item>((day.Rows?.Length ?? 0) + day.Carried.Journal.Length);
        foreach (var taken in Standing.Tenders(day, standing))
        {
            if (proofs[taken.Tender.Type] == ProofKind.Batch && !printed.Proves(taken.Tender))
            {
                items.Add(Item.Of(taken, null));
            }
        }

        items.AddRange(day.Carried.Journal.Select(c => Item.Of(new TakenTender(c.Ticket, c.Place), c.Day)));
        return items;
    }

    /// <summary>The settled rows of today and the carried ones; apart from them, those whose terminal stood at no register.</summary>
    private static (List<Item> Rows, List<Item> StoodNowhere) Rows(Day day, RowPlaces places)
    {
        var (rows, stoodNowhere) = (new List<Item>((day.Rows?.Length ?? 0) + day.Carried.Rows.Length), new List<Item>());
        foreach (var row in day.Rows ?? [])
        {
            var cell = places.CellOf(row);
            (cell.Register is null ? stoodNowhere : rows).Add(Item.Of(row, cell, null));
        }

        rows.AddRange(day.Carried.Rows.Select(c => Item.Of(c.Row, places.CellOf(c.Row), c.Day)));
        return (rows, stoodNowhere);
    }
}
