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
        var setup = overview.Result.Day.Setup;
        var bag = Bag.Of(overview.Result.Day, key.Number);
        var from = bag.Drops.Select(d => d.Drawer).OfType<DrawerId>().ToHashSet();
        foreach (var drawer in OffBy(overview, cells, -left).Where(d => from.Count == 0 || from.Contains(d.Cell.Key.Drawer!.Value)))
        {
            var says = from.Count == 0
                ? $"No drop of bag {bag.Name} was recorded, and {drawer.Cell.Key.NameIn(setup)} is {Side(drawer.Left!.Value, setup)}."
                : $"Bag {bag.Name} was recorded with {setup.Currency.Say(bag.Recorded!.Value)} and holds "
                    + $"{setup.Currency.Say(bag.Counted!.Value)}; {drawer.Cell.Key.NameIn(setup)} is {Side(drawer.Left!.Value, setup)}.";
            yield return new(
                from.Count == 0 ? LeadKind.DropNotRecorded : LeadKind.DropDiffers, [new(drawer.Cell.Key, drawer.Left.Value)],
                [bag.Name, drawer.Cell.Key.Drawer!.Value.Value], says, from.Count == 0 ? OfAnother : Own,
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
        var setup = overview.Result.Day.Setup;
        var cash = new CellKey.Takings(key.Register, key.Drawer, TenderId.Cash);
        if (cells.TryGetValue(cash, out var own) && own.Left == -left)
        {
            yield return new(LeadKind.FloatDiffers, [new(key, left), new(cash, -left)], [key.Drawer!.Value.Value],
                $"The drawer was opened as if {setup.Currency.Say(left.Abs())} {(left.Sign < 0 ? "less" : "more")} lay in it than was "
                    + $"left, and its cash is {Side(own.Left!.Value, setup)}.", Own, new LeadRemedy.Record(MovementKind.Float));
        }

        foreach (var other in cells.Values.Where(b => b.Cell.Key is CellKey.Float && b.Cell.Key != key && b.IsUnresolved
            && b.Left == -left))
        {
            yield return new(LeadKind.OtherDrawer, [new(key, left), new(other.Cell.Key, -left)],
                [key.Drawer!.Value.Value, other.Cell.Key.Drawer!.Value.Value],
                $"{other.Cell.Key.TitleIn(setup)} is {Side(other.Left!.Value, setup)}: the two may have been exchanged.",
                Own, new LeadRemedy.Record(MovementKind.Float));
        }
    }

    private static IEnumerable<Explanation> OfSafe(CustodyDay custody, Overview overview, IReadOnlyDictionary<CellKey, Bridge> cells,
        Money left)
    {
        var setup = overview.Result.Day.Setup;
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
                $"{drawer.Cell.Key.TitleIn(setup)} is {Side(drawer.Left!.Value, setup)}: it may have been counted wrong, and its money is "
                    + "in the safe.", OfAnother, new LeadRemedy.Record(MovementKind.Sale));
        }

        foreach (var line in custody.Lines.Where(l => l.Amount == left
            && l.Kind is SafeLineKind.Float or SafeLineKind.Deposit or SafeLineKind.Loan))
        {
            // It left the safe by the books, and lies there still; or the other way round.
            yield return new(LeadKind.Subset, [new(key, left)], [],
                $"{What(line, setup, overview)} of {setup.Currency.Say(line.Amount.Abs())} may have been taken out of the safe twice.",
                LiesWithIt / 2, new LeadRemedy.Record(MovementKind.Sale));
        }

        foreach (var line in custody.Lines.Where(l => l.Amount == -left && l.Kind != SafeLineKind.Opening))
        {
            var says = line.Amount.Sign < 0
                ? $"{What(line, setup, overview)} of {setup.Currency.Say(line.Amount.Abs())} may still be in the safe and counted there."
                : $"{What(line, setup, overview)} of {setup.Currency.Say(line.Amount.Abs())} may not have been in the safe yet when it "
                    + "was counted.";
            yield return new(LeadKind.Subset, [new(key, left)], [], says, LiesWithIt, new LeadRemedy.Record(MovementKind.Sale));
        }

        foreach (var bag in custody.End.Bags.Where(b => b.Amount == left))
        {
            yield return new(LeadKind.DropDiffers, [new(key, left)], [bag.Name],
                $"Bag {bag.Name} with {setup.Currency.Say(bag.Amount)} is not opened yet and may have been counted with the loose money.",
                LiesWithIt, new LeadRemedy.Record(MovementKind.Drop, bag.Name));
        }
    }

    private static string What(SafeLine line, SetUp.Setup setup, Overview overview)
    {
        var register = overview.Sessions.FirstOrDefault(s => s.Drawer.Value == line.Source)?.Register;
        return line.Kind switch
        {
            SafeLineKind.Float => $"The float of {setup.NameOf(register)}",
            SafeLineKind.Drawer => $"What was counted at {setup.NameOf(register)}",
            SafeLineKind.Bag => $"Bag {line.Source}",
            SafeLineKind.Loan => "A loan",
            SafeLineKind.Deposit => $"Deposit {line.Source}",
            SafeLineKind.Unsealed => $"Deposit {line.Source}, opened again,",
            SafeLineKind.Movement => "Change",
            _ => "What an entry says",
        };
    }

    /// <summary>The drawers whose cash is off by so much still.</summary>
    private static IEnumerable<Bridge> OffBy(Overview overview, IReadOnlyDictionary<CellKey, Bridge> cells, Money amount) =>
        overview.Sessions.Select(s => cells.GetValueOrDefault(new CellKey.Takings(s.Register, s.Drawer, TenderId.Cash))).OfType<Bridge>()
            .Where(b => b.IsUnresolved && !b.AwaitsApproval && b.Left == amount);

    private static (string Says, ImmutableArray<Pieces> Found, double Weight)? Slip(Overview overview, Count count, Money left) =>
        CountSlips.Best(new(count, []),
            [.. overview.Result.Day.Counts.SelectMany(c => c.Pieces).Select(p => p.Denomination).Distinct().Order()],
            overview.Result.Day.Setup, left);

    private static string Side(Money amount, SetUp.Setup setup) =>
        $"{(amount.Sign < 0 ? "short" : "over")} by {setup.Currency.Say(amount.Abs())}";
}
