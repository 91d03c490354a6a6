using Fondo.Core.Days;
using Fondo.Core.Journal;
using Fondo.Core.Matching;
using Fondo.Core.Reconciling;
using Fondo.Core.SetUp;

namespace Fondo.Core.Entries;

/// <summary>Something that an earlier day carried here and that is open still: a tender, a settled row or a hold.</summary>
/// <param name="Owned">As entries say by now; else as it was carried; null where nobody owns it.</param>
/// <param name="Ended">The entry that ended the waiting for it; null while it goes on.</param>
public sealed record CarriedOpen(string Key, TradingDay Day, Money Amount, Ownership? Owned, Entry? Ended);

/// <summary>What goes on to the next day, as a pure function of what is open and of the entries (rules §11).</summary>
public static class Carrying
{
    /// <summary>What an earlier day carried and this one has not met.</summary>
    public static ImmutableArray<CarriedOpen> Open(Reconciliation result, IReadOnlyCollection<Entry> entries)
    {
        var open = result.OpenItems.Where(o => o.Item.CarriedFrom is not null).ToDictionary(o => o.Item.Key, o => o.Item.Amount);
        foreach (var hold in OpenHolds(result.Day))
        {
            open[hold.Hold.Id.Value] = hold.Hold.Total;
        }

        var (owners, ends) = (Owners(entries), Ends(entries));
        return
        [
            .. result.Day.Carried.Items.Where(i => open.ContainsKey(i.Key)).OrderBy(i => i.Day.Date)
                .ThenBy(i => i.Key, StringComparer.Ordinal)
                .Select(i =>
                    new CarriedOpen(i.Key, i.Day, open[i.Key], owners.GetValueOrDefault(i.Key) ?? i.Owned, ends.GetValueOrDefault(i.Key))),
        ];
    }

    /// <summary>What the next day begins with: today's open items that an entry carries, holds that one carries, and what was carried here
    /// and neither came nor was given up.</summary>
    public static Carried Next(Reconciliation result, IReadOnlyCollection<Entry> entries)
    {
        var (day, today, owners) = (result.Day, result.Day.Setup.TradingDay, Owners(entries));
        var goesOn = Open(result, entries).Where(c => c.Ended is null).ToDictionary(c => c.Key, c => c.Owned);
        var carried = result.OpenItems.Where(o => o.Item.CarriedFrom is null)
            .Select(o => (o.Item, Owned: owners.GetValueOrDefault(o.Item.Key))).Where(c => c.Owned is not null).ToList();
        return new(
            [
                .. day.Carried.Journal.Where(c => goesOn.ContainsKey(c.Ticket.KeyOf(c.Place).ToString()))
                    .Select(c => c with { Owned = goesOn[c.Ticket.KeyOf(c.Place).ToString()] }),
                .. carried.Where(c => c.Item.Tender is not null)
                    .Select(c => new CarriedTender(today, c.Item.Tender!.Value.Ticket, c.Item.Tender.Value.Place, c.Owned)
                    {
                        RightUntil = TimeLeft.Until(c.Item, day)
                    }),
                .. Unsettled(result).Select(t => new CarriedTender(today, t.Ticket, t.Place)
                {
                    RightUntil = TimeLeft.Until(Item.Of(t, null), day)
                }),
            ],
            [
                .. day.Carried.Rows.Where(c => goesOn.ContainsKey(c.Row.Key.ToString()))
                    .Select(c => c with { Owned = goesOn[c.Row.Key.ToString()] }),
                .. carried.Where(c => c.Item.Row is not null)
                    .Select(c => new CarriedRow(today, c.Item.Row!, c.Owned) { RightUntil = TimeLeft.Until(c.Item, day) }),
            ])
        {
            Holds =
            [
                .. day.Carried.Holds.Where(c => goesOn.ContainsKey(c.Hold.Id.Value))
                    .Select(c => c with { Owned = goesOn[c.Hold.Id.Value] }),
                .. new Standing(day).OpenHolds.Where(h => owners.ContainsKey(h.Id.Value))
                    .Select(h => new CarriedHold(today, h, owners[h.Id.Value])),
            ],
        };
    }

    /// <summary>What stood on the account of carried items for those that were met today, and that no entry says has come: it stands there
    /// no more, whatever the difference was explained by.</summary>
    /// <param name="sums">The keys of sums that are waited for: what brings one is followed by itself.</param>
    public static Money MetOtherwise(Reconciliation result, IReadOnlyCollection<Entry> entries, IReadOnlySet<string> sums)
    {
        if (result.Day.Carried.Journal.IsEmpty && result.Day.Carried.Rows.IsEmpty)
        {
            return Money.Zero;
        }

        var open = Open(result, entries).Select(c => c.Key).ToHashSet(StringComparer.Ordinal);
        var met = result.Day.Carried.Journal.Where(c => !open.Contains(c.Ticket.KeyOf(c.Place).ToString())).Sum(c => c.Tender.Amount)
            - result.Day.Carried.Rows.Where(c => !open.Contains(c.Row.Key.ToString())).Sum(c => c.Row.Signed);
        var came = entries.Where(e => e.Detail is EntryDetail.Moved { What: MovementKind.Arrival } && e.Stands(entries)
            && !e.Evidence.Any(sums.Contains)).SelectMany(e => e.Postings).Sum(p => p.Amount);
        return met - came;
    }

    /// <summary>Card tenders of a day for which no batch came at all: they are in no cell that could be off, and go on until their batch
    /// comes.</summary>
    public static IEnumerable<TakenTender> Unsettled(Reconciliation result)
    {
        var (day, printed) = (result.Day, new PrintedTotals(result.Day));
        var waiting = day.Rows is not null
            ? []
            : result.Cells.Where(c => c.State == Cells.CellState.Waiting && c.Key.Drawer is null)
                .Select(c => (c.Key.Register, c.Key.OfTender)).ToHashSet();
        return waiting.Count == 0 ? []
            : Standing.Tenders(day, new(day))
                .Where(t => waiting.Contains((t.Ticket.Register, t.Tender.Type)) && day.Setup.Find(t.Tender.Type)?.Proof == ProofKind.Batch
                    && !printed.Proves(t.Tender));
    }

    /// <summary>What the standing carries of today carry as sums, because they name no open item that comes to it: by entry, as it is
    /// booked. A sum is waited for until it is met (rules §11).</summary>
    public static IReadOnlyList<(Entry Entry, Money Amount)> Sums(Reconciliation result, IReadOnlyCollection<Entry> entries)
    {
        var carries = entries.Where(e => e.Kind == EntryKind.Carry && e.Detail is EntryDetail.Awaited && !e.Postings.IsEmpty
            && e.Stands(entries)).OrderBy(e => e.At).ThenBy(e => e.Id).ToList();
        if (carries.Count == 0)
        {
            return [];
        }

        // A tender stands on the account with its amount, a settled row that no ticket had on the other side.
        var items = result.OpenItems.Where(o => o.Item.CarriedFrom is null)
            .ToDictionary(o => o.Item.Key, o => o.Item.Row is null ? o.Item.Amount : -o.Item.Amount);
        var sums = new List<(Entry, Money)>();
        foreach (var entry in carries)
        {
            var named = entry.Evidence.Distinct().Where(items.ContainsKey).ToList();
            var rest = -entry.Postings.Sum(p => p.Amount) - named.Sum(k => items[k]);
            named.ForEach(k => items.Remove(k));
            if (!rest.IsZero)
            {
                sums.Add((entry, rest));
            }
        }

        return sums;
    }

    /// <summary>The owner and deadline that the latest standing carry gives, by item. One walk over the entries: one of them may name a
    /// whole batch.</summary>
    public static IReadOnlyDictionary<string, Ownership> Owners(IReadOnlyCollection<Entry> entries)
    {
        var owners = new Dictionary<string, Ownership>(StringComparer.Ordinal);
        foreach (var entry in entries.Where(e => e.Kind == EntryKind.Carry && e.Stands(entries)).OrderBy(e => e.At).ThenBy(e => e.Id))
        {
            if (entry.Detail is EntryDetail.Awaited awaited)
            {
                foreach (var item in entry.Evidence)
                {
                    owners[item] = new(awaited.Owner, awaited.Deadline);
                }
            }
        }

        return owners;
    }

    /// <summary>The standing entries that give a carried item up: as a claim, or as over or short.</summary>
    private static Dictionary<string, Entry> Ends(IReadOnlyCollection<Entry> entries)
    {
        var ends = new Dictionary<string, Entry>(StringComparer.Ordinal);
        foreach (var entry in entries.Where(e => e.Kind is EntryKind.Claim or EntryKind.Accept && e.Postings.IsEmpty && e.Stands(entries))
            .OrderBy(e => e.At).ThenBy(e => e.Id))
        {
            foreach (var item in entry.Evidence)
            {
                ends[item] = entry;
            }
        }

        return ends;
    }

    /// <summary>What stood on the account of carried items for it; null for a hold, which is no money. A settled row that no ticket had
    /// stood there on the other side.</summary>
    public static Money? BookedAmount(CarriedOpen item, Reconciliation result) =>
        result.Day.Carried.Journal.Any(c => c.Ticket.KeyOf(c.Place).ToString() == item.Key) ? item.Amount
        : result.Day.Carried.Rows.Any(c => c.Row.Key.ToString() == item.Key) ? -item.Amount : null;

    private static IEnumerable<CarriedHold> OpenHolds(Day day)
    {
        if (day.Carried.Holds.IsEmpty)
        {
            return [];
        }

        var taken = day.Journal.Where(e => e is VoidEvent or Recall).Select(e => EventOriginal.Of(e)).ToHashSet();
        return day.Carried.Holds.Where(h => !taken.Contains(h.Hold.Id));
    }
}
