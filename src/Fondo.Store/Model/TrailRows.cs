namespace Fondo.Store.Model;

/// <summary>One act that wrote something, or tried to. Never changed, never deleted; each line carries the hash of the one
/// before.</summary>
public sealed class TrailRow
{
    /// <summary>From 1, without a gap.</summary>
    public long Number { get; init; }

    public DateTimeOffset At { get; init; }

    /// <summary>The person, the register or the folder that did it.</summary>
    public required string By { get; init; }

    /// <summary>From which machine.</summary>
    public required string Machine { get; init; }

    public TrailAct Act { get; init; }

    /// <summary>On what: a day, a person, a register.</summary>
    public required string On { get; init; }

    /// <summary>What, in words; from what to what.</summary>
    public required string Says { get; init; }

    /// <summary>Where what was written stands: a table and its keys; empty where the words are all.</summary>
    public required string Of { get; init; }

    /// <summary>SHA-256 of what was written there.</summary>
    public required string Content { get; init; }

    public required string Previous { get; init; }

    public required string Hash { get; init; }
}

/// <summary>What somebody did.</summary>
public enum TrailAct
{
    /// <summary>The trail begins: what was there already.</summary>
    Begin,
    Records,
    Aside,
    Decide,
    Gap,
    Entry,
    Approve,
    Excuse,
    Close,
    Late,
    Setup,
    ApproveSetup,
    Key,
    RevokeKey,
    Person,
    Pin,
    Machine,
    SignIn,
    SignOut,
    Refused,
    Saw,
    Reading,
    Settle,
    Mapping,
    Backup,
    Pairing,
    Answer,
    SignOff,
    Reopen,
    CarryChange,
    Attach,
    Send,
    Safe,
    Deposit,
    Bank,
    MailServer,
    Files,
    Export,
    Restore,
}
