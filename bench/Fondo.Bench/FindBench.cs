using System.Diagnostics;
using System.Globalization;
using Fondo.Core.Journal;
using Fondo.Standins.Days;
using Fondo.Store.Intake;
using Fondo.Store.Model;
using Fondo.Store.Search;
using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;

namespace Fondo.Bench;

/// <summary>Finding a ticket among twenty million tenders of some years.</summary>
internal static class FindBench
{
    private const int TendersOfADay = 100_000, Rounds = 7;

    public static async Task<int> Run(TextWriter to, int millions)
    {
        var folder = Directory.CreateTempSubdirectory("fondo-bench-");
        try
        {
            var path = Path.Combine(folder.FullName, "day");
            DayMaker.Make(1, 40, (int)(TendersOfADay / DayMaker.TendersOfATicket)).WriteTo(path);
            await using var services = await IntakeBench.Store(folder.FullName);
            using var scope = services.CreateScope();
            await scope.ServiceProvider.GetRequiredService<DayIntake>().Take(
                [
                    new("day.json", () => File.OpenRead(Path.Combine(path, "day.json"))),
                    new("journal.jsonl", () => File.OpenRead(Path.Combine(path, "journal.jsonl")))
                ], null, "p01");
            var db = scope.ServiceProvider.GetRequiredService<StoreContext>();
            await Repeat(db, millions * 1_000_000 / TendersOfADay);
            var search = scope.ServiceProvider.GetRequiredService<TicketSearch>();
            var (ticket, tender) = (await db.Events.AsNoTracking().Where(e => e.Kind == EventKind.Sale).OrderBy(e => e.Id).Skip(5_000)
                .FirstAsync(), await db.Tenders.AsNoTracking().Where(t => t.Approval != null).OrderBy(t => t.Id).Skip(5_000).FirstAsync());
            var stored = await db.Tenders.CountAsync();
            to.WriteLine(string.Create(CultureInfo.InvariantCulture, $"{stored:N0} tenders stored"));
            var amount = (tender.Amount / 100m).ToString("0.00", CultureInfo.InvariantCulture);
            foreach (var (what, query) in new (string, TicketQuery)[]
            {
                ("a number", new(ticket.Key)),
                ("digits of a number", new(ticket.Number!.Value.ToString(CultureInfo.InvariantCulture))),
                ("an amount", new(amount)),
                ("a common amount", new("1.00")),
                ("last four", new(tender.LastFour)),
                ("an approval code", new(tender.Approval)),
                ("last four and amount", new($"{tender.LastFour} {amount}")),
                ("a name", new("pell")),
                ("a cashier's name", new("ruiz")),
                ("amount at a register of a month", new(amount, "L7", new(2026, 10, 1), new(2026, 10, 31))),
            })
            {
                var (times, found) = (new List<double>(), 0);
                for (var i = 0; i < Rounds; i++)
                {
                    var clock = Stopwatch.StartNew();
                    found = (await search.Find(query, new(2026, 11, 21), TimeZoneInfo.FindSystemTimeZoneById("America/New_York"), 2,
                        [("p11", "Ansel Ruiz")])).Events.Count;
                    times.Add(clock.Elapsed.TotalMilliseconds);
                }

                to.WriteLine(string.Create(CultureInfo.InvariantCulture,
                    $"{what,-34} {found,3} shown; first {times[0],6:0} ms, then {times.Skip(1).Order().ElementAt(Rounds / 2 - 1),6:0} ms"));
            }

            return 0;
        }
        finally
        {
            SqliteConnection.ClearAllPools();
            folder.Delete(recursive: true);
        }
    }

    /// <summary>The one day again and again, a day earlier each time. Only what one searches by; its indexes are made at the end.</summary>
    private static async Task Repeat(StoreContext db, int days)
    {
        await db.Database.OpenConnectionAsync();
        await db.Database.ExecuteSqlRawAsync("PRAGMA foreign_keys=OFF; PRAGMA synchronous=OFF; PRAGMA cache_size=-2000000;");
        var indexes = await db.Database.SqlQuery<Made>($"""
            SELECT 'DROP INDEX ' || name AS Dropping, sql AS Sql FROM sqlite_master
            WHERE type = 'index' AND sql IS NOT NULL AND tbl_name IN ('Events', 'Tenders')
            """).ToListAsync();
        foreach (var index in indexes)
        {
            await db.Database.ExecuteSqlRawAsync(index.Dropping);
        }

        var one = TimeSpan.FromDays(1).Ticks;
        for (var n = 1; n < days; n++)
        {
            var ids = n * 1_000_000L;
            await db.Database.ExecuteSqlAsync($"""
                INSERT INTO Events (Id, Amount, At, Cashier, Day, Drawer, Key, Kind, Number, Original, Register)
                SELECT Id + {ids}, Amount, At - {n * one}, Cashier, date(Day, '-' || {n} || ' days'), Drawer,
                  replace(Key, '-', '-' || {n}), Kind, Number + {ids}, Original, Register
                FROM Events WHERE Id < 1000000
                """);
            await db.Database.ExecuteSqlAsync($"""
                INSERT INTO Tenders (Id, Amount, Approval, LastFour, Name, Number, Type)
                SELECT Id + {ids * TenderRow.PlacesOfATicket}, Amount + {n} % 7, Approval, LastFour, Name, Number, Type
                FROM Tenders WHERE Id < {1_000_000L * TenderRow.PlacesOfATicket}
                """);
        }

        db.Database.SetCommandTimeout(TimeSpan.FromHours(1));
        foreach (var index in indexes)
        {
            await db.Database.ExecuteSqlRawAsync(index.Sql);
        }

        await db.Database.CloseConnectionAsync();
    }

    private sealed record Made(string Dropping, string Sql);
}
