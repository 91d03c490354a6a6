using System.Globalization;
using Fondo.Core.Amounts;
using Fondo.Core.Books;
using Fondo.Core.Journal;
using Fondo.Core.SetUp;
using Fondo.Files.Writing;

namespace Fondo.Web.Closing;

/// <summary>The accounting entry of a day as the two files that a bookkeeper takes.</summary>
public static class BooksFiles
{
    public static (string Csv, string Journal) Of(BooksHeading heading, AccountingEntry entry, Currency currency, Func<RegisterId?, string> nameOf) =>
        (BooksText.Csv(heading, entry, currency, nameOf), BooksText.Journal(heading, entry, currency, nameOf));

    /// <param name="number">Of the close; null while the day is open.</param>
    /// <param name="isCorrection">Whether only what changed since the revision before is posted.</param>
    public static BooksHeading HeadingOf(Setup setup, int? number, bool isCorrection) => new(
        setup.TradingDay.Date, number is { } known ? $"close {known.ToString(CultureInfo.InvariantCulture)}" : "open",
        $"{setup.Store}, {(isCorrection ? "correction of " : "")}{setup.TradingDay}");
}
