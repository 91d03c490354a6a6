using Fondo.Core.Closing;
using Fondo.Store.Days;
using Fondo.Store.Model;
using Fondo.Store.Trails;
using Fondo.Web.Hosting;

namespace Fondo.Web.Closing;

/// <summary>Lays a close where the bookkeeper finds it, and sends it. What cannot be sent is told and can be sent again; the close stands.</summary>
public sealed class CloseOffice(RunOptions options, Mailer mailer, StoreContext db, ILogger<CloseOffice> log)
{
    /// <summary>Why it did not go out; null when it did.</summary>
    public async Task<string?> Send(FrozenClose close)
    {
        var doc = ClosingDesk.Read(close);
        List<(string Name, byte[] Content)> files =
        [
            (CloseFiles.NameOf(doc, "pdf"), ClosePdf.Of(doc, close.Hash)), (CloseFiles.NameOf(doc, "csv"), CloseFiles.Csv(doc)), (CloseFiles.NameOf(doc, "xlsx"), CloseFiles.Workbook(doc)),
            (CloseFiles.NameOf(doc, "json"), System.Text.Encoding.UTF8.GetBytes(close.Content)),
        ];
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
            return $"The close stands, and could not be laid into {options.Closes}. Send it again from here once that is put right.";
        }

        if (mailer.Send(options.CloseTo, $"{doc.Store}: close {doc.Number} of {doc.TradingDay}", $"{CloseTables.Heading(doc)}\n\nFrozen under {close.Hash}.\n", [files[0], files[2]]) is { } unsent)
        {
            return $"The close stands and lies in {options.Closes}. {unsent} Send it again from here.";
        }

        await db.Note(new Act(TrailAct.Send, null, doc.TradingDay, $"close {doc.Number} to {options.CloseTo} and {options.Closes}"));
        return null;
    }
}
