using System.Diagnostics;
using System.Net;
using DocumentFormat.OpenXml.Packaging;
using DocumentFormat.OpenXml.Spreadsheet;
using Fondo.Core.Days;
using Fondo.Core.Entries;
using Fondo.Store.Days;
using Fondo.Store.Keeping;
using Fondo.Store.Trails;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;

namespace Fondo.Web.Tests;

/// <summary>Closing, its documents, what the next day begins with, opening again, and what the later days are told.</summary>
public sealed class ClosedAndCarried : IAsyncLifetime
{
    private static readonly DateOnly _today = new(2026, 11, 21), _tomorrow = new(2026, 11, 22);

    private readonly Shop _shop = new();

    public ValueTask InitializeAsync() => _shop.InitializeAsync();

    public ValueTask DisposeAsync() => _shop.DisposeAsync();

    private Task<DayView> View(DateOnly day) => _shop.Ask(async (DayStore days) => (await days.View(day))!);

    private Task<Store.Outcome> Close(DateOnly day) => _shop.Ask((ClosingDesk desk) => desk.Close(day, Shop.Odile));

    private Task<Store.Outcome> Carry(DateOnly day, string item) => _shop.Ask((Resolving r) => r.Add(day, Guid.NewGuid(),
        [new(EntryKind.Carry, [], new EntryDetail.Awaited(new("p01"), _shop.Clock.GetUtcNow().AddHours(40), AwaitedProof.LaterTicket),
            "the customer comes back", [item])], Shop.Odile));

    /// <summary>Takes the best lead of every cell, signs, answers and counts, until every gate is green.</summary>
    private async Task Resolve()
    {
        var counted = await _shop.SignedIn();
        var sheet = new Dictionary<string, string> { ["form"] = Guid.NewGuid().ToString(), ["attempt"] = "1" };
        foreach (var (worth, pieces) in Shop.Made.Uncounted.Pieces)
        {
            sheet[$"p{worth}"] = $"{pieces}";
        }

        (sheet["check-number"], sheet["check-amount"]) =
            (Shop.Made.Uncounted.Checks[0].Number, $"{Shop.Made.Uncounted.Checks[0].Amount / 100m:0.00}");
        Assert.Equal(HttpStatusCode.Redirect, (await counted.Post($"{Shop.Day}/count/L4-A", sheet)).StatusCode);
        for (var cell = (await View(_today)).NextToResolve(null); cell is { } key; cell = (await View(_today)).NextToResolve(null))
        {
            var address = Pages.Day.CellModel.Href(new(_today), key);
            var form = (await counted.Page($"{address}?lead=1")).QuerySelector("form.take")!;
            var fields = form.QuerySelectorAll("input[name]").Where(i => i.GetAttribute("name") != "__RequestVerificationToken")
                .ToDictionary(i => i.GetAttribute("name")!, i => i.GetAttribute("value") ?? "");
            Assert.Equal(HttpStatusCode.Redirect, (await counted.Post($"{address}?handler=Take", fields, address)).StatusCode);
        }

        var view = await View(_today);
        await _shop.Ask((Resolving r) => r.Sign(_today, [.. view.Entries.Where(e => !e.Holds).Select(e => e.Id)],
            new(new("p02"), "Tamsin Okafor", Core.SetUp.Role.Manager)));
        Assert.True((await _shop.Ask((ClosingDesk desk) => desk.Answer(_today,
            [.. view.Reconciliation.TicketFindings.Select(f => new ProposedAnswer(f, Answer.Usual(f.Code), "seen"))], Shop.Odile))).IsDone);
        var hold = Assert.Single(view.Overview.OpenHolds);
        Assert.True((await Carry(_today, hold.Id.Value)).IsDone);
        Assert.All((await View(_today)).Gates, g => Assert.True(g.IsGreen, g.Id.Name()));
    }

    private const string OpenTomorrow =
        """{"id":"L2-770001","register":"L2","drawer":"L2-X","cashier":"p11","at":"2026-11-22T08:00:00-05:00","kind":"open","amount":"200.00"}""";

    /// <summary>The first thing of the next day: a drawer is opened.</summary>
    private async Task TomorrowBegins()
    {
        _shop.Clock.Advance(TimeSpan.FromHours(11));
        await Shop.Send(await _shop.Register("L2"), "L2", OpenTomorrow);
    }

    /// <summary>The demo's late web order and hold are carried, and the next day shows it; its batch meets the order there, whenever it
    /// comes.</summary>
    [Fact]
    public async Task The_next_day_begins_with_what_is_carried_and_meets_it()
    {
        await Resolve();
        Assert.True((await Close(_today)).IsDone);
        Assert.Null(await _shop.Ask<DayStore, DayView?>(d => d.View(_tomorrow))); // what is carried begins no day
        await TomorrowBegins();
        var next = await View(_tomorrow);
        Assert.Equal(["online 15.66 p01", "hold 18.40 p01"],
            next.Day.Carried.Journal.Select(c => $"{c.Tender.Type} {c.Tender.Amount.Minor / 100m:0.00} {c.Owned!.Owner}")
                .Concat(next.Day.Carried.Holds.Select(c => $"hold {c.Hold.Total.Minor / 100m:0.00} {c.Owned!.Owner}")));
        var odile = await _shop.SignedIn();
        Assert.Contains("18.40 carried from 2026-11-21", (await odile.Page("/2026-11-22/board")).QuerySelector(".look-first")!.TextContent,
            StringComparison.Ordinal);

        // A batch that comes after the close goes to the next day, and finds the order there.
        var order = next.Day.Carried.Journal[0];
        var card = order.Tender.Card!;
        var batch =
            $"terminal,batch,seq,at,type,amount,tip,cashback,brand,card,auth,rrn,entry,benefit\n{card.Terminal},900,1,"
                + $"{order.Ticket.At:yyyy-MM-ddTHH:mm:sszzz},sale,15.66,,,{card.Brand},{card.LastFour},{card.Approval},{card.Rrn},web,\n";
        await odile.Upload("/2026-11-22/take-in", ("batches.csv", System.Text.Encoding.UTF8.GetBytes(batch)));
        var met = await View(_tomorrow);
        Assert.Single(met.Reconciliation.Matches);
        var cell = "/2026-11-22/cell/WO/-/online";
        var page = await odile.Page($"{cell}?lead=1");
        Assert.Contains("over 15.66", page.QuerySelector("h1")!.TextContent, StringComparison.Ordinal);
        var form = page.QuerySelector("form.take")!;
        Assert.Contains("It has come", form.TextContent, StringComparison.Ordinal);
        var fields = form.QuerySelectorAll("input[name]").Where(i => i.GetAttribute("name") != "__RequestVerificationToken")
            .ToDictionary(i => i.GetAttribute("name")!, i => i.GetAttribute("value") ?? "");
        Assert.Equal(HttpStatusCode.Redirect, (await odile.Post($"{cell}?handler=Take", fields, cell)).StatusCode);
        Assert.Contains("that is explained", (await odile.Page(cell)).QuerySelector("h1")!.TextContent, StringComparison.Ordinal);
        Assert.Contains("settled", (await odile.Page("/2026-11-22/carried")).QuerySelector(".slips")!.TextContent,
            StringComparison.Ordinal);

        // The same order is settled a second time on a later day: no ticket of that day has it, and the page says whose it is.
        await odile.Upload("/2026-11-22/take-in",
            ("batches.csv", System.Text.Encoding.UTF8.GetBytes(batch.Replace(",900,1,", ",901,1,", StringComparison.Ordinal)
                .Replace($",{card.Rrn},", ",990000000001,", StringComparison.Ordinal)
                .Replace($"{order.Ticket.At:HH:mm}", "23:59", StringComparison.Ordinal))));
        Assert.Contains("The same card and approval are on a ticket of Saturday, 21 November 2026",
            (await odile.Page(cell)).Body!.TextContent, StringComparison.Ordinal);

        // The hold: given up by nobody; after its deadline the page says so. Then the customer comes back, and it is recalled at the
        // register.
        _shop.Clock.Advance(TimeSpan.FromHours(41));
        Assert.Contains("overdue since", (await (await _shop.SignedIn()).Page("/2026-11-22/carried")).Body!.TextContent,
            StringComparison.Ordinal);
        var hold = next.Day.Carried.Holds[0].Hold.Id;
        var sent = await Shop.Send(await _shop.Register("L3"), "L3",
            $$"""{"id":"L3-990001","register":"L3","drawer":"L3-B","cashier":"p14","at":"2026-11-22T15:00:00-05:00","kind":"recall","original":"{{hold}}"}""");
        Assert.True(sent.Taken == 1, sent.ToString());
        Assert.Contains("recalled today", (await (await _shop.SignedIn()).Page("/2026-11-22/carried")).Body!.TextContent,
            StringComparison.Ordinal);
    }

    /// <summary>Rules §12: a correction carries an item with another deadline. A day that has it takes that over; a day behind those where
    /// it has come does not carry it once more.</summary>
    [Fact]
    public async Task What_has_come_is_not_carried_again_by_a_correction()
    {
        await Resolve();
        Assert.True((await Close(_today)).IsDone);
        await TomorrowBegins();
        var today = await View(_today);
        var document = ClosingDesk.Read(today.Close!);
        var item = document.Carried.First(c => c.Amount == "15.66");
        Core.Closing.CloseDocument Before(Core.Closing.ClosedCarry was) =>
            document with { Carried = [.. document.Carried.Select(c => c == item ? was : c)] };
        var (earlier, smaller) = (Before(item with { Until = item.Until!.Value.AddHours(-3) }), Before(item with { Amount = "10.00" }));

        // It stands there alike already.
        Assert.False(await Correct(earlier));
        // It came, and was handed on no more.
        Assert.True(await Write([], [item.Key]));
        Assert.False(await Correct(earlier));
        Assert.False(await Correct(document));
        // What the correction has made of it otherwise, and what it carries anew, is carried.
        Assert.True(await Correct(smaller));
        Assert.True(await Write([], [item.Key]));
        Assert.True(await Correct(null));

        Task<bool> Correct(Core.Closing.CloseDocument? before) =>
            Writing(r => r.Correct(_tomorrow, today, document, document.Number, before));
        Task<bool> Write(IReadOnlyList<(string, string)> items, IReadOnlyCollection<string> gone) =>
            Writing(r => r.Write(_tomorrow, _today, document.Number, items, gone, isChange: true));
        Task<bool> Writing(Func<CarriedRecords, Task<bool>> write) => _shop.Ask(async (IServiceProvider services) =>
        {
            await using var turn = await services.GetRequiredService<Store.Model.StoreContext>().BeginWriting();
            var isWritten = await write(services.GetRequiredService<CarriedRecords>());
            await turn.CommitAsync();
            return isWritten;
        });
    }

    /// <summary>The set-up of the next day does not know the tender that is carried: the day reads all the same, says so, and the item
    /// waits for a person.</summary>
    [Fact]
    public async Task What_the_next_day_cannot_read_waits_for_a_person()
    {
        await Resolve();
        // Tomorrow has begun already, with a set-up in which the web terminal's register is gone.
        var setup = Shop.Made.Files["day.json"].Replace("2026-11-21", "2026-11-22", StringComparison.Ordinal)
            .Replace("\"WO\"", "\"ZZ\"", StringComparison.Ordinal);
        var odile = await _shop.SignedIn();
        await _shop.SetUpFrom(new(2026, 11, 22), setup);
        await odile.Upload("/take-in", ("day.json", System.Text.Encoding.UTF8.GetBytes(setup)),
            ("journal.jsonl", System.Text.Encoding.UTF8.GetBytes(OpenTomorrow)));
        Assert.Equal("ZZ", (await View(_tomorrow)).Setup.Registers[^1].Id.Value);
        Assert.True((await Close(_today)).IsDone);
        var next = await View(_tomorrow);
        Assert.Empty(next.Day.Carried.Journal);
        Assert.Single(next.Day.Carried.Holds);
        Assert.Contains("It waits for a person", Assert.Single(next.CarryChanges), StringComparison.Ordinal);
        Assert.Equal(1, await _shop.InStore(db =>
            db.Aside.CountAsync(a => a.Kind == Files.Reading.RecordKind.Carried && a.Decision == null)));
        Assert.Equal(HttpStatusCode.OK, (await odile.Get("/take-in")).StatusCode);
        Assert.Null((await _shop.Ask((Verification v) => v.Run())).Break);
    }

    [Fact]
    public async Task A_day_opened_again_keeps_its_revisions_and_tells_the_next_day_what_changed()
    {
        await Resolve();
        var odile = await _shop.SignedIn();
        const string close = Shop.Day + "/close";
        await odile.Post($"{close}?handler=Close", [], close);
        Assert.Contains("close number 1", (await odile.Page($"{close}/document")).QuerySelector("h1")!.TextContent,
            StringComparison.Ordinal);
        await TomorrowBegins();
        odile = await _shop.SignedIn();

        // Nobody but a manager, with a reason.
        Task<AngleSharp.Dom.IDocument> Refused(string who, string pin, string why) =>
            odile.PostForPage($"{close}?handler=Reopen", new() { ["manager"] = who, ["pin"] = pin, ["reason"] = why }, close);
        Assert.Contains("Only a manager", (await Refused("p01", "2580", "a bag was found")).QuerySelector("#reopen-says")!.TextContent,
            StringComparison.Ordinal);
        Assert.Contains("Give a reason", (await Refused("p02", "7410", " ")).QuerySelector("#reopen-says")!.TextContent,
            StringComparison.Ordinal);
        Assert.Contains("does not belong to this person",
            (await Refused("p02", "1111", "a bag was found")).QuerySelector("#reopen-says")!.TextContent, StringComparison.Ordinal);
        Assert.True((await View(_today)).IsClosed);
        using (var opened = await odile.Post($"{close}?handler=Reopen",
            new() { ["manager"] = "p02", ["pin"] = "7410", ["reason"] = "a bag was found" }, close))
        {
            Assert.Equal(HttpStatusCode.Redirect, opened.StatusCode);
        }

        Assert.False((await View(_today)).IsClosed);
        Assert.Contains("This day is already open", (await Refused("p02", "7410", "again")).Body!.TextContent, StringComparison.Ordinal);

        // The web order turns out to be lost: it is not carried any more.
        var entry = (await View(_today)).Entries.Single(e => e.Kind == EntryKind.Carry && !e.Postings.IsEmpty);
        Assert.True((await _shop.Ask((Resolving r) =>
            r.Reverse(_today, Guid.NewGuid(), entry.Id, "the customer called it off", Shop.Odile))).IsDone);
        var claim = new Proposal(EntryKind.Claim, entry.Postings,
            new EntryDetail.Owed(ClaimParty.Processor, true, new("p01"), _shop.Clock.GetUtcNow().AddDays(5)), "the processor lost it",
            entry.Evidence);
        Assert.True((await _shop.Ask((Resolving r) => r.Add(_today, Guid.NewGuid(), [claim], Shop.Odile))).IsDone);
        Assert.True((await Close(_today)).IsDone);

        var next = await View(_tomorrow);
        Assert.Empty(next.Day.Carried.Journal);
        Assert.Single(next.Day.Carried.Holds);
        Assert.Contains("another revision of 2026-11-21", Assert.Single(next.CarryChanges), StringComparison.Ordinal);
        Assert.Contains("another revision of 2026-11-21", (await odile.Page("/2026-11-22/board")).Body!.TextContent,
            StringComparison.Ordinal);
        var revisions = (await odile.Page($"{close}/revisions")).Body!.TextContent;
        Assert.All(new[] { "closed two times", "a bag was found", "the processor lost it", "carried item" },
            t => Assert.Contains(t, revisions, StringComparison.Ordinal));
        Assert.Contains("This close was replaced", (await odile.Page($"{close}/document?number=1")).Body!.TextContent,
            StringComparison.Ordinal);
        Assert.Contains("revision 2", (await odile.Page($"{close}/document")).QuerySelector(".lede")!.TextContent,
            StringComparison.Ordinal);

        // The books get the correction: what was carried is claimed now, and nothing else changed.
        var page = await odile.Page($"{Shop.Day}/books");
        Assert.Contains("Only the correction is posted: 2 lines", page.Body!.TextContent, StringComparison.Ordinal);
        var journal = await (await odile.Get($"{Shop.Day}/books?handler=File&kind=journal")).Content.ReadAsStringAsync();
        Assert.Matches(@"Assets:Carried items +-15\.66 USD", journal);
        Assert.Matches(@"Assets:Claims +15\.66 USD", journal);

        // Everything is as it was written, the chain of both closes too.
        Assert.Null((await _shop.Ask((Verification v) => v.Run())).Break);
        var trail = (await odile.Page("/trail?Act=Reopen")).QuerySelector("table")!.TextContent;
        Assert.Contains("Tamsin", trail, StringComparison.Ordinal);
        Assert.Contains("a bag was found", trail, StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_register_is_signed_off_when_nothing_of_it_is_left_and_says_when_it_changed()
    {
        var odile = await _shop.SignedIn();
        const string close = Shop.Day + "/close";
        Task<AngleSharp.Dom.IDocument> SignOff(string register) =>
            odile.PostForPage($"{close}?handler=SignOff", new() { ["register"] = register }, close);
        Assert.Contains("This register is not finished yet. Lane 2, cash: short 300.00.", (await SignOff("L2")).Body!.TextContent,
            StringComparison.Ordinal);
        using var signed = await odile.Post($"{close}?handler=SignOff", new() { ["register"] = "SA" }, close);
        Assert.Equal(HttpStatusCode.Redirect, signed.StatusCode);
        string Line(AngleSharp.Dom.IDocument page) => page.QuerySelectorAll(".registers tr").Single(r =>
            r.TextContent.Contains("Self-service A", StringComparison.Ordinal)).TextContent;
        Assert.Contains("signed off by Odile", Line(await odile.Page(close)), StringComparison.Ordinal);
        await Shop.Send(await _shop.Register("SA"), "SA",
            """{"id":"SA-990001","register":"SA","drawer":"SA-A","cashier":"p01","at":"2026-11-21T20:55:00-05:00","kind":"paid-out","amount":"4.00","reason":"stamps"}""");
        Assert.Contains("but has changed since", Line(await odile.Page(close)), StringComparison.Ordinal);
    }

    /// <summary>PDF by poppler's pdftotext, the workbook by the Open XML SDK, CSV line by line; all lie in the folder and in the
    /// mailbox.</summary>
    [Fact]
    public async Task The_document_goes_out_as_files_that_others_read()
    {
        await Resolve();
        var odile = await _shop.SignedIn();
        const string close = Shop.Day + "/close";
        await odile.Post($"{close}?handler=Close", [], close);
        var folder = Path.Combine(_shop.Folder, "closes");
        Assert.Equal(["close-1-2026-11-21.books.csv", "close-1-2026-11-21.csv", "close-1-2026-11-21.journal", "close-1-2026-11-21.json",
            "close-1-2026-11-21.pdf", "close-1-2026-11-21.xlsx"],
            Directory.GetFiles(folder).Select(f => Path.GetFileName(f)!).Order(StringComparer.Ordinal));
        var mail = await File.ReadAllTextAsync(Assert.Single(Directory.GetFiles(Path.Combine(_shop.Folder, "mailbox"))));
        Assert.All(new[] { "books@example.org", "close-1-2026-11-21.pdf", "close-1-2026-11-21.xlsx" },
            t => Assert.Contains(t, mail, StringComparison.Ordinal));

        // The books balance in the file as they do on the page, where each line opens what it is made of.
        var books = (await File.ReadAllLinesAsync(Path.Combine(folder, "close-1-2026-11-21.books.csv")))[1..].Select(l => l.Split(','))
            .ToList();
        decimal Side(int column) =>
            books.Sum(b => b[column].Length == 0 ? 0 : decimal.Parse(b[column], System.Globalization.CultureInfo.InvariantCulture));
        Assert.Equal(Side(3), Side(4));
        var page = await odile.Page($"{Shop.Day}/books?account=Assets:Claims");
        Assert.Contains($"{Side(3):N2} on each side", page.QuerySelector("h1")!.TextContent, StringComparison.Ordinal);
        Assert.NotEmpty(page.QuerySelectorAll("#lines ~ table a[href*='/cell/']"));
        Assert.Contains("(close 1)", await File.ReadAllTextAsync(Path.Combine(folder, "close-1-2026-11-21.journal")),
            StringComparison.Ordinal);

        var pdf = await (await odile.Get($"{close}/document?handler=File&kind=pdf")).Content.ReadAsByteArrayAsync();
        var text = await Text(pdf);
        Assert.All(new[]
        {
            "close number 1",
            "−300.00",
            "4,347.33",
            "Tamsin Okafor",
            "Chidi Lindqvist",
            "p13",
            "15 × 20.00",
            "Carried to the next day",
            "page 2"
        }, t => Assert.Contains(t, text, StringComparison.Ordinal));

        using var book = SpreadsheetDocument.Open(
            new MemoryStream(await (await odile.Get($"{close}/document?handler=File&kind=xlsx")).Content.ReadAsByteArrayAsync()), false);
        var sheets = book.WorkbookPart!.Workbook!.Descendants<Sheet>()
            .ToDictionary(s => s.Name!.Value!, s => (WorksheetPart)book.WorkbookPart.GetPartById(s.Id!.Value!));
        var tenders = sheets["tenders"].Worksheet!.Descendants<Row>().Select(r => r.Elements<Cell>().Select(c => Said(c, book)).ToList())
            .ToList();
        Assert.Equal("Expected", tenders[0][1]);
        var cash = tenders.Single(r => r[0] == "Cash");
        // a number, not a text that looks like one
        Assert.Equal(4347.33m, decimal.Parse(cash[1], System.Globalization.CultureInfo.InvariantCulture));
        Assert.Equal(-373.89m, decimal.Parse(cash[3], System.Globalization.CultureInfo.InvariantCulture));
        Assert.Subset(sheets.Keys.ToHashSet(),
            new HashSet<string> { "cells", "entries", "sessions", "counts", "batches", "checks", "carried", "signatures" });

        var csv = (await (await odile.Get($"{close}/document?handler=File&kind=csv")).Content.ReadAsStringAsync()).Split("\r\n");
        Assert.Contains("tenders,Cash,4347.33,3973.44,-373.89", csv);
    }

    private static string Said(Cell cell, SpreadsheetDocument book) =>
        cell.DataType?.Value == CellValues.SharedString
            ? book.WorkbookPart!.SharedStringTablePart!.SharedStringTable!.ElementAt(int.Parse(cell.InnerText,
                System.Globalization.CultureInfo.InvariantCulture)).InnerText
            : cell.InnerText;

    private static async Task<string> Text(byte[] pdf)
    {
        var file = Path.GetTempFileName();
        await File.WriteAllBytesAsync(file, pdf);
        using var process = Process.Start(new ProcessStartInfo("pdftotext", ["-layout", file, "-"]) { RedirectStandardOutput = true })!;
        var text = await process.StandardOutput.ReadToEndAsync();
        await process.WaitForExitAsync();
        File.Delete(file);
        Assert.Equal(0, process.ExitCode);
        return text;
    }

    [Theory]
    [InlineData("slip.png", "89504E470D0A1A0A0000", null, "image/png")]
    [InlineData("slip.exe", "FFD8FFE000", null, "image/jpeg")]
    [InlineData("slip.pdf", "255044462D312E34", null, "application/pdf")]
    [InlineData("slip.png", "4D5A90000300", "not a JPEG, PNG or PDF", null)]
    [InlineData("slip.pdf", "3C68746D6C3E", "not a JPEG, PNG or PDF", null)]
    [InlineData("slip.jpg", "", "is empty", null)]
    public async Task A_slip_is_what_its_content_says(string name, string hex, string? objection, string? type)
    {
        var (odile, entry) = (await _shop.SignedIn(), Guid.NewGuid());
        var cash = new CellKey.Takings(new("L2"), new("L2-A"), new("cash"));
        await _shop.Ask((Resolving r) => r.Add(_today, entry,
            [new(EntryKind.Record, [new(cash, new(-1_00))], new EntryDetail.Moved(MovementKind.PaidOut), "stamps", [])], Shop.Odile));
        var page = $"{Shop.Day}/slips/{entry}";
        var answer = await Send(odile, page, name, Convert.FromHexString(hex));
        if (objection is not null)
        {
            Assert.Contains(objection, (await Visitor.Read(answer)).QuerySelector("#slip-says")!.TextContent, StringComparison.Ordinal);
            Assert.Equal(0, await _shop.InStore(db => db.Attachments.CountAsync()));
            return;
        }

        Assert.Equal(HttpStatusCode.Redirect, answer.StatusCode);
        await Send(odile, page, "again-" + name, Convert.FromHexString(hex)); // the same once more is there once
        var row = await _shop.InStore(db => db.Attachments.AsNoTracking().SingleAsync());
        Assert.Equal(type, row.Type);
        using (var under = await odile.Get($"{Shop.Day}/slips/{Guid.NewGuid()}?handler=File&id={row.Id}"))
        {
            Assert.Equal(HttpStatusCode.NotFound, under.StatusCode); // under another entry it is not there
        }

        using var shown = await odile.Get($"{page}?handler=File&id={row.Id}");
        Assert.Equal((type, "nosniff"),
            (shown.Content.Headers.ContentType!.MediaType, shown.Headers.GetValues("X-Content-Type-Options").Single()));
        Assert.Equal(hex, Convert.ToHexString(await shown.Content.ReadAsByteArrayAsync()));

        // It is in every backup, comes back with it, and a change of it shows.
        var (backup, elsewhere) = (Path.Combine(_shop.Folder, "copy", "b.db"), Path.Combine(_shop.Folder, "restored", "fondo.db"));
        await Backup.Make(Path.Combine(_shop.Folder, "fondo.db"), backup, _shop.Clock.GetUtcNow());
        Directory.CreateDirectory(Path.GetDirectoryName(elsewhere)!);
        Assert.Null((await Backup.Restore(backup, elsewhere, _shop.Clock.GetUtcNow())).Objection);
        Assert.Equal(hex, Convert.ToHexString(await File.ReadAllBytesAsync(Path.Combine(Attachments.FolderOf(elsewhere), row.Hash))));
        Assert.Null((await _shop.Ask((Verification v) => v.Run())).Break);
        await File.AppendAllTextAsync(Path.Combine(_shop.Folder, "attachments", row.Hash), "x");
        Assert.Contains("was changed", (await _shop.Ask((Verification v) => v.Run())).Break, StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_slip_that_is_too_large_is_refused_at_the_door()
    {
        var (odile, entry) = (await _shop.SignedIn(), Guid.NewGuid());
        await _shop.Ask((Resolving r) => r.Add(_today, entry,
            [new(EntryKind.Record, [new(new CellKey.Takings(new("L2"), new("L2-A"), new("cash")), new(-1_00))],
                new EntryDetail.Moved(MovementKind.PaidOut),
                "stamps", [])], Shop.Odile));
        var large = new byte[Attachments.MostBytes + 1];
        Convert.FromHexString("89504E470D0A1A0A").CopyTo(large, 0);
        Assert.Contains("larger than 5 MB",
            (await Visitor.Read(await Send(odile, $"{Shop.Day}/slips/{entry}", "slip.png", large)))
                .QuerySelector("#slip-says")!.TextContent, StringComparison.Ordinal);
        Assert.Equal(HttpStatusCode.Redirect,
            (await Send(odile, $"{Shop.Day}/slips/{entry}", "slip.png", large[..Attachments.MostBytes])).StatusCode);
    }

    private static async Task<HttpResponseMessage> Send(Visitor visitor, string page, string name, byte[] content)
    {
        using var form = new MultipartFormDataContent
        {
            { new StringContent(await visitor.Token(page)), "__RequestVerificationToken" },
            { new ByteArrayContent(content), "slip", name }
        };
        return await visitor.Client.PostAsync(page, form);
    }
}
