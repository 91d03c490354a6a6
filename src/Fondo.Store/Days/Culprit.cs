using Fondo.Core.Days;
using Fondo.Core.Reconciling;
using Fondo.Core.Sheets;
using Fondo.Files.Reading;

namespace Fondo.Store.Days;

/// <summary>Finds the record because of which a day cannot be worked out. No record should be able to; this is for the case that one
/// is.</summary>
internal static class Culprit
{
    /// <param name="why">What the arithmetic said.</param>
    public static UnreadRecord Of(Day day, string why)
    {
        // One kind of record after the other is taken away as a whole; in the one that is to blame, the first record with which it fails is
        // found by halving.
        var parts = new (RecordKind Kind, int Length, Func<int, Day> Cut, Func<int, string> Key)[]
        {
            (RecordKind.Count, day.Counts.Length, n => day with { Counts = day.Counts[..n] }, n => day.Counts[n].Id),
            (RecordKind.Event, day.Journal.Length, n => day with { Journal = day.Journal[..n] }, n => day.Journal[n].Id.Value),
            (RecordKind.Row, day.Rows?.Length ?? 0, n => day with { Rows = day.Rows!.Value[..n] }, n => day.Rows!.Value[n].Key.ToString()),
            (RecordKind.Total, day.Totals.Length, n => day with { Totals = day.Totals[..n] },
                n => $"{day.Totals[n].Terminal}/{day.Totals[n].Batch}"),
            (RecordKind.Ledger, day.Ledger?.Length ?? 0, n => day with { Ledger = day.Ledger!.Value[..n] },
                n => $"{day.Ledger!.Value[n].Tender}/{day.Ledger.Value[n].Sequence}"),
        };
        foreach (var (kind, length, cut, key) in parts.Where(p => p.Length > 0 && Works(p.Cut(0))))
        {
            var (works, fails) = (0, length);
            while (fails - works > 1)
            {
                var middle = (works + fails) / 2;
                (works, fails) = Works(cut(middle)) ? (middle, fails) : (works, middle);
            }

            return new(kind, key(works), $"with it the day cannot be worked out: {why}");
        }

        return new(RecordKind.Setup, day.Setup.TradingDay.ToString(), $"the day cannot be worked out: {why}");
    }

    /// <summary>Whether working a day out may have failed of what the day holds.</summary>
    public static bool IsOfTheData(Exception e) =>
        e is ArithmeticException or InvalidOperationException or ArgumentException or KeyNotFoundException or IndexOutOfRangeException
            or NullReferenceException;

    private static bool Works(Day day)
    {
        try
        {
            Overview.Of(Reconciliation.Of(day));
            return true;
        }
        catch (Exception e) when (IsOfTheData(e))
        {
            return false;
        }
    }
}
