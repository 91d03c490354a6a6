using System.Globalization;
using System.Text;
using Fondo.Core.Journal;
using Fondo.Files.Text;
using Fondo.Store.Model;
using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;

namespace Fondo.Store.Search;

/// <summary>What somebody is looking for.</summary>
/// <param name="Text">Words apart by blanks; all of them have to fit: a ticket's number, an amount, a time, four digits of a card, an
/// approval code, a name.</param>
public sealed record TicketQuery(string? Text, string? Register = null, DateOnly? From = null, DateOnly? Until = null);

/// <param name="More">Whether there are more than are shown.</param>
/// <param name="Says">What each word was taken for.</param>
public sealed record TicketsFound(IReadOnlyList<EventRow> Events, bool More, string Says);

/// <summary>Finds events of thirteen months by what people remember of them.</summary>
public sealed class TicketSearch(StoreContext db)
{
    public const int Most = 50;

    /// <summary>Nobody remembers more of a ticket.</summary>
    private const int MostWords = 12;

    /// <summary>A word that fits very many is looked for among the latest only.</summary>
    private const int Latest = 2_000;

    private const int Months = 13;

    /// <param name="zone">The store's, for times of day.</param>
    /// <param name="minorDigits">The currency's.</param>
    /// <param name="cashiers">Ids and names.</param>
    public async Task<TicketsFound> Find(TicketQuery query, DateOnly today, TimeZoneInfo zone, int minorDigits,
        IReadOnlyList<(string Id, string Name)> cashiers)
    {
        var words = (query.Text ?? "").Split(' ', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries);
        if (words.Length == 0 && query.Register is null && query.From is null)
        {
            return new([], false, "");
        }

        if (CardNumbers.Contains(query.Text))
        {
            return new([], false, "nothing: Fondo never stores full card numbers. Search for the last four digits");
        }

        if (words.Length > MostWords)
        {
            return new([], false, $"more than {MostWords} words; type fewer");
        }

        query = query with { From = Known(query.From), Until = Known(query.Until) };
        var (parameters, says) = (new List<SqliteParameter>(), new List<string>());
        var filters = Filters(query, today, zone, parameters);
        var alone = words.Length == 1 && query is { Register: null, From: null, Until: null };
        var sql = new StringBuilder("SELECT * FROM Events WHERE ").Append(filters);
        foreach (var word in words)
        {
            sql.Append(" AND Id IN (").Append(Ids(word, alone, minorDigits, query.From ?? today, zone, cashiers, parameters, says))
                .Append(')');
        }

        sql.Append(CultureInfo.InvariantCulture, $" ORDER BY At DESC, Id DESC LIMIT {Most + 1}");
        var found = await db.Events.FromSqlRaw(sql.ToString(), [.. parameters]).AsNoTracking().ToListAsync();
        return new([.. found.Take(Most)], found.Count > Most, string.Join(", ", says));
    }

    /// <summary>A date within the years that there can be something of.</summary>
    private static DateOnly? Known(DateOnly? date) => date is { } d
        ? new DateOnly(Math.Clamp(d.Year, Limits.FirstYear, Limits.LastYear), d.Month,
            Math.Min(d.Day, DateTime.DaysInMonth(Math.Clamp(d.Year, Limits.FirstYear, Limits.LastYear), d.Month)))
        : null;

    private static string Filters(TicketQuery query, DateOnly today, TimeZoneInfo zone, List<SqliteParameter> parameters)
    {
        var from = query.From ?? today.AddMonths(-Months);
        var sql = $"At >= {Add(parameters, Start(from, zone))}";
        sql += query.Until is { } until ? $" AND At < {Add(parameters, Start(until.AddDays(1), zone))}" : "";
        return sql + (query.Register is { } register ? $" AND Register = {Add(parameters, register)}" : "");
    }

    /// <summary>The records that a word fits, as everything that it may be.</summary>
    private static string Ids(string word, bool alone, int minorDigits, DateOnly day, TimeZoneInfo zone,
        IReadOnlyList<(string Id, string Name)> cashiers, List<SqliteParameter> parameters, List<string> says)
    {
        var limit = alone ? $" ORDER BY Id DESC LIMIT {Latest}" : "";
        string Events(string where) => $"SELECT Id FROM (SELECT Id FROM Events WHERE {where}{limit})";
        string Tenders(string where) =>
            $"SELECT Id FROM (SELECT Id / {TenderRow.PlacesOfATicket} AS Id FROM Tenders WHERE "
                + $"{where}{limit.Replace("Id DESC", "Tenders.Id DESC", StringComparison.Ordinal)})";
        // As the screens write it: a real minus, thousands set apart.
        if (word.Contains('.', StringComparison.Ordinal)
            && decimal.TryParse(word.Replace('−', '-'),
                NumberStyles.AllowDecimalPoint | NumberStyles.AllowLeadingSign | NumberStyles.AllowThousands, CultureInfo.InvariantCulture,
                out var amount) && Math.Abs(amount) < 1_000_000_000_000)
        {
            var minor = (long)Math.Round(amount * (decimal)Math.Pow(10, minorDigits));
            says.Add($"an amount of {word}");
            return $"{Events($"Amount IN ({Add(parameters, minor)}, {Add(parameters, -minor)})")} UNION "
                + $"{Tenders($"Amount IN ({Add(parameters, minor)}, {Add(parameters, -minor)})")}";
        }

        if (word.Length is 4 or 5 && TimeOnly.TryParseExact(word.PadLeft(5, '0'), "HH:mm", CultureInfo.InvariantCulture,
            DateTimeStyles.None, out var time))
        {
            says.Add($"a time of about {word} on {day:yyyy-MM-dd}");
            return string.Join(" UNION ", Moments(day, time, zone).Select(at =>
                Events(
                    $"At BETWEEN {Add(parameters, at - TimeSpan.FromMinutes(5).Ticks)} AND "
                        + $"{Add(parameters, at + TimeSpan.FromMinutes(5).Ticks)}")));
        }

        if (word.All(char.IsAsciiDigit) && word.Length <= 15)
        {
            says.Add(word.Length == 4
                ? $"{word} as last four, check number or number"
                : $"{word} as approval code, check number or number");
            var text = Add(parameters, word);
            return $"{Events($"Number = {Add(parameters, long.Parse(word, CultureInfo.InvariantCulture))}")} UNION "
                + $"{Tenders($"{(word.Length == 4 ? "LastFour" : "Approval")} = {text}")} UNION {Tenders($"Number = {text}")}";
        }

        if (EventNumber.Of(word) is { Prefix.Length: > 0 })
        {
            says.Add($"{word} as ticket, or as approval code");
            return $"{Events($"Key IN ({Add(parameters, word)}, {Add(parameters, word.ToUpperInvariant())})")} UNION "
                + $"{Tenders($"Approval IN ({Add(parameters, word)}, {Add(parameters, word.ToUpperInvariant())})")}";
        }

        says.Add($"{word} as a name");
        var people = cashiers.Where(c => c.Name.Contains(word, StringComparison.OrdinalIgnoreCase) || c.Id == word)
            .Select(c => Add(parameters, c.Id)).ToList();
        var name = word.ToLowerInvariant();
        var begins = Tenders($"Name >= {Add(parameters, name)} AND Name < {Add(parameters, name + "\uffff")}");
        // Within names there is no index to go by; where somebody of the store is called so, they are meant.
        return people.Count > 0
            ? $"{Events($"Cashier IN ({string.Join(", ", people)})")} UNION {begins}"
            : $"{begins} UNION {Tenders($"Name IS NOT NULL AND Name LIKE {Add(parameters, "% " + Escaped(name) + "%")} ESCAPE '\\'")}";
    }

    private static string Escaped(string name) => name.Replace("\\", "\\\\", StringComparison.Ordinal)
        .Replace("%", "\\%", StringComparison.Ordinal).Replace("_", "\\_", StringComparison.Ordinal);

    private static long Start(DateOnly day, TimeZoneInfo zone)
    {
        var local = day.ToDateTime(TimeOnly.MinValue);
        return local.Ticks - zone.GetUtcOffset(local).Ticks;
    }

    /// <summary>When the store's clocks showed that time: twice on the day on which summer time ends, and where they leapt over it, what
    /// they would have shown.</summary>
    private static IEnumerable<long> Moments(DateOnly day, TimeOnly time, TimeZoneInfo zone)
    {
        var local = day.ToDateTime(time);
        return zone.IsAmbiguousTime(local)
            ? zone.GetAmbiguousTimeOffsets(local).Select(offset => local.Ticks - offset.Ticks)
            : [local.Ticks - zone.GetUtcOffset(local).Ticks];
    }

    private static string Add(List<SqliteParameter> parameters, object value)
    {
        var name = $"$q{parameters.Count}";
        parameters.Add(new(name, value));
        return name;
    }
}
