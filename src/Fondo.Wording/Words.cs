using System.Globalization;
using Fondo.Core.Days;
using Fondo.Core.Journal;
using Fondo.Core.Matching;
using Fondo.Core.Proof;
using Fondo.Core.SetUp;

namespace Fondo.Wording;

/// <summary>How amounts, times, tenders and rows are named within a sentence.</summary>
internal static class Words
{
    /// <summary>Without its sign.</summary>
    public static string Amount(Money amount, Setup setup) => setup.Currency.Say(amount.Abs());

    /// <summary>“short by 20.00”.</summary>
    public static string Side(Money amount, Setup setup) => $"{ShortOrOver(amount)} by {Amount(amount, setup)}";

    public static string ShortOrOver(Money amount) => amount.Sign < 0 ? "short" : "over";

    /// <summary>A tender's name within a sentence.</summary>
    public static string Tender(TenderId tender, Setup setup) =>
        setup.NameOf(tender) is var name && name.Skip(1).Any(char.IsUpper) ? name : name.ToLowerInvariant();

    public static string Time(DateTimeOffset at, Setup setup) => Local(at, setup).ToString("HH:mm", CultureInfo.InvariantCulture);

    public static string DateAndTime(DateTimeOffset at, Setup setup) =>
        Local(at, setup).ToString("d MMM, HH:mm", CultureInfo.InvariantCulture);

    public static string Date(TradingDay day) => day.Date.ToString("d MMM", CultureInfo.InvariantCulture);

    /// <summary>What it was, where and when.</summary>
    public static string Tender(TakenTender taken, Setup setup) =>
        $"{Tender(taken.Tender.Type, setup)} {(taken.Ticket.IsRefund ? "refund" : "sale")} of {Amount(taken.Tender.Expected, setup)} at "
            + $"{setup.NameOf(taken.Ticket.Register)} at {Time(taken.Ticket.At, setup)}";

    public static string Row(BatchRow row, Setup setup) =>
        $"{Amount(row.Amount, setup)}{(row.Direction == Direction.Refund ? " back" : "")} on {row.Key.Terminal} at "
            + $"{Time(row.At, setup)}{(row.Card.LastFour is { } last ? $" ({Capital(row.Card.Brand ?? "card")} ending {last})" : "")}";

    public static string Item(Item item, Setup setup) => item.Tender is { } taken ? Tender(taken, setup) : Row(item.Row!, setup);

    public static string Capital(string sentence) => sentence.Length == 0 ? sentence : char.ToUpperInvariant(sentence[0]) + sentence[1..];

    private static DateTimeOffset Local(DateTimeOffset at, Setup setup) => TimeZoneInfo.ConvertTime(at, setup.TimeZone);
}
