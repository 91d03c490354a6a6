using Fondo.Core.Amounts;
using Fondo.Core.Books;

namespace Fondo.Web.Text;

/// <summary>How customers' items are called: each kind has words of its own.</summary>
internal static class CustomerWords
{
    /// <summary>“3 gift cards”.</summary>
    public static string Number(int number, CustomerItemKind kind) =>
        Say.Count(number, One(kind), kind == CustomerItemKind.StoreCredit ? "store credits" : null);

    public static string One(CustomerItemKind kind) => kind switch
    {
        CustomerItemKind.Invoice => "invoice",
        CustomerItemKind.GiftCard => "gift card",
        CustomerItemKind.StoreCredit => "store credit",
        _ => "layaway",
    };

    public static string Title(CustomerItemKind kind) => kind switch
    {
        CustomerItemKind.Invoice => "Invoices and accounts",
        CustomerItemKind.GiftCard => "Gift cards",
        CustomerItemKind.StoreCredit => "Store credit",
        _ => "Layaways",
    };

    /// <summary>What makes an item more.</summary>
    public static string More(CustomerItemKind kind) => kind switch
    {
        CustomerItemKind.Invoice => "Charged",
        CustomerItemKind.GiftCard => "Loaded",
        CustomerItemKind.StoreCredit => "Given",
        _ => "Paid in",
    };

    /// <summary>What makes it less.</summary>
    public static string Less(CustomerItemKind kind) => kind switch
    {
        CustomerItemKind.Invoice => "Paid",
        CustomerItemKind.Layaway => "Handed out",
        _ => "Used",
    };

    /// <summary>What is said of items that no ticket here opened.</summary>
    public static string Before(CustomerItemKind kind, int number, string amount) => kind switch
    {
        CustomerItemKind.Invoice => $"{Say.Capital(Say.Count(number, "invoice"))} from before Fondo, {amount} paid",
        CustomerItemKind.Layaway => $"{Say.Capital(Say.Count(number, "layaway"))} from before Fondo, {amount} handed out",
        _ =>
            $"{Say.Capital(Number(number, kind))} from before "
                + $"Fondo, {amount} used",
    };

    /// <summary>What is said of an item that went past nothing; null where it did not.</summary>
    /// <param name="more">What made it more, in all.</param>
    /// <param name="left">What is left of it, on its own side.</param>
    public static string? PastNothing(CustomerItemKind kind, Money more, Money left, Currency currency) =>
        left.Sign >= 0 ? null
        : more.IsZero
            ? $"Not opened in Fondo. {Say.Amount(-left, currency)} {(kind == CustomerItemKind.Invoice ? "was paid on it" : "was used")}."
        : kind == CustomerItemKind.Invoice ? $"{Say.Amount(-left, currency)} paid beyond what was owed."
        : $"{Say.Amount(-left, currency)} used beyond the balance.";
}
