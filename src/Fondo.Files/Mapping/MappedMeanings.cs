namespace Fondo.Files.Mapping;

/// <summary>What an amount without decimals is, in a currency that has some.</summary>
public enum WholeAmounts
{
    /// <summary>Whole units: 12 is 12.00.</summary>
    Units,

    /// <summary>The smallest unit: 1284 is 12.84.</summary>
    Minor,

    /// <summary>A person says: a file in which no amount has decimals is not read before.</summary>
    Asked,
}

/// <summary>Whether a part that has a column of its own is in the amount.</summary>
public enum PartOfAmount
{
    Inside,
    Beside,

    /// <summary>In a row of its own: change with a minus, a tip beside the payment.</summary>
    OwnRow,

    /// <summary>A person says, where the file does not make it plain.</summary>
    Asked,
}

/// <summary>What a voided row takes out of its ticket.</summary>
public enum VoidedIs
{
    Ticket,

    /// <summary>That line, or that payment, alone.</summary>
    Row,

    /// <summary>A person says, where only some rows of a ticket are voided.</summary>
    Asked,
}

/// <summary>What the status of a row says.</summary>
internal enum RowStatus
{
    Stands,
    Voided,
    Declined,

    /// <summary>A word that nobody explained.</summary>
    Unknown,
}

/// <summary>The words of a status that explain themselves.</summary>
internal static class StatusWords
{
    /// <summary>What a mapping's words may turn others into.</summary>
    public const string Approved = "approved", Void = "void", Declined = "declined";

    private static readonly string[] _stands =
        [Approved, "approval", "accepted", "ok", "success", "successful", "captured", "settled", "complete", "completed", "posted", "paid",
            "closed", "done", "cleared", "final", "normal", "yes", "y", "sale", "refund"],
        _declined = [Declined, "decline", "denied", "rejected", "refused", "failed", "failure", "error", "timeout", "timed out"];

    public static RowStatus Of(MappedRow row) => row.IsVoid ? RowStatus.Voided : Of(row.Word(MappedFields.Status));

    public static RowStatus Of(string word) => word.ToLowerInvariant() is var w && (w.Length == 0 || _stands.Contains(w)) ? RowStatus.Stands
        : w == Void ? RowStatus.Voided
        : _declined.Contains(w) ? RowStatus.Declined
        : RowStatus.Unknown;
}
