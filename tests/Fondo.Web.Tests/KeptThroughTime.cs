using System.Net;
using System.Text;
using Fondo.Core.Closing;
using Fondo.Core.Proof;
using Fondo.Files;
using Fondo.Store.Days;
using Fondo.Store.Model;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Infrastructure;
using Microsoft.EntityFrameworkCore.Migrations;

namespace Fondo.Web.Tests;

/// <summary>What was said stands for what was seen then: an excuse for its facts, a closed day for the floats it began with, a database of
/// before for its days.</summary>
public sealed class KeptThroughTime
{
    private const string Day = "/2026-04-07";

    private const string Setup = """
        {"fondo":1,"store":"Mossgate Market Hall","tradingDay":"2026-04-07","currency":"USD","timeZone":"America/New_York",
         "registers":[{"id":"L1","name":"Lane 1","kind":"lane"},{"id":"W1","name":"Web Orders","kind":"online"}],"policy":{"cashTolerance":"2.00","approvalAbove":"20.00"}}
        """;

    private static string Coupon(string id, string amount) =>
        $$"""{"id":"{{id}}","register":"W1","drawer":null,"cashier":"p15","at":"2026-04-07T10:00:00-04:00","kind":"sale","lines":[],"subtotal":"{{amount}}","discount":"0.00","tax":"0.00","fee":"0.00","rounding":"0.00","total":"{{amount}}","tenders":[{"type":"coupon","amount":"{{amount}}"}]}""";

    /// <summary>Rules §12: a coupon of 5.00 that nothing proves was excused; another 3.00 is another matter, and the first excuse does not
    /// hold for it.</summary>
    [Fact]
    public async Task An_excuse_holds_for_what_was_seen_and_ends_with_it()
    {
        await using var shop = new Shop { IsEmpty = true };
        var odile = await shop.Opened();
        await odile.Upload("/take-in", (DayFiles.Setup, Encoding.UTF8.GetBytes(Setup)),
            (DayFiles.Journal, Encoding.UTF8.GetBytes(Coupon("w1", "5.00"))));
        async Task<string> Left() => (await odile.Page($"{Day}/close")).QuerySelectorAll(".gates > li")
            .Single(g => g.QuerySelector("b")!.TextContent == Name).QuerySelector("ul")?.TextContent ?? "";
        Assert.Contains("5.00", await Left(), StringComparison.Ordinal);
        using var answer = await odile.Post($"{Day}/close?handler=Excuse",
            new() { ["gate"] = "Cells", ["item"] = "W1/-/coupon", ["reason"] = "kept by the carrier" }, $"{Day}/close");
        Assert.Equal(HttpStatusCode.Redirect, answer.StatusCode);
        Assert.DoesNotContain("coupon", await Left(), StringComparison.OrdinalIgnoreCase);

        await odile.Upload("/take-in", (DayFiles.Journal, Encoding.UTF8.GetBytes(Coupon("w1", "5.00") + "\n" + Coupon("w2", "3.00"))));
        Assert.Contains("8.00", await Left(), StringComparison.Ordinal);
    }

    private const string Name = "Every cell proved or explained";

    /// <summary>A database from before days said whether they had trade: a day with a journal had, one with nothing but a set-up and what
    /// was carried there had not.</summary>
    [Fact]
    public async Task Days_of_before_say_whether_they_had_trade()
    {
        await using var shop = new Shop { IsEmpty = true };
        var options = new DbContextOptionsBuilder<StoreContext>();
        StoreContext.Configure(options, $"Data Source={Path.Combine(shop.Folder, "fondo.db")};Pooling=False");
        await using (var old = new StoreContext(options.Options))
        {
            await old.GetService<IMigrator>().MigrateAsync("Banked", TestContext.Current.CancellationToken);
            foreach (var (day, kind) in new[] { ("2026-11-19", "event"), ("2026-11-20", "carried"), ("2026-11-21", "count") })
            {
                await old.Database.ExecuteSqlRawAsync(
                    "INSERT INTO Days (Date, Store, Revision, HasRows, HasLedger) VALUES ({0}, 'Mossgate Market Hall', 1, 0, 0)", [day],
                    TestContext.Current.CancellationToken);
                await old.Database.ExecuteSqlRawAsync(
                    "INSERT INTO Records (Day, Kind, Key, Version, Json, TakenAt, TakenBy, Line) VALUES ({0}, {1}, 'x', 1, '', 0, 'p01', "
                        + "0), ({0}, 'setup', {0}, 1, '', 0, 'p01', 0)", [day, kind], TestContext.Current.CancellationToken);
            }

            await old.Database.MigrateAsync(TestContext.Current.CancellationToken);
            Assert.Equal(["2026-11-19", "2026-11-21"],
                (await old.Days.Where(d => d.HasTrade).OrderBy(d => d.Date).Select(d => d.Date)
                    .ToListAsync(TestContext.Current.CancellationToken)).Select(d => $"{d:yyyy-MM-dd}"));
        }
    }
}

/// <summary>With closed days behind it.</summary>
public sealed class FloatsOfClosedDays : IDisposable
{
    private readonly Shop _shop = new() { Weeks = 1 };

    public void Dispose() => _shop.Dispose();

    /// <summary>Rules §12: a float that is counted otherwise in a day opened again changes nothing in the closed days behind it.</summary>
    [Fact]
    public async Task A_closed_day_keeps_the_floats_with_which_it_began()
    {
        DateOnly monday = new(2026, 11, 16), tuesday = new(2026, 11, 17);
        Task<DayView> View(DateOnly day) => _shop.Ask(async (DayStore days) => (await days.View(day))!);
        _ = await _shop.SignedIn();
        var (register, before) = ((await View(tuesday)).Setup.Registers[1], await View(tuesday));
        var opens = before.Overview.Sessions.First(s => s.Register == register.Id);
        var expected = before.Floats.Expected(register, opens.From);
        Assert.True(expected.Amount > Core.Amounts.Money.Zero);

        Assert.True((await _shop.Ask((ClosingDesk d) => d.Reopen(monday, "the float was counted again", Shop.Tamsin))).IsDone);
        var drawer = (await View(monday)).Overview.Sessions.Last(s => s.Register == register.Id).Drawer;
        Assert.Null((await _shop.Ask((Floats floats) =>
            floats.Keep(monday, drawer, Guid.NewGuid(), new Dictionary<long, string> { [2000] = "2" }, Shop.Odile))).Objection);
        Assert.Equal(40_00, Assert.Single((await View(monday)).Day.Counts.Where(c => c.Kind == CountKind.Kept && c.Drawer == drawer)
            .OrderByDescending(c => c.At).Take(1)).Cash.Minor);
        Assert.Equal(expected, (await View(tuesday)).Floats.Expected(register, opens.From));
        Assert.Empty((await View(tuesday)).Otherwise);
        Assert.Null(CloseChain.FirstBroken(await _shop.Ask((DayStore days) => days.Closes())));
    }
}
