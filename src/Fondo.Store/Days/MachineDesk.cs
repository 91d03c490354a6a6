using Fondo.Core.Cash;
using Fondo.Core.Days;
using Fondo.Core.Proof;
using Fondo.Core.SetUp;
using Fondo.Core.Sheets;
using Fondo.Files.Reading;
using Fondo.Files.Text;
using Fondo.Store.Model;
using Fondo.Store.SetUp;
using Microsoft.EntityFrameworkCore;

namespace Fondo.Store.Days;

/// <summary>What became of a machine's reading.</summary>
/// <param name="IsConflict">The same number was taken before with other contents.</param>
public sealed record ReadingTaken(bool IsKnown, IReadOnlyList<Finding> Findings, bool IsConflict = false);

/// <summary>A reading that no count can use.</summary>
/// <param name="HasDay">Whether its day has begun: then it is the drawer or the bag that nobody knows.</param>
public sealed record StrayReading(string Device, string Number, DateOnly Day, string Target, DateTimeOffset At, bool HasDay);

/// <summary>Takes what scales and counting machines say, and offers it to the count that it is of.</summary>
public sealed class MachineDesk(StoreContext db, SetupBook book, TimeProvider clock)
{
    private const string Holder = "device:";

    public const int LargestReading = 64 << 10;

    private const int LookedBack = 14;

    /// <summary>The name under which a machine's key is kept.</summary>
    public static string KeyOf(string device) => Holder + device;

    /// <summary>The machine of a key's holder; null where it is a register.</summary>
    public static string? DeviceOf(string holder) => holder.StartsWith(Holder, StringComparison.Ordinal) ? holder[Holder.Length..] : null;

    /// <summary>Takes one reading; the same one twice changes nothing.</summary>
    /// <param name="device">Whose key was shown; null for a file.</param>
    public async Task<ReadingTaken> Take(string name, Stream stream, string? device, string by)
    {
        using var whole = new MemoryStream();
        await stream.CopyToAsync(whole);
        if (await book.Now() is not { Setup: var setup })
        {
            return Refused(name, "the store is not set up yet; save the set-up first");
        }

        if (whole.Length > LargestReading)
        {
            return Refused(name, "a reading is no longer than 64 KB");
        }

        whole.Position = 0;
        var (reading, findings) = MachineReadings.Read(name, whole, setup);
        if (reading is null)
        {
            return new(false, findings);
        }

        if (device is not null && reading.Device != device)
        {
            return Refused(name, $"this key is of {device}, and the reading says that it is of {reading.Device}");
        }

        var (json, day) = (System.Text.Encoding.UTF8.GetString(whole.ToArray()), Placement.ByClock(reading.At, setup).Date);
        await using var transaction = await db.BeginWriting();
        if (await db.MachineReadings.AsNoTracking()
            .SingleOrDefaultAsync(r => r.Device == reading.Device && r.Number == reading.Number) is { } known)
        {
            return Same(known, reading, setup) ? new(true, [])
                : Refused(name, $"{reading.Device} already sent reading {reading.Number} with different contents, and that one counts") with
                {
                    IsConflict = true
                };
        }

        db.MachineReadings.Add(new()
        {
            Day = day,
            Target = reading.Target.ToString(),
            Device = reading.Device,
            Number = reading.Number,
            Json = json,
            From = by,
            At = clock.GetUtcNow()
        });
        await db.SaveChangesAsync();
        await transaction.CommitAsync();
        return new(false, []);
    }

    /// <summary>The readings of this count that came since it was last handed in.</summary>
    public async Task<IReadOnlyList<long>> Fresh(DayView view, CountTarget target, DateTimeOffset? since)
    {
        var (day, key, from) = (view.Setup.TradingDay.Date, target.ToString(), since ?? DateTimeOffset.MinValue);
        return await db.MachineReadings.Where(r => r.Day == day && r.Target == key && r.At > from).OrderBy(r => r.Id).Select(r => r.Id)
            .ToListAsync();
    }

    /// <summary>What these readings come to, denomination by denomination; what is of another count is left out.</summary>
    public async Task<IReadOnlyList<MachineSays>> Says(DayView view, CountTarget target, IReadOnlyList<long> readings)
    {
        if (readings.Count == 0)
        {
            return [];
        }

        var (day, key, setup) = (view.Setup.TradingDay.Date, target.ToString(), view.Setup);
        var rows = await db.MachineReadings.AsNoTracking().Where(r => r.Day == day && r.Target == key && readings.Contains(r.Id))
            .OrderBy(r => r.Id).ToListAsync();
        return MachineSays.Of(rows.Select(r => Read(r, setup)).OfType<MachineReading>(), setup.Denominations, setup.Currency,
            setup.Policy.Scale);
    }

    /// <summary>The latest readings that no count can use, the latest first: their day has not begun, or it knows no such drawer or
    /// bag.</summary>
    public async Task<IReadOnlyList<StrayReading>> Strays(DayStore days)
    {
        var from = DateOnly.FromDateTime(clock.GetUtcNow().DateTime).AddDays(-LookedBack);
        var rows = await db.MachineReadings.AsNoTracking().Where(r => r.Day >= from).OrderByDescending(r => r.Id).ToListAsync();
        var strays = new List<StrayReading>();
        foreach (var day in rows.GroupBy(r => r.Day))
        {
            var view = await days.View(day.Key);
            var known = view is null ? [] : view.Overview.Sessions.Select(s => CountTarget.Of(s.Drawer))
                .Concat(Bag.In(view.Day).Select(b => CountTarget.OfBag(b.Name))).Append(CountTarget.Safe)
                    .Select(t => t.ToString()).ToHashSet();
            strays.AddRange(day.Where(r => !known.Contains(r.Target))
                .Select(r => new StrayReading(r.Device, r.Number, r.Day, r.Target, r.At, view is not null)));
        }

        return strays;
    }

    private static bool Same(MachineReadingRow known, MachineReading again, Setup setup) =>
        Read(known, setup) is { } one && one.At == again.At && one.Target == again.Target && one.Rows.SequenceEqual(again.Rows);

    private static MachineReading? Read(MachineReadingRow row, Setup setup)
    {
        using var stream = new MemoryStream(System.Text.Encoding.UTF8.GetBytes(row.Json));
        return MachineReadings.Read(row.Number, stream, setup).Reading;
    }

    private static ReadingTaken Refused(string name, string why) => new(false, [new Finding(name, 0, null, null, why)]);
}
