namespace Fondo.Core.Matching;

/// <summary>Why an item stayed open (rules §5).</summary>
public enum Cause
{
    /// <summary>A tender later than the last close of its terminal's batches.</summary>
    AfterCutoff,

    /// <summary>A tender whose terminal has no batch today.</summary>
    BatchAbsent,

    /// <summary>Any other tender that is not settled.</summary>
    MissingFromBatch,

    /// <summary>A row that no ticket has.</summary>
    NotInJournal,

    /// <summary>A row beside a matched one of the same card, amount and terminal within the matching window.</summary>
    ChargedTwice,

    /// <summary>A row whose ticket was voided.</summary>
    VoidNotSent,

    /// <summary>A row whose tender is recorded as reversed.</summary>
    ReversalNotSent,

    /// <summary>A row whose tender is recorded as declined.</summary>
    DeclinedButSettled,
}
