using System.Text;
using Fondo.Files.Text;
using Microsoft.EntityFrameworkCore;

namespace Fondo.Web.Tests;

/// <summary>Files of a day, taken whole or not at all.</summary>
public sealed class TakingIn : InOwnShop
{
    private const string Path = $"{Shop.Day}/take-in";

    private static byte[] File(string name, Func<string, string>? change = null) =>
        Encoding.UTF8.GetBytes(change is null ? Shop.Made.Files[name] : change(Shop.Made.Files[name]));

    private Task<(int Records, int Revision)> State() =>
        Shop.InStore(async db => (await db.Records.CountAsync(), await db.Days.Select(d => d.Revision).SingleAsync()));

    private async Task Refused(string sentence, params (string, byte[])[] files)
    {
        var before = await State();
        var page = await (await Shop.SignedIn()).Upload(Path, files);
        Assert.Contains(sentence, page.Body!.TextContent, StringComparison.Ordinal);
        Assert.Equal(before, await State());
    }

    [Fact]
    public async Task The_same_files_twice_change_nothing()
    {
        var before = await State();
        var page = await (await Shop.SignedIn()).Upload(Path, [.. Shop.Made.Files.Select(f => (f.Key, Encoding.UTF8.GetBytes(f.Value)))]);
        Assert.Contains("Nothing changed", page.QuerySelector(".notice")!.TextContent, StringComparison.Ordinal);
        Assert.Equal(before, await State());
    }

    [Fact]
    public Task A_damaged_line_is_told_by_file_and_line() =>
        Refused("expected a decimal string with 2 decimals",
            ("journal.jsonl", File("journal.jsonl",
                t => t + t.Split('\n')[9].Replace("\"total\":\"", "\"total\":\"x", StringComparison.Ordinal))));

    [Fact]
    public Task One_bad_file_keeps_the_good_ones_out() =>
        Refused("counts.json", ("batches.csv",
            File("batches.csv", t => t + "T-01,999,1,2026-11-21T10:00:00-05:00,sale,5.00,,,heron,1234,1,1,chip,\n")),
            ("counts.json", "[{}]"u8.ToArray()));

    [Fact]
    public Task The_same_key_with_other_contents_waits_for_a_person() =>
        Refused("was imported before with different contents",
            ("batches.csv", File("batches.csv", t => t.Replace(",sale,", ",refund,", StringComparison.Ordinal))));

    [Fact]
    public Task A_zip_that_is_none_is_refused() => Refused("is not a readable zip file", ("day.zip", "PK but no more"u8.ToArray()));

    [Fact]
    public Task A_file_that_belongs_to_no_day_is_refused() =>
        Refused("does not belong to a day", ("holiday.jpg", [1, 2, 3]), ("counts.json", "[]"u8.ToArray()));

    [Fact]
    public async Task A_full_card_number_reaches_neither_the_disk_nor_the_answer()
    {
        const string Begin = "799273987100";
        var number = $"{Begin}0{CardNumbers.CheckDigit([.. (Begin + "0").Select(c => (byte)(c - '0'))])}";
        await Refused("contains a full card number",
            ("journal.jsonl",
                Encoding.UTF8.GetBytes(
                    $$"""{"id":"x","register":"L1","drawer":"L1-A","cashier":"p11","at":"2026-11-21T10:00:00-05:00","kind":"no-sale","note":"{{number}}"}""")));
        // A connection keeps the database's own files where they are: SQLite removes some of them with the last one.
        await Shop.InStore(async db =>
        {
            await db.Database.OpenConnectionAsync();
            foreach (var file in Directory.GetFiles(Shop.Folder, "*", SearchOption.AllDirectories)
                .Where(f => !f.EndsWith("fondo.lock", StringComparison.Ordinal)))
            {
                using var stream = new FileStream(file, FileMode.Open, FileAccess.Read, FileShare.ReadWrite);
                using var reader = new StreamReader(stream, Encoding.Latin1);
                Assert.DoesNotContain(Begin, await reader.ReadToEndAsync(), StringComparison.Ordinal);
            }

            return 0;
        });
    }

    [Fact]
    public async Task Without_day_json_a_new_day_is_not_guessed()
    {
        var page = await (await Shop.SignedIn()).Upload("/take-in", ("counts.json", "[]"u8.ToArray()));
        Assert.Contains("do not say which day they belong to", page.QuerySelector(".objection")!.TextContent, StringComparison.Ordinal);
    }
}
