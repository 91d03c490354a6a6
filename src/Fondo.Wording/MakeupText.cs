using Fondo.Core.Days;
using Fondo.Core.SetUp;
using Fondo.Core.Sheets;

namespace Fondo.Wording;

/// <summary>What an expected amount is made of.</summary>
public static class MakeupText
{
    public static string Name(this MakeupKind kind) => kind switch
    {
        MakeupKind.Float => "Float declared",
        MakeupKind.Sales => "Sales",
        MakeupKind.Refunds => "Refunds",
        MakeupKind.CashBack => "Cash back given",
        MakeupKind.Drops => "Drops",
        MakeupKind.Loans => "Loans",
        MakeupKind.PaidIn => "Paid in",
        _ => "Paid out",
    };

    /// <summary>Its card, number, bag or reason; empty where it has none.</summary>
    /// <param name="kind">Of the group that it is in.</param>
    public static string Says(this MakeupItem item, MakeupKind kind, Setup setup) =>
        item.Movement is { } moved ? moved.Bag is { } bag ? $"bag {bag}" : moved.Reason ?? ""
        : item.Tender is not { } taken ? ""
        : kind == MakeupKind.CashBack ? setup.NameOf(taken.Tender.Type)
        : string.Join(", ", new[] { Of(taken), Late(taken) }.Where(t => t.Length > 0));

    private static string Of(TakenTender taken) =>
        taken.Tender.Card is { LastFour: { } last } card ? $"{card.Brand} …{last}"
        : taken.Tender.Number is { } number ? $"no. {number}"
        : "";

    private static string Late(TakenTender taken) =>
        taken.Ticket.Head.LateFrom is { } day ? $"rung after the close of {new TradingDay(day)}" : "";
}
