using System.Globalization;
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
    public static (string Csv, string Journal) Of(BooksHeading heading, AccountingEntry entry, Currency currency, Func<RegisterId?, string> nameOf) =>
        (BooksText.Csv(heading, entry, currency, nameOf), BooksText.Journal(heading, entry, currency, nameOf));

    /// <summary>What goes to the books: the entry of a first close, the correction of a later one. Never a second entry for one day, and nothing where the correction stands in the entry of a later one.</summary>
    /// <param name="before">The revision before; null for the first close.</param>
    public static AccountingEntry HandedOut(CloseDocument doc, CloseDocument? before) =>
        doc.Corrects is not null ? new([])
        : before is { Books.IsEmpty: false } ? before.ToAccountingEntry().CorrectionTo(doc.ToAccountingEntry()) : doc.ToAccountingEntry();

    /// <param name="number">Of the close; null while the day is open.</param>
    /// <param name="isCorrection">Whether only what changed since the revision before is posted.</param>
    public static BooksHeading HeadingOf(TradingDay day, string store, int? number, bool isCorrection) => new(
        day.Date, number is { } known ? $"close {known.ToString(CultureInfo.InvariantCulture)}" : "open", $"{store}, {(isCorrection ? "correction of " : "")}{day}");
}
