using Fondo.Store.Model;
using Microsoft.EntityFrameworkCore;

namespace Fondo.Store.Trails;

/// <summary>Reads the trail for people: the latest lines first.</summary>
public sealed class TrailReading(StoreContext db)
{
    public const int OnAPage = 100;

    /// <param name="before">Lines before this number; null: the latest.</param>
    /// <param name="who">A person's id; null or empty: anybody.</param>
    public async Task<IReadOnlyList<TrailRow>> Lines(long? before, TrailAct? act, string? who)
    {
        var lines = db.Trail.AsNoTracking().Where(t => before == null || t.Number < before);
        lines = act is { } what ? lines.Where(t => t.Act == what) : lines;
        lines = string.IsNullOrEmpty(who) ? lines : lines.Where(t => t.By == who);
        return await lines.OrderByDescending(t => t.Number).Take(OnAPage).ToListAsync();
    }
}
