using Fondo.Core.Cells;
using Fondo.Core.Days;
using Fondo.Core.Journal;
using Fondo.Core.Leads;
using Fondo.Core.Proof;
using Fondo.Core.Sheets;

namespace Fondo.Core.Evidence;

/// <summary>One of the things themselves that a lead rests on.</summary>
public abstract record Exhibit
{
    private Exhibit()
    {
    }

    /// <summary>The key by which it is known; empty where it has none of its own.</summary>
    public abstract string Key { get; }

    /// <param name="CarriedFrom">The earlier day that it is of; null for today.</param>
    public sealed record OfTender(TakenTender Taken, SetUp.TradingDay? CarriedFrom) : Exhibit
    {
        public override string Key => Taken.Key.ToString();
    }

    public sealed record OfRow(BatchRow Row, CellKey.Takings Cell, SetUp.TradingDay? CarriedFrom) : Exhibit
    {
        public override string Key => Row.Key.ToString();
    }

    /// <param name="Found">What would really lie there more, or less, than was counted.</param>
    /// <param name="Before">The attempt before it; null on a first one.</param>
    public sealed record OfCount(Count Count, ImmutableArray<Pieces> Found, Count? Before) : Exhibit
    {
        public override string Key => Count.Id;
    }

    public sealed record OfBag(Bag Bag) : Exhibit
    {
        public override string Key => Bag.Name;
    }

    /// <param name="Cash">Its cash cell; null where it has none.</param>
    public sealed record OfDrawer(DrawerDay Drawer, Cell? Cash) : Exhibit
    {
        public override string Key => Drawer.Session.Drawer.Value;
    }

    public sealed record OfEvent(JournalEvent Event) : Exhibit
    {
        public override string Key => Event.Id.Value;
    }

    /// <summary>What a lead names, in the order of its keys.</summary>
    public static ImmutableArray<Exhibit> Of(Lead lead, Overview overview) => Of(lead.Keys, lead.Found, overview);

    /// <summary>The things of these keys, in their order; what the day does not hold any more is left out. Of very many, the first
    /// <paramref name="most"/>.</summary>
    /// <param name="slipped">Of a count: what would really lie there more, or less, than was counted.</param>
    public static ImmutableArray<Exhibit> Of(IEnumerable<string> named, ImmutableArray<Pieces> slipped, Overview overview, int most = 24)
    {
        var wanted = named.Take(most).ToList();
        var keys = wanted.ToHashSet(StringComparer.Ordinal);
        var (day, found) = (overview.Result.Day, new Dictionary<string, Exhibit>(StringComparer.Ordinal));
        void Add(string key, Func<Exhibit> exhibit)
        {
            if (keys.Contains(key))
            {
                found.TryAdd(key, exhibit());
            }
        }

        var tickets = wanted.Select(k => new EventId(Named.TenderOf(k)?.Ticket ?? k)).ToHashSet();
        var rows = wanted.Select(Named.RowOf).OfType<BatchKey>().ToHashSet();
        foreach (var (e, from) in day.Journal.Select(e => (e, (SetUp.TradingDay?)null))
            .Concat(day.Carried.Journal.Select(c => ((JournalEvent)c.Ticket, (SetUp.TradingDay?)c.Day)))
            .Where(e => tickets.Contains(e.Item1.Id)))
        {
            Add(e.Id.Value, () => new OfEvent(e));
            for (var place = 1; e is Ticket ticket && place <= ticket.Tenders.Length; place++)
            {
                var taken = new TakenTender(ticket, place);
                Add(taken.Key.ToString(), () => new OfTender(taken, from));
            }
        }

        if (rows.Count > 0)
        {
            var places = new RowPlaces(day.Setup);
            foreach (var (row, from) in (day.Rows ?? []).Select(r => (r, (SetUp.TradingDay?)null))
                .Concat(day.Carried.Rows.Select(c => (c.Row, (SetUp.TradingDay?)c.Day))).Where(r => rows.Contains(r.Item1.Key)))
            {
                Add(row.Key.ToString(), () => new OfRow(row, places.CellOf(row), from));
            }
        }

        foreach (var count in day.Counts)
        {
            Add(count.Id, () => new OfCount(count, slipped,
                day.Counts.Where(c => c.Kind == count.Kind && CountTarget.Of(c) == CountTarget.Of(count) && c.Attempt < count.Attempt)
                    .MaxBy(c => c.Attempt)));
        }

        foreach (var bag in Bag.In(day))
        {
            Add(bag.Name, () => new OfBag(bag));
        }

        foreach (var drawer in overview.Drawers)
        {
            Add(drawer.Session.Drawer.Value, () => Drawn(drawer, overview));
        }

        return [.. wanted.Where(found.ContainsKey).Select(k => found[k])];
    }

    /// <summary>A drawer with its cash cell.</summary>
    public static OfDrawer Drawn(DrawerDay drawer, Overview overview) =>
        new(drawer, overview.Result.Cells.FirstOrDefault(c =>
            c.Key == new CellKey.Takings(drawer.Session.Register, drawer.Session.Drawer, TenderId.Cash)));
}
