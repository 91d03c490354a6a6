using Fondo.Store.Days;
using Fondo.Store.Model;
using Fondo.Store.Trails;
using Microsoft.EntityFrameworkCore;

namespace Fondo.Web.Tests;

/// <summary>Everything that was written is in the trail, and nobody rewrites it unseen.</summary>
public sealed class TheTrail : IDisposable
{
    private readonly Shop _shop = new() { Weeks = 1 };

    public void Dispose() => _shop.Dispose();

    private Task<Verified> Verify(string? head = null) => _shop.Ask<Verification, Verified>(v => v.Run(head));

    [Fact]
    public async Task Every_act_is_a_line_and_the_whole_holds()
    {
        var supervisor = await _shop.SignedIn();
        var path = $"{Shop.Day}/cell/L2/L2-A/cash";
        await supervisor.Post($"{path}?handler=Entry",
            new() { ["Id"] = Guid.NewGuid().ToString(), ["Kind"] = "Accept", ["Amount"] = "30.00", ["Reason"] = "not found" }, path);
        var entry = await _shop.InStore(db => db.Entries.Select(e => e.Id).SingleAsync());
        await supervisor.Post($"{path}?handler=Approve", new() { ["entry"] = entry.ToString(), ["approver"] = "p02", ["pin"] = "7410" },
            path);
        await supervisor.Post($"{Shop.Day}/count/L4-A", new() { ["form"] = Guid.NewGuid().ToString(), ["attempt"] = "1", ["p2000"] = "3" });
        await supervisor.Post("/store?handler=Key", new() { ["register"] = "L1", ["second"] = "p02", ["second-pin"] = "7410" }, "/store");
        await supervisor.Post("/sign-in", new() { ["Who"] = "p02", ["Pin"] = "0000" });
        await supervisor.Post("/sign-out", [], "/days");
        var acts = await _shop.InStore(db => db.Trail.OrderBy(t => t.Number).Select(t => new { t.Act, t.By, t.Machine }).ToListAsync());
        Assert.All(
            new[]
            {
                TrailAct.Person,
                TrailAct.Records,
                TrailAct.Close,
                TrailAct.SignIn,
                TrailAct.Saw,
                TrailAct.Entry,
                TrailAct.Approve,
                TrailAct.Key,
                TrailAct.Refused,
                TrailAct.SignOut
            },
            act => Assert.Contains(acts, a => a.Act == act));
        Assert.Contains(acts, a => a.Act == TrailAct.Approve && a.By == "p02" && a.Machine == "this machine");
        Assert.Contains(acts, a => a.Act == TrailAct.Entry && a.By == "p01");
        var page = (await (await _shop.SignedIn("p21", "9631")).Page("/trail?Act=Approve")).QuerySelector("tbody")!.TextContent;
        Assert.Contains("Tamsin Okafor", page, StringComparison.Ordinal);
        var verified = await Verify();
        Assert.Null(verified.Break);
        Assert.Equal((acts.Count + 1, 7), (verified.Lines, verified.Closes));
        Assert.Equal(await _shop.InStore(db => db.Records.LongCountAsync()), verified.Records);
    }

    [Fact]
    public async Task Every_table_of_the_trail_refuses_to_be_changed()
    {
        var triggers = await _shop.InStore(db =>
            db.Database.SqlQuery<string>($"SELECT sql AS Value FROM sqlite_master WHERE type = 'trigger'").ToListAsync());
        var audited = await _shop.InStore(db => Task.FromResult(db.Model.GetEntityTypes()
            .Where(t => t.ClrType.IsAssignableTo(typeof(IAudited))).Select(t => (t.ClrType, Name: t.GetTableName()!)).ToList()));
        Assert.True(audited.Count > 30);
        var onlyAdded = audited.Where(t => !t.ClrType.IsAssignableTo(typeof(IChanging))).Select(t => t.Name);
        foreach (var table in onlyAdded.Concat(["Records", "Trail", "PostingRow", "BankLines", "CustomerMovements"]))
        {
            Assert.All(new[] { "UPDATE", "DELETE" }, act => Assert.Contains(triggers, t => Refuses(t, act, table)));
        }

        Assert.All(audited, table => Assert.Contains(triggers, t => Refuses(t, "DELETE", table.Name)));
        foreach (var table in new[] { "Records", "Closes", "Trail" })
        {
            foreach (var statement in new[] { $"UPDATE {table} SET rowid = rowid", $"DELETE FROM {table}" })
            {
                var refused = await Assert.ThrowsAsync<Microsoft.Data.Sqlite.SqliteException>(() =>
                    _shop.InStore(db => db.Database.ExecuteSqlRawAsync(statement)));
                Assert.Contains("only ever added to", refused.Message, StringComparison.Ordinal);
            }
        }

        static bool Refuses(string trigger, string act, string table) =>
            trigger.Contains($"BEFORE {act} ON {table} ", StringComparison.Ordinal)
            && trigger.Contains("RAISE(ABORT", StringComparison.Ordinal);
    }

    /// <summary>A new table is either told of in the trail, or named here with what holds it instead.</summary>
    [Fact]
    public async Task Every_table_is_in_the_trail_or_says_why_not()
    {
        Type[] beside =
        [
            typeof(RecordRow), // has lines of its own, for whole files
            typeof(EventRow), typeof(TenderRow), // the search index of the records
            typeof(PostingRow), // within its entry
            typeof(BankLineRow), // within its statement
            typeof(CustomerMovementRow), // held against the close documents
            typeof(TrailRow), typeof(OpenIntakeRow), typeof(CountDraft), typeof(SessionRow), typeof(PinTryRow),
            typeof(MailRow), typeof(MailAttemptRow), // mails have acts of their own
        ];
        var others = await _shop.InStore(db => Task.FromResult(db.Model.GetEntityTypes().Select(t => t.ClrType)
            .Where(t => t.Assembly == typeof(StoreContext).Assembly && !t.IsAssignableTo(typeof(IAudited))
                && !t.IsAssignableTo(typeof(IChanging)) && !beside.Contains(t)).Select(t => t.Name).ToList()));
        Assert.Empty(others);
    }

    [Fact]
    public async Task A_tail_that_was_removed_is_found_by_the_head_that_a_close_or_a_backup_carries()
    {
        await _shop.SignedIn();
        var head = (await Verify()).Head;
        Assert.Null((await Verify(head)).Break);
        await _shop.Tamper(db => db.Database.ExecuteSqlRawAsync("DELETE FROM Trail WHERE Number = (SELECT MAX(Number) FROM Trail)"));
        Assert.Null((await Verify()).Break); // nothing refers to it: by itself it is not missed
        Assert.Contains("Its end was removed", (await Verify(head)).Break, StringComparison.Ordinal);
    }

    [Fact]
    public async Task Whoever_rewrites_the_whole_trail_is_found_by_the_close_documents()
    {
        // The last close carries the line before it: a chain that was made afresh does not have it.
        await _shop.Tamper(async db =>
        {
            await db.Database.ExecuteSqlRawAsync("DELETE FROM Trail");
            return 0;
        });
        await _shop.Ask<TrailBeginning, object>(async begin =>
        {
            await begin.Complete();
            return begin;
        });
        Assert.Contains("as in the close document number 1", (await Verify()).Break, StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_closed_day_whose_records_say_otherwise_is_named_and_loud()
    {
        // Somebody with the database and the program rewrites a count and everything that would show it.
        await _shop.Tamper(async db =>
        {
            await db.Days.ExecuteUpdateAsync(s => s.SetProperty(d => d.Revision, d => d.Revision + 1));
            var first = await db.Closes.OrderBy(c => c.Number).Select(c => c.Day).FirstAsync();
            var id = await db.Records.Where(r => r.Kind == Files.Reading.RecordKind.Count && r.Day == first
                && r.Json.Contains("\"closing\"")).MinAsync(r => r.Id);
            return await db.Database.ExecuteSqlAsync(
                $"UPDATE Records SET Json = replace(Json, '\"20.00\":', '\"20.00\":1') WHERE Id = {id}");
        });
        var broken = (await Verify()).Break;
        Assert.Contains("was changed", broken, StringComparison.Ordinal);
        var date = await _shop.InStore(db => db.Closes.OrderBy(c => c.Number).Select(c => c.Day).FirstAsync());
        var view = (await _shop.Ask<DayStore, DayView?>(d => d.View(date)))!;
        Assert.NotEmpty(view.Otherwise);
        var page = await (await _shop.SignedIn()).Page($"/{date:yyyy-MM-dd}/close");
        Assert.Contains("no longer match its close document", page.QuerySelector(".otherwise")!.TextContent, StringComparison.Ordinal);
    }
}
