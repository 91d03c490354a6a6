using System.Globalization;

namespace Fondo.Store.Keeping;

/// <summary>Which backups stay: all of the last fourteen days, and the first of each month for thirteen months; the newest one
/// always.</summary>
public static class Retention
{
    private const string Shape = "yyyyMMdd-HHmmss";

    private static readonly TimeSpan _all = TimeSpan.FromDays(14);

    private const int Months = 13;

    public static string NameAt(DateTimeOffset now) => $"fondo-{now.UtcDateTime.ToString(Shape, CultureInfo.InvariantCulture)}.db";

    /// <summary>When a backup of that name was made; null where the name is another.</summary>
    public static DateTimeOffset? MadeAt(string name) =>
        name.StartsWith("fondo-", StringComparison.Ordinal) && name.EndsWith(".db", StringComparison.Ordinal)
        && DateTime.TryParseExact(name[6..^3], Shape, CultureInfo.InvariantCulture,
            DateTimeStyles.AssumeUniversal | DateTimeStyles.AdjustToUniversal, out var at) ? new DateTimeOffset(at, TimeSpan.Zero) : null;

    /// <summary>The names that may go.</summary>
    public static IReadOnlyList<string> Expired(IEnumerable<string> names, DateTimeOffset now)
    {
        var made = names.Select(n => (Name: n, At: MadeAt(n))).Where(n => n.At is not null).OrderBy(n => n.At).ToList();
        var kept = made.Where(n => now - n.At <= _all || n == made[^1])
            .Concat(made.Where(n => n.At > now.AddMonths(-Months)).GroupBy(n => (n.At!.Value.Year, n.At.Value.Month))
                .Select(month => month.First())).ToHashSet();
        return [.. made.Where(n => !kept.Contains(n)).Select(n => n.Name)];
    }
}
