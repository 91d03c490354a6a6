using Fondo.Files.Reading;
using Fondo.Store.Intake;
using Fondo.Store.Trails;
using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;

namespace Fondo.Web.Tests;

/// <summary>What is bound straight to SQLite stands there as it was given, and the trail finds it so.</summary>
public sealed class RowsAsGiven : InOwnShop
{
    private static readonly DateOnly _day = new(2026, 11, 21);

    private Task<int> Append(string key, string? reason) => Shop.InStore(async db =>
    {
        await using var writing = await db.BeginWriting(TestContext.Current.CancellationToken);
        await RecordWriter.Append(db, _day, [new RawRecord(RecordKind.Count, key, "{\"é\":\"’\"}")], "p01", Shop.Clock.GetUtcNow(), reason);
        await writing.CommitAsync(TestContext.Current.CancellationToken);
        return 1;
    });

    [Theory]
    [InlineData("nothing", null)]
    [InlineData("empty", "")]
    [InlineData("beyond-ascii", "Käse – 5 €")]
    public async Task A_text_is_that_text_and_an_empty_one_is_not_nothing(string key, string? reason)
    {
        await Append(key, reason);
        var row = await Shop.InStore(db => db.Records.AsNoTracking().SingleAsync(r => r.Day == _day && r.Key == key));
        Assert.Equal((reason, "{\"é\":\"’\"}", (string?)null), (row.Reason, row.Json, row.File));
        Assert.Null((await Shop.Ask<Verification, Verified>(v => v.Run())).Break);
    }

    [Fact]
    public async Task The_same_record_twice_is_refused_and_nothing_of_it_stays()
    {
        await Append("twice", null);
        var refused = await Assert.ThrowsAsync<SqliteException>(() => Append("twice", null));
        Assert.Equal(19, refused.SqliteErrorCode);
        Assert.Equal(1, await Shop.InStore(db => db.Records.CountAsync(r => r.Key == "twice")));
        Assert.Null((await Shop.Ask<Verification, Verified>(v => v.Run())).Break);
    }
}
