using System.Reflection;
using Fondo.Store.Model;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.ChangeTracking;

namespace Fondo.Store.Trails;

/// <summary>What of the tables, beside the records, stands in the trail: every row that describes itself.</summary>
internal static class TrailTables
{
    /// <summary>The lines for what is added or changed now; each is made once its row has its key.</summary>
    public static IReadOnlyList<Func<Act>> Acts(ChangeTracker changes) => [.. changes.Entries().Select(ActOf).OfType<Func<Act>>()];

    /// <summary>The line that each row was added with.</summary>
    public static async Task<IReadOnlyList<Act>> Rows(StoreContext db) =>
        [.. (await All<IAudited>(db)).Select(r => r.Added()), .. await BankLines(db)];

    /// <summary>How rows that may change stand now, as the last line of each says it.</summary>
    public static async Task<IReadOnlyList<RowState>> States(StoreContext db) =>
        [.. (await All<IChanging>(db)).Select(r => r.State()).OfType<RowState>()];

    private static Func<Act>? ActOf(EntityEntry change) => (change.State, change.Entity) switch
    {
        (EntityState.Added, IAudited row) => row.Added,
        (EntityState.Added or EntityState.Modified, IChanging row) when row.Changed(change) is { } act => () => act,
        _ => null,
    };

    private static async Task<IEnumerable<T>> All<T>(StoreContext db)
    {
        var all = new List<T>();
        foreach (var table in db.Model.GetEntityTypes().Select(t => t.ClrType).Where(t => t.IsAssignableTo(typeof(T))))
        {
            all.AddRange(await (Task<IEnumerable<T>>)_rows.MakeGenericMethod(typeof(T), table).Invoke(null, [db])!);
        }

        return all;
    }

    private static readonly MethodInfo _rows = typeof(TrailTables).GetMethod(nameof(RowsOf), BindingFlags.NonPublic | BindingFlags.Static)!;

    private static async Task<IEnumerable<T>> RowsOf<T, TRow>(StoreContext db) where TRow : class =>
        (await db.Set<TRow>().AsNoTracking().ToListAsync()).Cast<T>();

    /// <summary>Lines went into the trail one by one, later as one act of their statement: each as it was written.</summary>
    private static async Task<IEnumerable<Act>> BankLines(StoreContext db)
    {
        var together = (await db.Trail.Where(t => t.Of.StartsWith(BankLineRow.LinesOf))
            .Select(t => t.Of.Substring(BankLineRow.LinesOf.Length)).ToListAsync()).ToHashSet(StringComparer.Ordinal);
        var statements = (await db.BankLines.AsNoTracking().OrderBy(r => r.Statement).ThenBy(r => r.Place).ToListAsync())
            .GroupBy(r => r.Statement);
        return statements.SelectMany(s => together.Contains(s.Key) ? [BankLineRow.Added(s.Key, s)] : s.Select(l => l.Added()));
    }
}
