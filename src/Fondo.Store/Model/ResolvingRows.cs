using Fondo.Core.Checks;
using Fondo.Core.Days;
using Fondo.Core.Entries;
using Fondo.Store.Trails;

namespace Fondo.Store.Model;

/// <summary>What a person paired, parted or released. Never changed, never deleted; the last one that names an item counts.</summary>
public sealed class PairingRow : IAudited
{
    /// <summary>In the order in which it was said.</summary>
    public long Number { get; init; }

    /// <summary>Made with the form.</summary>
    public Guid Id { get; init; }

    public DateOnly Day { get; init; }

    public PairingKind Kind { get; init; }

    /// <summary>Keys of tenders, one a line.</summary>
    public string Journal { get; init; } = "";

    /// <summary>Keys of settled rows, one a line.</summary>
    public string Rows { get; init; } = "";

    /// <summary>What each came to, in minor units, one a line.</summary>
    public string Seen { get; init; } = "";

    public required string Reason { get; init; }

    public required string By { get; init; }

    public DateTimeOffset At { get; init; }

    public string ContentHash() => Hashing.Of(Id, Day, Kind.Written(), Journal, Rows, Seen, Reason, By, At.UtcTicks);

    public Act Added() => new(TrailAct.Pairing, By, $"{Day:yyyy-MM-dd}",
        $"{Kind.Written()}: {string.Join(", ", (Journal + "\n" + Rows).Split('\n', StringSplitOptions.RemoveEmptyEntries))}",
        $"Pairings:{Number}", ContentHash());
}

/// <summary>What is done about a finding of a ticket check. Never changed, never deleted; the last one of a finding counts.</summary>
public sealed class AnswerRow : IAudited
{
    public long Number { get; init; }

    public DateOnly Day { get; init; }

    public required string Ticket { get; init; }

    public FindingCode Code { get; init; }

    /// <summary>In minor units, as it was found then.</summary>
    public long Amount { get; init; }

    public Remedy Remedy { get; init; }

    public required string Reason { get; init; }

    public required string By { get; init; }

    public DateTimeOffset At { get; init; }

    public string ContentHash() => Hashing.Of(Day, Ticket, Code.Written(), Amount, Remedy.Written(), Reason, By, At.UtcTicks);

    public Act Added() => new(TrailAct.Answer, By, $"{Day:yyyy-MM-dd} {Ticket}",
        $"{Code.Written()}: {Remedy.Written()}", $"Answers:{Number}", ContentHash());
}

/// <summary>A register that was signed off. Never changed, never deleted.</summary>
public sealed class SignOffRow : IAudited
{
    public long Number { get; init; }

    public DateOnly Day { get; init; }

    public required string Register { get; init; }

    public required string Figures { get; init; }

    public required string By { get; init; }

    public DateTimeOffset At { get; init; }

    public string ContentHash() => Hashing.Of(Day, Register, Figures, By, At.UtcTicks);

    public Act Added() => new(TrailAct.SignOff, By, $"{Day:yyyy-MM-dd} {Register}", "signed off", $"SignOffs:{Number}", ContentHash());
}

/// <summary>A close that was opened again: it stands no more, and stays readable. Never changed, never deleted.</summary>
public sealed class ReopeningRow : IAudited
{
    /// <summary>Of the close.</summary>
    public int Number { get; init; }

    public DateOnly Day { get; init; }

    public required string Reason { get; init; }

    public required string By { get; init; }

    public DateTimeOffset At { get; init; }

    public string ContentHash() => Hashing.Of(Number, Day, Reason, By, At.UtcTicks);

    public Act Added() => new(TrailAct.Reopen, By, $"{Day:yyyy-MM-dd}",
        $"opened close {Number} again: “{Reason}”", $"Reopenings:{Number}", ContentHash());
}

/// <summary>What an earlier day carries here is another than it was. Never changed, never deleted.</summary>
public sealed class CarryChangeRow : IAudited
{
    public long Number { get; init; }

    /// <summary>The day that is told.</summary>
    public DateOnly Day { get; init; }

    /// <summary>The close that changed it.</summary>
    public int Close { get; init; }

    public required string Says { get; init; }

    public DateTimeOffset At { get; init; }

    public string ContentHash() => Hashing.Of(Day, Close, Says, At.UtcTicks);

    public Act Added() => new(TrailAct.CarryChange, null, $"{Day:yyyy-MM-dd}", Says, $"CarryChanges:{Number}", ContentHash());
}

/// <summary>A file that an entry rests on; its content lies beside the database. Never changed, never deleted.</summary>
public sealed class AttachmentRow : IAudited
{
    public Guid Id { get; init; }

    public DateOnly Day { get; init; }

    public Guid EntryId { get; init; }

    /// <summary>As it was called where it came from.</summary>
    public required string Name { get; init; }

    /// <summary>By its content, not by its name.</summary>
    public required string Type { get; init; }

    public long Size { get; init; }

    /// <summary>SHA-256 of the content, and the name of the file that holds it.</summary>
    public required string Hash { get; init; }

    public required string By { get; init; }

    public DateTimeOffset At { get; init; }

    public string ContentHash() => Hashing.Of(Id, Day, EntryId, Name, Type, Size, Hash, By, At.UtcTicks);

    public Act Added() => new(TrailAct.Attach, By, $"{Day:yyyy-MM-dd}", $"{Name}, {Type}", $"Attachments:{Id}", ContentHash());
}
