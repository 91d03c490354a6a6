using System.Globalization;
using System.Text;
using Fondo.Core.Amounts;
using Fondo.Core.Books;
using Fondo.Core.Closing;
using Fondo.Core.Journal;
using Fondo.Core.SetUp;
using Fondo.Files.Writing;

namespace Fondo.Web.Closing;

/// <summary>The accounting entry of a day as the two files that a bookkeeper takes.</summary>
public static class BooksFiles
{
    public static (string Csv, string Journal) Of(BooksHeading heading, AccountingEntry entry, Currency currency,
        Func<RegisterId?, string> nameOf) =>
        (BooksText.Csv(heading, entry, currency, nameOf), BooksText.Journal(heading, entry, currency, nameOf));

    /// <summary>The entries by which days stand in the books, one after the other, under one heading.</summary>
    public static (string Csv, string Journal) Together(IEnumerable<CloseDocument> posted)
    {
        var (csv, journal) = (new StringBuilder(), new StringBuilder());
        foreach (var doc in posted.Where(d => !d.Books.IsEmpty))
        {
            var names = doc.Books.Where(b => b.RegisterId is not null).DistinctBy(b => b.RegisterId)
                .ToDictionary(b => b.RegisterId!, b => b.Register ?? b.RegisterId!);
            _ = TradingDay.TryParse(doc.TradingDay, out var day);
            var one = Of(HeadingOf(day, doc.Store, doc.Number, false), doc.ToAccountingEntry(), doc.CurrencyOf(),
                id => id is { } register ? names.GetValueOrDefault(register.Value) ?? register.Value : "");
            csv.Append(csv.Length == 0 ? one.Csv : one.Csv[(one.Csv.IndexOf('\n') + 1)..]);
            journal.Append(one.Journal);
        }

        return (csv.ToString(), journal.ToString());
    }

    /// <summary>What goes to the books: the entry of a first close, the correction of a later one. Never a second entry for one day, and
    /// nothing where the correction stands in the entry of a later one.</summary>
    /// <param name="before">The revision before; null for the first close.</param>
    public static AccountingEntry HandedOut(CloseDocument doc, CloseDocument? before) =>
        doc.Corrects is not null ? new([])
        : before is { Books.IsEmpty: false } ? before.ToAccountingEntry().CorrectionTo(doc.ToAccountingEntry()) : doc.ToAccountingEntry();

    /// <param name="number">Of the close; null while the day is open.</param>
    /// <param name="isCorrection">Whether only what changed since the revision before is posted.</param>
    public static BooksHeading HeadingOf(TradingDay day, string store, int? number, bool isCorrection) => new(
        day.Date, number is { } known ? $"close {known.ToString(CultureInfo.InvariantCulture)}" : "open",
        $"{store}, {(isCorrection ? "correction of " : "")}{day}");
}
