using Fondo.Core.Closing;
using Fondo.Store.Days;
using Fondo.Web.Hosting;
using Fondo.Web.Mail;

namespace Fondo.Web.Closing;

/// <summary>Keeps a close in its folder and mails it, where mail is set up. What no server took yet waits and is tried again; the close
/// stands.</summary>
public sealed class CloseOffice(RunOptions options, DayStore days, MailOffice mail, ILogger<CloseOffice> log)
{
    /// <summary>What became of it: kept, mailed, or why not.</summary>
    public async Task<string> Send(FrozenClose close)
    {
        var doc = ClosingDesk.Read(close);
        List<(string Name, byte[] Content)> files =
        [
            (CloseFiles.NameOf(doc, "pdf"), ClosePdf.Of(doc, close.Hash)),
            (CloseFiles.NameOf(doc, "csv"), CloseFiles.Csv(doc)),
            (CloseFiles.NameOf(doc, "xlsx"), CloseFiles.Workbook(doc)),
            (CloseFiles.NameOf(doc, "json"), System.Text.Encoding.UTF8.GetBytes(close.Content)),
        ];
        if (await Books(close, doc) is var (csv, journal))
        {
            files.Add((CloseFiles.NameOf(doc, "books.csv"), System.Text.Encoding.UTF8.GetBytes(csv)));
            files.Add((CloseFiles.NameOf(doc, "journal"), System.Text.Encoding.UTF8.GetBytes(journal)));
        }

        try
        {
            Directory.CreateDirectory(options.Closes);
            foreach (var (name, content) in files)
            {
                var path = Path.Combine(options.Closes, name);
                await File.WriteAllBytesAsync(path + ".part", content);
                File.Move(path + ".part", path, overwrite: true);
            }
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            log.LogWarning("Close {Number} could not be laid into {Folder}: {Why}", close.Number, options.Closes, e.Message);
            return $"The day is closed, but its document could not be saved to {options.Closes}. Fix the folder, then send it again from "
                + "here.";
        }

        if (await mail.Server() is not { CloseTo.Length: > 0 } server)
        {
            return "The close is kept in the folder. It was not mailed: no one is set up to receive closes.";
        }

        MailFile[] attached = [.. new[] { files[0], files[2] }.Concat(files.Skip(4)).Select(f => new MailFile(f.Name, f.Content))];
        var text = $"{CloseTables.Heading(doc)}\n\nFrozen under {close.Hash}.\n";
        return await mail.Post(server.CloseTo, $"{doc.Store}: close {doc.Number} of {doc.TradingDay}", text,
            $"close {doc.Number} of {doc.TradingDay}", attached) is { } unsent
            ? $"The close is kept in the folder. {unsent}" : $"The close is kept in the folder and mailed to {server.CloseTo}.";
    }

    /// <summary>As files; null where the document has no entry, or nothing changed.</summary>
    private async Task<(string Csv, string Journal)?> Books(FrozenClose close, CloseDocument doc)
    {
        var date = DateOnly.ParseExact(doc.TradingDay, "yyyy-MM-dd", System.Globalization.CultureInfo.InvariantCulture);
        var before = (await days.Revisions(date)).Where(r => r.Close.Number < close.Number).Select(r => ClosingDesk.Read(r.Close))
            .LastOrDefault();
        var entry = BooksFiles.HandedOut(doc, before);
        var names = doc.Books.Concat(before?.Books ?? []).Where(b => b.RegisterId is not null).DistinctBy(b => b.RegisterId)
            .ToDictionary(b => b.RegisterId!, b => b.Register ?? b.RegisterId!);
        var heading = BooksFiles.HeadingOf(new(date), doc.Store, doc.Number, before is { Books.IsEmpty: false });
        return entry.Sums.IsEmpty
            ? null
            : BooksFiles.Of(heading, entry, doc.CurrencyOf(),
                id => id is { } register ? names.GetValueOrDefault(register.Value) ?? register.Value : "");
    }
}
