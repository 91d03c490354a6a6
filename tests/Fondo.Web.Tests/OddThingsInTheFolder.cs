using System.Diagnostics;
using Fondo.Web.Intake;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;

namespace Fondo.Web.Tests;

/// <summary>Whatever is put into the watched folder: each thing is taken or refused by itself, with its reasons, and none stops the
/// others.</summary>
public sealed class OddThingsInTheFolder : InOwnShop
{
    private string Inbox => Directory.CreateDirectory(Path.Combine(Shop.Folder, "inbox")).FullName;

    private static string Line(string id, string at = "2026-11-21T18:30:00-05:00", string more = "") =>
        $$"""{"id":"{{id}}","register":"L4","drawer":"L4-A","cashier":"p15","at":"{{at}}","kind":"no-sale"{{more}}}""" + "\n";

    private async Task UntilEmpty()
    {
        for (var wait = 0; wait < 500 && Directory.EnumerateFileSystemEntries(Inbox)
            .Any(e => Path.GetFileName(e) is not ("taken" or "refused")); wait++)
        {
            await Task.Delay(100, TestContext.Current.CancellationToken);
        }

        Assert.Equal(["refused", "taken"], Directory.EnumerateFileSystemEntries(Inbox).Select(e => Path.GetFileName(e)!).Order());
    }

    private string Reasons(string name) => File.ReadAllText(Path.Combine(Inbox, "refused", name + ".reasons.txt"));

    [Fact]
    public async Task None_stops_the_others()
    {
        var days = await Shop.InStore(db => db.Days.CountAsync());
        var longName = new string('x', 249) + ".jsonl";
        Directory.CreateDirectory(Path.Combine(Inbox, "a.jsonl"));
        File.CreateSymbolicLink(Path.Combine(Inbox, "b.jsonl"), Path.Combine(Inbox, "nowhere"));
        using (var pipe = Process.Start("mkfifo", [Path.Combine(Inbox, "c.jsonl")]))
        {
            await pipe.WaitForExitAsync(TestContext.Current.CancellationToken);
        }

        await File.WriteAllTextAsync(Path.Combine(Inbox, "d.jsonl"),
            Line("L4-950001", "0001-01-01T00:00:00Z") + Line("L4-950002", "9999-12-31T23:59:59-05:00"),
            TestContext.Current.CancellationToken);
        await File.WriteAllTextAsync(Path.Combine(Inbox, "e.jsonl"), Line("L4-95\\u0030003") + Line("L4-950003"),
            TestContext.Current.CancellationToken);
        await File.WriteAllTextAsync(Path.Combine(Inbox, longName), Line("L4-950004"), TestContext.Current.CancellationToken);
        await File.WriteAllTextAsync(Path.Combine(Inbox, "y.jsonl"),
            Line("L4-950005", more: $",\"note\":\"{new string('x', 17 << 20)}\"") + Line("L4-950006"),
            TestContext.Current.CancellationToken);
        var odd = Directory.CreateDirectory(Path.Combine(Inbox, "day"));
        foreach (var (name, text) in Shop.Made.Files)
        {
            await File.WriteAllTextAsync(Path.Combine(odd.FullName, name),
                name == DayFilesCounts ? text.Replace("\"at\":\"2026-11-21", "\"at\":\"9999-12-31", StringComparison.Ordinal) : text,
                TestContext.Current.CancellationToken);
        }

        await File.WriteAllTextAsync(Path.Combine(Inbox, "z.jsonl"), Line("L4-950009"), TestContext.Current.CancellationToken);
        await UntilEmpty();

        Assert.Contains("is a link", Reasons("b.jsonl"), StringComparison.Ordinal);
        Assert.Contains("not a regular file", Reasons("c.jsonl"), StringComparison.Ordinal);
        Assert.Contains("of the years 2000 to 2099", Reasons("d.jsonl"), StringComparison.Ordinal);
        Assert.Contains("longer than 16 MB", Reasons("y.jsonl"), StringComparison.Ordinal);
        Assert.Contains("9999", Reasons("day"), StringComparison.Ordinal);
        Assert.True(File.Exists(Path.Combine(Inbox, "taken", "z.jsonl")));
        Assert.True(File.Exists(Path.Combine(Inbox, "taken", "e.jsonl")));
        Assert.Equal(["L4-950003", "L4-950004", "L4-950009"],
            await Shop.InStore(db => db.Events.Where(e => e.Key.StartsWith("L4-9500")).Select(e => e.Key).Order().ToListAsync()));
        Assert.Equal(days, await Shop.InStore(db => db.Days.CountAsync()));

        // The same long name once more finds its place beside the first.
        await File.WriteAllTextAsync(Path.Combine(Inbox, longName), Line("L4-950004"), TestContext.Current.CancellationToken);
        await UntilEmpty();
        Assert.Equal(2, Directory.GetFiles(Path.Combine(Inbox, "taken"), "xxx*").Length);

        // And the page says what became of them.
        Assert.Contains(Shop.Services.GetRequiredService<InboxReport>().Latest, o => o.Name == "c.jsonl" && o.Reasons.Count == 1);
        var page = await (await Shop.SignedIn()).Page($"{Shop.Day}/take-in");
        Assert.Contains("d.jsonl", page.Body!.TextContent, StringComparison.Ordinal);
    }

    private const string DayFilesCounts = Files.DayFiles.Counts;
}
