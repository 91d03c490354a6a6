using Fondo.Core.Days;
using Fondo.Core.Entries;
using Fondo.Core.Journal;
using Fondo.Core.Leads;
using Fondo.Core.Proof;
using Fondo.Core.Sheets;

namespace Fondo.Core.Custody;

/// <summary>Why the safe, a bag or a float is off: each checked to the cent, weighed against each other and against that nothing on record
/// explains it (rules §6).</summary>
public static class PlaceLeads
{
    /// <summary>A drawer that is off by the opposite of its own bag or float; of any other drawer; a float or a bag that may lie with the
    /// loose money, or was taken for it.</summary>
    private const double Own = 60, OfAnother = 6, LiesWithIt = 8;

    /// <param name="cells">Every cell of the day with its entries: what is explained already explains nothing else.</param>
    public static ImmutableArray<Lead> Of(CustodyDay custody, Overview overview, IReadOnlyDictionary<CellKey, Bridge> cells)
    {
        var leads = ImmutableArray.CreateBuilder<Lead>();
        foreach (var bridge in custody.Cells.Select(c => cells[c.Key]).Where(b => b.IsUnresolved && b.ToExplain is { IsZero: false }))
        {
            var (key, left) = (bridge.Cell.Key, bridge.ToExplain!.Value);
            leads.AddRange(PlaceWeighing.Leads(key, left, key switch
            {
                CellKey.Safe => OfSafe(custody, overview, cells, left),
                CellKey.Bag bag => OfBag(overview, cells, bag, left),
                CellKey.Float @float => OfFloat(overview, cells, @float, left),
                _ => [],
            }));
        }

        return leads.ToImmutable();
    }

    /// <summary>Another amount than was dropped: the drawer that it came from is off by as much, the other way.</summary>
    private static IEnumerable<Explanation> OfBag(Overview overview, IReadOnlyDictionary<CellKey, Bridge> cells, CellKey.Bag key,
        Money left)
    {
        var bag = Bag.Of(overview.Result.Day, key.Number);
        var from = bag.Drops.Select(d => d.Drawer).OfType<DrawerId>().ToHashSet();
        foreach (var drawer in OffBy(overview, cells, -left).Where(d => from.Count == 0 || from.Contains(d.Cell.Key.Drawer!.Value)))
        {
            LeadFact fact = from.Count == 0
                ? new PlaceFact.BagOfDrawer(bag.Name, drawer.Cell.Key, drawer.Left!.Value)
                : new PlaceFact.BagDiffersAndDrawer(bag.Name, bag.Recorded!.Value, bag.Counted!.Value, drawer.Cell.Key, drawer.Left!.Value);
            yield return new(
                from.Count == 0 ? LeadKind.DropNotRecorded : LeadKind.DropDiffers, [new(drawer.Cell.Key, drawer.Left.Value)],
                [bag.Name, drawer.Cell.Key.Drawer!.Value.Value], fact, from.Count == 0 ? OfAnother : Own,
                new LeadRemedy.Record(MovementKind.Drop, bag.Name));
        }

        if (bag.Counts is [.., var count] && Slip(overview, count, left) is var (slip, found, weight))
        {
            yield return new(LeadKind.CountSlip, [new(key, left)], [count.Id], slip, weight, new LeadRemedy.Recount(count.Id, found));
        }
    }

    /// <summary>Another float than was left: where the drawer is off by as much the other way, it was declared wrongly.</summary>
    private static IEnumerable<Explanation> OfFloat(Overview overview, IReadOnlyDictionary<CellKey, Bridge> cells, CellKey.Float key,
        Money left)
    {
        var cash = new CellKey.Takings(key.Register, key.Drawer, TenderId.Cash);
        if (cells.TryGetValue(cash, out var own) && own.Left == -left)
        {
            yield return new(LeadKind.FloatDiffers, [new(key, left), new(cash, -left)], [key.Drawer!.Value.Value],
                new PlaceFact.FloatAndDrawer(left, own.Left!.Value), Own, new LeadRemedy.Record(MovementKind.Float));
        }

        foreach (var other in cells.Values.Where(b => b.Cell.Key is CellKey.Float && b.Cell.Key != key && b.IsUnresolved
            && b.Left == -left))
        {
            yield return new(LeadKind.OtherDrawer, [new(key, left), new(other.Cell.Key, -left)],
                [key.Drawer!.Value.Value, other.Cell.Key.Drawer!.Value.Value],
                new PlaceFact.FloatsExchanged(other.Cell.Key, other.Left!.Value),
                Own, new LeadRemedy.Record(MovementKind.Float));
        }
    }

    private static IEnumerable<Explanation> OfSafe(CustodyDay custody, Overview overview, IReadOnlyDictionary<CellKey, Bridge> cells,
        Money left)
    {
        var key = new CellKey.Safe();
        if (custody.Count is { } count && Slip(overview, count, left) is var (slip, found, weight))
        {
            yield return new(LeadKind.CountSlip, [new(key, left)], [count.Id], slip, weight, new LeadRemedy.Recount(count.Id, found));
        }

        foreach (var drawer in OffBy(overview, cells, -left))
        {
            // What was counted too low in a drawer came in all the same.
            yield return new(LeadKind.OtherDrawer, [new(key, left), new(drawer.Cell.Key, -left)],
                [drawer.Cell.Key.Drawer!.Value.Value],
                new PlaceFact.DrawerMiscounted(drawer.Cell.Key, drawer.Left!.Value), OfAnother, new LeadRemedy.Record(MovementKind.Sale));
        }

        foreach (var line in custody.Lines.Where(l => l.Amount == left
            && l.Kind is SafeLineKind.Float or SafeLineKind.Deposit or SafeLineKind.Loan))
        {
            // It left the safe by the books, and lies there still; or the other way round.
            yield return new(LeadKind.Subset, [new(key, left)], [],
                new PlaceFact.SafeLineTwice(line, RegisterOf(line, overview)),
                LiesWithIt / 2, new LeadRemedy.Record(MovementKind.Sale));
        }

        foreach (var line in custody.Lines.Where(l => l.Amount == -left && l.Kind != SafeLineKind.Opening))
        {
            yield return new(LeadKind.Subset, [new(key, left)], [],
                new PlaceFact.SafeLineStillThere(line, RegisterOf(line, overview)), LiesWithIt, new LeadRemedy.Record(MovementKind.Sale));
        }

        foreach (var bag in custody.End.Bags.Where(b => b.Amount == left))
        {
            yield return new(LeadKind.DropDiffers, [new(key, left)], [bag.Name],
                new PlaceFact.BagCountedWithSafe(bag.Name, bag.Amount),
                LiesWithIt, new LeadRemedy.Record(MovementKind.Drop, bag.Name));
        }
    }

    private static RegisterId? RegisterOf(SafeLine line, Overview overview) =>
        overview.Sessions.FirstOrDefault(s => s.Drawer.Value == line.Source)?.Register;

    /// <summary>The drawers whose cash is off by so much still.</summary>
    private static IEnumerable<Bridge> OffBy(Overview overview, IReadOnlyDictionary<CellKey, Bridge> cells, Money amount) =>
        overview.Sessions.Select(s => cells.GetValueOrDefault(new CellKey.Takings(s.Register, s.Drawer, TenderId.Cash))).OfType<Bridge>()
            .Where(b => b.IsUnresolved && !b.AwaitsApproval && b.Left == amount);

    private static (LeadFact Fact, ImmutableArray<Pieces> Found, double Weight)? Slip(Overview overview, Count count, Money left) =>
        CountSlips.Best(new(count, []),
            [.. overview.Result.Day.Counts.SelectMany(c => c.Pieces).Select(p => p.Denomination).Distinct().Order()],
            overview.Result.Day.Setup, left);
}
