using Fondo.Core.Entries;
using Fondo.Core.Proof;
using Fondo.Core.Reconciling;

namespace Fondo.Core.Closing;

/// <summary>What is frozen when a day is closed: readable a year from now without anything beside it. Amounts are decimal strings, names are as they were.</summary>
public sealed record CloseDocument(
    int Fondo,
    int Number,
    string Store,
    string TradingDay,
    string Currency,
    string ClosedBy,
    DateTimeOffset ClosedAt,
    ImmutableArray<ClosedCell> Cells,
    ImmutableArray<ClosedTender> Totals,
    ImmutableArray<ClosedEntry> Entries,
    ImmutableArray<ClosedExcuse> Excuses,
    ImmutableArray<ClosedCount> Counts,
    ImmutableArray<ClosedItem> OpenItems)
{
    /// <summary>The last line of the trail when the day was closed; null on days that were closed before there was one.</summary>
    public ClosedTrail? Trail { get; init; }

    /// <summary>What other figures say otherwise than these, each as a sentence; empty where they say the same. Names of people are left out: they may be written otherwise later.</summary>
    /// <param name="now">The same day worked out from its records again.</param>
    public ImmutableArray<string> Differences(CloseDocument now)
    {
        var said = ImmutableArray.CreateBuilder<string>();
        Compare(Cells, now.Cells, c => $"{c.Register}{(c.Drawer is { } d ? $" {d}" : "")}, {c.Tender.ToLowerInvariant()}", c => $"expected {c.Expected}, proof {c.Proof ?? "none"}, explained {c.Explained}, {c.State}");
        Compare(Totals, now.Totals, t => $"all {t.Tender.ToLowerInvariant()}", t => $"expected {t.Expected}, proof {t.Proof}");
        Compare(Counts, now.Counts, c => $"count {c.Attempt} of {c.Drawer}", c => c.Cash);
        Compare(Entries, now.Entries, e => $"entry “{e.Reason}” of {At(e.At)}", e => $"{e.Kind} {string.Join(", ", e.Postings.Select(p => $"{p.Register} {p.Drawer} {p.Tender} {p.Amount}"))}");
        Compare(Excuses, now.Excuses, e => $"excuse of {e.Item}", e => $"{e.Gate} “{e.Reason}”");
        Compare(OpenItems, now.OpenItems, i => $"open item {i.Key}", i => $"{i.Amount} {i.Cause}");
        return said.ToImmutable();

        void Compare<T>(ImmutableArray<T> frozen, ImmutableArray<T> other, Func<T, string> name, Func<T, string> says)
        {
            var (before, after) = (frozen.ToLookup(name, says), other.ToLookup(name, says));
            foreach (var key in before.Select(g => g.Key).Union(after.Select(g => g.Key)))
            {
                var (was, becomes) = (string.Join("; ", before[key].Order(StringComparer.Ordinal)), string.Join("; ", after[key].Order(StringComparer.Ordinal)));
                if (was != becomes)
                {
                    said.Add($"{key}: frozen as {(was.Length == 0 ? "nothing" : was)}, by the records {(becomes.Length == 0 ? "nothing" : becomes)}");
                }
            }
        }
    }

    private static string At(DateTimeOffset at) => at.UtcDateTime.ToString("yyyy-MM-dd HH:mm:ss", System.Globalization.CultureInfo.InvariantCulture);

    public static CloseDocument Of(int number, Reconciliation reconciliation, IReadOnlyCollection<Entry> entries, IReadOnlyCollection<Excuse> excuses, string closedBy, DateTimeOffset closedAt, Func<Journal.PersonId, string> nameOf)
    {
        var setup = reconciliation.Day.Setup;
        string Text(Money amount) => setup.Currency.Format(amount);
        string? TextOrNull(Money? amount) => amount is { } known ? Text(known) : null;
        var bridges = reconciliation.Cells.Select(c => Bridge.Of(c, entries, setup.ToleranceOf(c.Key.Tender)))
            .OrderBy(b => setup.Registers.IndexOf(setup.Registers.FirstOrDefault(r => r.Id == b.Cell.Key.Register)!)).ToList();
        return new(
            1, number, setup.Store, setup.TradingDay.ToString(), setup.Currency.Code, closedBy, closedAt,
            [.. bridges.Select(b => new ClosedCell(
                setup.NameOf(b.Cell.Key.Register), b.Cell.Key.Drawer?.Value, setup.NameOf(b.Cell.Key.Tender), Text(b.Cell.Expected), TextOrNull(b.Cell.Proof),
                TextOrNull(b.Cell.Variance), Text(b.Explained), TextOrNull(b.Left), b.IsExplained ? "explained" : b.Cell.State.Written()))],
            [.. setup.Tenders.Select(t => (t.Name, Cells: bridges.Where(b => b.Cell.Key.Tender == t.Id).ToList())).Where(t => t.Cells.Count > 0)
                .Select(t => new ClosedTender(t.Name, Text(t.Cells.Sum(b => b.Cell.Expected)), Text(t.Cells.Sum(b => b.Cell.Proof ?? Money.Zero)), Text(t.Cells.Sum(b => b.Cell.Variance ?? Money.Zero))))],
            [.. entries.OrderBy(e => e.At).ThenBy(e => e.Id).Select(e => new ClosedEntry(
                e.Kind.Written(), e.Reason, nameOf(e.By), e.At, e.ApprovedBy is { } approver ? nameOf(approver) : null,
                [.. e.Postings.Select(p => new ClosedPosting(setup.NameOf(p.Cell.Register), p.Cell.Drawer?.Value, setup.NameOf(p.Cell.Tender), Text(p.Amount)))]))],
            [.. excuses.OrderBy(e => e.At).ThenBy(e => e.Item, StringComparer.Ordinal).Select(e => new ClosedExcuse(e.Gate.Written(), e.Item, e.Reason, nameOf(e.By), e.At))],
            [.. reconciliation.Day.Counts.Where(c => c.Kind == CountKind.Closing).OrderBy(c => c.Drawer!.Value.Value, StringComparer.Ordinal).ThenBy(c => c.Attempt)
                .Select(c => new ClosedCount(c.Drawer!.Value.Value, c.Attempt, c.By is { } by ? nameOf(by) : "", c.At, Text(c.Cash), c.IsBlind))],
            [.. reconciliation.OpenItems.Select(o => new ClosedItem(o.Item.Key, Text(o.Item.Amount), o.Cause.Written()))]);
    }
}

/// <summary>A line of the trail by its number and hash.</summary>
public sealed record ClosedTrail(long Number, string Hash);

public sealed record ClosedCell(string Register, string? Drawer, string Tender, string Expected, string? Proof, string? Variance, string Explained, string? Left, string State);

public sealed record ClosedTender(string Tender, string Expected, string Proof, string Variance);

public sealed record ClosedEntry(string Kind, string Reason, string By, DateTimeOffset At, string? ApprovedBy, ImmutableArray<ClosedPosting> Postings);

public sealed record ClosedPosting(string Register, string? Drawer, string Tender, string Amount);

public sealed record ClosedExcuse(string Gate, string Item, string Reason, string By, DateTimeOffset At);

/// <param name="Blind">Whether whoever counted had not seen what should be there.</param>
public sealed record ClosedCount(string Drawer, int Attempt, string By, DateTimeOffset At, string Cash, bool Blind = true);

public sealed record ClosedItem(string Key, string Amount, string Cause);
