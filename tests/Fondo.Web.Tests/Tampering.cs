using Fondo.Store.Model;
using Fondo.Store.Trails;
using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;

namespace Fondo.Web.Tests;

/// <summary>Whatever is changed, removed, put in or moved beside the trail is named.</summary>
public sealed class Tampering(Tampering.Written written) : IClassFixture<Tampering.Written>
{
    public static TheoryData<string, string, string> Tampered => new()
    {
        { "a changed record",
            "UPDATE Records SET Json = replace(Json, '\"kind\":\"sale\"', '\"kind\":\"sale\" ') WHERE Id = (SELECT MAX(Id) FROM Records "
                + "WHERE Kind = 'event' AND Json LIKE '%\"sale\"%')", "was changed" },
        { "a record as somebody else's", "UPDATE Records SET TakenBy = 'p99' WHERE Id = 3", "was changed" },
        { "a removed record", "DELETE FROM Tenders; DELETE FROM Events; DELETE FROM Records WHERE Id = 7", "Record 7 is gone" },
        { "the last record removed",
            "DELETE FROM Tenders; DELETE FROM Events; DELETE FROM Records WHERE Id = (SELECT MAX(Id) FROM Records)", "is gone" },
        { "a record put in",
            "INSERT INTO Records (Id, Day, Kind, Key, Version, Json, Line, TakenAt, TakenBy) SELECT MAX(Id) + 1, '2026-11-21', 'event', "
                + "'x-1', 1, '{}', 0, 1, 'p01' FROM Records", "added outside Fondo" },
        { "two records exchanged",
            "UPDATE Records SET Json = CASE Id WHEN 5 THEN (SELECT Json FROM Records WHERE Id = 6) ELSE (SELECT Json FROM Records WHERE Id "
                + "= 5) END WHERE Id IN (5, 6)", "was changed" },
        { "a changed line", "UPDATE Trail SET Says = 'nothing' WHERE Number = 5", "Line 5 of the trail was changed" },
        { "a line of another time", "UPDATE Trail SET At = At + 1 WHERE Number = 2", "Line 2 of the trail was changed" },
        { "a removed line", "DELETE FROM Trail WHERE Number = 4", "Line 4 of the trail is gone" },
        { "a line put in",
            "UPDATE Trail SET Number = -(Number + 1) WHERE Number >= 6; UPDATE Trail SET Number = -Number WHERE Number < 0; INSERT INTO "
                + "Trail SELECT 6, At, By, Machine, Act, \"On\", Says, Of, Content, Previous, Hash FROM Trail WHERE Number = 5",
            "Line 6 of the trail was changed" },
        { "two lines exchanged",
            "UPDATE Trail SET Number = -Number WHERE Number IN (2, 3); UPDATE Trail SET Number = 5 + Number WHERE Number IN (-2, -3)",
            "Line 2 of the trail was changed" },
        { "an entry's reason", "UPDATE Entries SET Reason = 'other'", "Entries:" },
        { "an entry's amount", "UPDATE PostingRow SET Amount = Amount + 1", "Entries:" },
        { "an entry removed", "DELETE FROM PostingRow; DELETE FROM Entries", "is gone" },
        { "an approval put in", "INSERT INTO ApprovalRow (EntryId, By, At) SELECT Id, 'p02', 1 FROM Entries", "added outside Fondo" },
        { "a close document",
            "UPDATE Closes SET Content = replace(Content, '\"State\": \"proved\"', '\"State\": \"off\"') WHERE Number = 2",
            "Closes:2 was changed" },
    };

    [Theory]
    [MemberData(nameof(Tampered))]
    public async Task Whatever_is_tampered_with_is_named(string what, string how, string named)
    {
        await written.Restore();
        Assert.Null((await written.Verify()).Break);
        Assert.True(await written.Shop.Tamper(db => db.Database.ExecuteSqlRawAsync(how.Replace("{", "{{", StringComparison.Ordinal)
            .Replace("}", "}}", StringComparison.Ordinal))) > 0, what);
        var broken = (await written.Verify()).Break;
        Assert.NotNull(broken);
        Assert.Contains(named, broken, StringComparison.Ordinal);
    }

    /// <summary>A week of closed days and an entry, which are put back before each tampering.</summary>
    public sealed class Written : IAsyncLifetime
    {
        private readonly SqliteConnection _kept = new("Data Source=:memory:");

        public Shop Shop { get; } = new() { Weeks = 1 };

        public async ValueTask InitializeAsync()
        {
            var supervisor = await Shop.SignedIn();
            var path = $"{Shop.Day}/cell/L2/L2-A/cash";
            await supervisor.Post($"{path}?handler=Entry",
                new() { ["Id"] = Guid.NewGuid().ToString(), ["Kind"] = "Accept", ["Amount"] = "30.00", ["Reason"] = "not found" }, path);
            await _kept.OpenAsync();
            await InDatabase(file => file.BackupDatabase(_kept));
        }

        public Task<Verified> Verify() => Shop.Ask<Verification, Verified>(v => v.Run(null));

        public Task Restore() => InDatabase(_kept.BackupDatabase);

        public async ValueTask DisposeAsync()
        {
            await _kept.DisposeAsync();
            await Shop.DisposeAsync();
        }

        private Task<bool> InDatabase(Action<SqliteConnection> copy) => Shop.InStore(async (StoreContext db) =>
        {
            await db.Database.OpenConnectionAsync();
            copy((SqliteConnection)db.Database.GetDbConnection());
            return true;
        });
    }
}
