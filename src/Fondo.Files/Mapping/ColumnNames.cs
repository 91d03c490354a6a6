using System.Text.RegularExpressions;
using Fondo.Files.Text;

namespace Fondo.Files.Mapping;

/// <summary>Words in the names of columns that tell their field, in languages of the trade.</summary>
internal static partial class ColumnNames
{
    /// <summary>From so many letters on, a word is also found within a longer one.</summary>
    private const int LongEnough = 5;

    /// <summary>The most telling first.</summary>
    private static readonly (string Field, string[] Words)[] _sales =
    [
        (MappedFields.LineTax, ["line tax", "item tax", "tva ligne", "iva línea", "mwst zeile"]),
        (MappedFields.LineAmount, ["line amount", "line total", "extended", "ext amount", "item amount", "item total", "line net",
            "montant ligne", "importe línea", "zeilenbetrag", "positionsbetrag"]),
        (MappedFields.Tip, ["tip", "gratuity", "trinkgeld", "pourboire", "propina", "mancia", "fooi"]),
        (MappedFields.Cashback, ["cash back", "cashback"]),
        (MappedFields.Fee, ["fee", "surcharge"]),
        (MappedFields.Change, ["change", "rückgeld", "wechselgeld", "rendu", "monnaie rendue", "cambio", "resto", "wisselgeld"]),
        (MappedFields.Original, ["original", "refunded ticket", "orig"]),
        (MappedFields.Rrn, ["rrn", "retrieval", "reference", "ref no", "ref num", "ref", "referenz", "référence", "referencia"]),
        (MappedFields.Auth, ["auth", "approval", "appr", "genehmigung", "autorisierung", "autorisation", "autorización"]),
        (MappedFields.Terminal, ["terminal", "device", "pos id", "tid", "term"]),
        (MappedFields.Batch, ["batch", "settlement", "lote"]),
        (MappedFields.Register, ["register", "lane", "till", "checkout", "pos", "kasse", "caisse", "caja", "cassa", "kassa"]),
        (MappedFields.Ticket, ["ticket", "receipt", "transaction no", "trans no", "transaction number", "transaction id", "trx",
            "invoice", "beleg", "belegnummer", "bon", "bonnummer", "tique", "recibo", "scontrino"]),
        (MappedFields.Seq, ["seq", "line no", "row no", "item no", "stan", "trace"]),
        (MappedFields.Cashier, ["cashier", "clerk", "operator", "employee", "kassierer", "caissier", "cajero", "cassiere"]),
        (MappedFields.Drawer, ["drawer", "session", "shift"]),
        (MappedFields.Holder, ["name on", "payer"]),
        (MappedFields.Number, ["check no", "check number", "cheque"]),
        (MappedFields.Brand, ["brand", "scheme", "card type", "network", "kartenart", "type de carte", "tipo de tarjeta", "marke"]),
        (MappedFields.Card, ["last four", "last 4", "last4", "pan", "card no", "card number", "card", "karte", "kartennummer", "carte",
            "tarjeta", "carta"]),
        (MappedFields.Entry, ["entry", "read mode"]),
        (MappedFields.Benefit, ["benefit", "ebt"]),
        (MappedFields.Status, ["status", "state", "result", "statut", "estado"]),
        (MappedFields.Tender, ["tender", "payment", "paid by", "pay type", "method", "zahlungsart", "zahlart", "règlement",
            "mode de paiement", "moyen de paiement", "forma de pago", "betaalwijze", "pagamento"]),
        (MappedFields.Type, ["type", "kind", "sale refund", "direction", "s/r", "event", "vorgang", "typ", "tipo"]),
        (MappedFields.Tax, ["tax", "vat", "mwst", "ust", "tva", "iva"]),
        (MappedFields.Total, ["ticket total", "receipt total", "total tique", "total ticket", "bonsumme", "total"]),
        (MappedFields.Amount, ["amount", "amount tendered", "tendered", "amount paid", "amt", "value", "gross", "sum", "base",
            "betrag", "montant", "importe", "importo", "bedrag"]),
        (MappedFields.Sku, ["sku", "article", "plu", "item code", "artikelnummer", "gtin", "ean", "upc", "barcode", "bar code",
            "strichcode", "code barre", "código de barras"]),
        (MappedFields.Item, ["item", "description", "product", "bezeichnung", "libellé", "descripción", "omschrijving"]),
        (MappedFields.Quantity, ["qty", "quantity", "units", "menge", "qté", "quantité", "cantidad", "aantal"]),
        (MappedFields.Reason, ["reason", "remark", "comment", "grund", "motif", "motivo"]),
        (MappedFields.At, ["date time", "datetime", "timestamp", "date and time", "when", "transaction date time", "datum und zeit"]),
        (MappedFields.Date, ["date", "day", "datum", "fecha", "data"]),
        (MappedFields.Time, ["time", "hour", "uhrzeit", "zeit", "heure", "hora", "tijd", "ora"]),
    ];

    /// <summary>The same for what hosts say of whole batches, told by their counts.</summary>
    private static readonly (string Field, string[] Words)[] _totals =
    [
        (MappedFields.SalesCount, ["sales count", "sale count", "number of sales", "sales number", "sales qty", "debit count"]),
        (MappedFields.SalesAmount, ["sales amount", "sale amount", "sales total", "sales value", "debit amount"]),
        (MappedFields.RefundsCount, ["refunds count", "refund count", "number of refunds", "refunds number", "refund qty", "credit count"]),
        (MappedFields.RefundsAmount, ["refunds amount", "refund amount", "refunds total", "refund value", "credit amount"]),
        (MappedFields.Terminal, ["terminal", "device", "pos id", "tid", "term"]),
        (MappedFields.Batch, ["batch", "settlement"]),
        (MappedFields.At, ["closed at", "closed", "settled at", "date time", "timestamp"]),
        (MappedFields.Date, ["date", "day"]),
        (MappedFields.Time, ["time", "hour"]),
    ];

    /// <summary>The same for statements of a bank, which are told by their balance.</summary>
    private static readonly (string Field, string[] Words)[] _statements =
    [
        (MappedFields.Balance, ["balance"]),
        (MappedFields.Statement, ["statement"]),
        (MappedFields.PaidIn, ["paid in", "money in", "credit", "credits", "deposits", "in"]),
        (MappedFields.PaidOut, ["paid out", "money out", "debit", "debits", "withdrawals", "out"]),
        (MappedFields.Amount, ["amount", "amt", "value"]),
        (MappedFields.Date, ["booked", "booking date", "posting date", "posted", "date"]),
        (MappedFields.Text, ["description", "details", "narrative", "particulars", "memo", "text", "payee"]),
        (MappedFields.Reference, ["reference", "ref"]), (MappedFields.Account, ["account"]), (MappedFields.Items, ["items"]),
    ];

    /// <summary>By field, the column whose name tells it.</summary>
    /// <param name="kind">Batches stand for whatever is sold and settled.</param>
    public static Dictionary<string, string> Fields(IReadOnlyList<string> header, MappedKind kind)
    {
        var (columns, used) = (new Dictionary<string, string>(), new HashSet<string>());
        var names = kind == MappedKind.Statement ? _statements : kind == MappedKind.Totals ? _totals : _sales;
        var plain = header.Select(h => (Name: h.Trim(), Text: $" {Plain(h)} ")).Where(p => p.Name.Length > 0).ToList();
        // A whole name says more than a word within one.
        foreach (var isWhole in new[] { true, false })
        {
            foreach (var (field, words) in names.Where(n => !columns.ContainsKey(n.Field)))
            {
                var found = words.SelectMany(w => plain.Where(p => !used.Contains(p.Name) && Tells(p.Text, w, isWhole))).FirstOrDefault();
                if (found.Name is { } name && !CardNumbers.Contains(name))
                {
                    columns[field] = name;
                    used.Add(name);
                }
            }
        }

        return columns;
    }

    /// <summary>Whether the columns are those of totals: how many sales, and for how much.</summary>
    public static bool AreOfTotals(IReadOnlyList<string> header) => new[] { MappedFields.SalesCount, MappedFields.SalesAmount }.All(field =>
        header.Any(h => _totals.First(t => t.Field == field).Words.Contains(Plain(h))));

    /// <summary>Whether a column says of its times that they are of UTC.</summary>
    public static bool SaysUtc(string column) => Plain(column).Split(' ').Any(w => w is "utc" or "gmt" or "zulu");

    /// <summary>Whether a column says of its amounts that they are in the smallest unit.</summary>
    public static bool SaysMinor(string column) => Plain(column).Split(' ').Any(w => w is "cents" or "cent" or "minor" or "pence");

    private static bool Tells(string text, string word, bool isWhole) => isWhole
        ? text.Trim() == word
        : text.Contains($" {word} ", StringComparison.Ordinal)
            || (word.Length >= LongEnough && text.Contains(word, StringComparison.Ordinal));

    private static string Plain(string name) =>
        Separators().Replace(CamelCase().Replace(name, "$1 $2"), " ").Trim().ToLowerInvariant();

    [GeneratedRegex(@"[_\-./#:()\[\]]+|\s+")]
    private static partial Regex Separators();

    [GeneratedRegex(@"([a-z])([A-Z])")]
    private static partial Regex CamelCase();
}
