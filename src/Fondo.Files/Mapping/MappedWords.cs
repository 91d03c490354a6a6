using System.Collections.Frozen;

namespace Fondo.Files.Mapping;

/// <summary>What the words of a file mean by themselves. A word of which there may be doubt is none of them: a person says.</summary>
internal static class MappedWords
{
    /// <summary>Credit and debit are not among them: they are kinds of card as often as directions.</summary>
    private static readonly FrozenSet<string> _refunds = Set("refund", "refunds", "return", "r", "erstattung", "rückgabe",
        "remboursement", "retour", "devolución", "reembolso"),
        _sales = Set("sale", "sales", "purchase", "s", "capture", "", "verkauf", "vente", "venta", "vendita"),
        _change = Set("change", "change given", "rückgeld", "wechselgeld", "rendu", "monnaie rendue", "cambio", "wisselgeld"),
        _tip = Set("tip", "tips", "gratuity", "trinkgeld", "pourboire", "propina", "mancia", "fooi");

    private static readonly FrozenDictionary<string, EventKind> _events = new Dictionary<string, EventKind>
    {
        ["open"] = EventKind.Open,
        ["opening"] = EventKind.Open,
        ["opening float"] = EventKind.Open,
        ["float"] = EventKind.Open,
        ["close"] = EventKind.Close,
        ["closing"] = EventKind.Close,
        ["drop"] = EventKind.Drop,
        ["cash drop"] = EventKind.Drop,
        ["safe drop"] = EventKind.Drop,
        ["pickup"] = EventKind.Drop,
        ["cash pickup"] = EventKind.Drop,
        ["loan"] = EventKind.Loan,
        ["cash loan"] = EventKind.Loan,
        ["paid in"] = EventKind.PaidIn,
        ["pay in"] = EventKind.PaidIn,
        ["paid out"] = EventKind.PaidOut,
        ["pay out"] = EventKind.PaidOut,
        ["payout"] = EventKind.PaidOut,
        ["no sale"] = EventKind.NoSale,
    }.ToFrozenDictionary();

    private static readonly FrozenDictionary<string, string> _tenders = new Dictionary<string, string>
    {
        ["cheque"] = "check",
        ["chèque"] = "check",
        ["scheck"] = "check",
        ["card"] = "credit",
        ["credit card"] = "credit",
        ["kreditkarte"] = "credit",
        ["carte de crédit"] = "credit",
        ["tarjeta de crédito"] = "credit",
        ["debit card"] = "debit",
        ["carte de débit"] = "debit",
        ["tarjeta de débito"] = "debit",
        ["bar"] = "cash",
        ["bargeld"] = "cash",
        ["espèces"] = "cash",
        ["efectivo"] = "cash",
        ["contanti"] = "cash",
        ["contant"] = "cash",
        ["gift card"] = "gift-card",
        ["geschenkkarte"] = "gift-card",
        ["carte cadeau"] = "gift-card",
        ["tarjeta regalo"] = "gift-card",
        ["account"] = "house-account",
    }.ToFrozenDictionary();

    /// <summary>Whether a word says refund, or sale; null where it says neither. An empty word is a sale.</summary>
    public static bool? SaysRefund(string word) => word.ToLowerInvariant() is var w && _refunds.Contains(w) ? true
        : _sales.Contains(w) ? false
        : null;

    /// <summary>Whether the payment of a row is the change given on another.</summary>
    public static bool SaysChange(string word) => _change.Contains(word.ToLowerInvariant());

    /// <summary>Whether a row is the tip of a payment in another.</summary>
    public static bool SaysTip(string word) => _tip.Contains(word.ToLowerInvariant());

    /// <summary>What a row of a journal is that is no ticket; null where the word says none of it.</summary>
    public static EventKind? EventOf(string word) =>
        _events.TryGetValue(word.ToLowerInvariant().Replace('-', ' ').Replace('_', ' '), out var kind) ? kind : null;

    /// <summary>Food or cash benefits; null where the word says neither, or both.</summary>
    public static string? BenefitOf(string word)
    {
        var parts = word.ToLowerInvariant().Split([' ', '-', '_', '/', '.'], StringSplitOptions.RemoveEmptyEntries);
        return (parts.Contains("food"), parts.Contains("cash")) switch { (true, false) => "food", (false, true) => "cash", _ => null };
    }

    /// <summary>The tender that a word names by itself, by its id, its name or a word of the trade; null where it names none.</summary>
    public static string? TenderOf(string word, Setup setup)
    {
        var lower = word.ToLowerInvariant();
        var hyphened = lower.Replace(' ', '-').Replace('_', '-');
        return setup.Tenders.FirstOrDefault(t => t.Id.Value == hyphened
                || t.Name.Equals(word, StringComparison.OrdinalIgnoreCase))?.Id.Value
            ?? (_tenders.TryGetValue(lower, out var id) && setup.Find(new TenderId(id)) is not null ? id : null);
    }

    /// <summary>The register of that id or that name; null where there is none.</summary>
    public static Register? RegisterOf(string word, Setup setup) => setup.Find(new RegisterId(word))
        ?? (setup.Registers.Where(r => r.Name.Equals(word, StringComparison.OrdinalIgnoreCase)).ToList() is [var only] ? only : null);

    public static bool IsTerminal(string word, Setup setup) => setup.Terminals.Any(t => t.Terminal.Value == word);

    private static FrozenSet<string> Set(params string[] words) => words.ToFrozenSet();
}
