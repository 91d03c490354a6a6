using Fondo.Store.Trails;

namespace Fondo.Store.Model;

/// <summary>How the line to a mail server is kept from listeners.</summary>
public enum MailSecurity
{
    /// <summary>TLS from the first byte, usually port 465.</summary>
    Tls,

    /// <summary>TLS after the server's greeting, usually port 587.</summary>
    StartTls,

    /// <summary>Not at all: only for a server on the same machine.</summary>
    None,
}

/// <summary>The mail server as it was set up. Never changed, never deleted: the last one holds.</summary>
public sealed class MailServerRow : IAudited
{
    public long Number { get; init; }

    /// <summary>Empty: mail was switched off.</summary>
    public required string Host { get; init; }

    public int Port { get; init; }

    public MailSecurity Security { get; init; }

    public string? User { get; init; }

    /// <summary>The password, encrypted with the store's key; null where the server needs none.</summary>
    public string? Secret { get; init; }

    public required string Sender { get; init; }

    /// <summary>Who gets each close; empty: nobody.</summary>
    public required string CloseTo { get; init; }

    /// <summary>Who gets each receipt that is sent, besides the customer; empty: nobody.</summary>
    public string ReceiptTo { get; init; } = "";

    public required string By { get; init; }

    public DateTimeOffset At { get; init; }

    public string ContentHash() => Hashing.Of([
        Host,
        Port,
        Security.Written(),
        User,
        Secret,
        Sender,
        CloseTo,
        By,
        At.UtcTicks,
        .. ReceiptTo.Length > 0 ? new object?[] { ReceiptTo } : []
    ]);

    public Act Added() => new(TrailAct.MailServer, By, Host.Length == 0 ? "off" : $"{Host}:{Port}",
            $"sender {Sender}, {(CloseTo.Length == 0 ? "closes not mailed" : $"closes mailed to {CloseTo}")}"
                + $"{(ReceiptTo.Length == 0 ? "" : $", receipts copied to {ReceiptTo}")}", $"MailServers:{Number}", ContentHash());
}

/// <summary>A mail to be sent. Never changed, never deleted.</summary>
public sealed class MailRow
{
    public Guid Id { get; init; }

    public required string To { get; init; }

    /// <summary>What it is about, as the audit trail says it.</summary>
    public required string About { get; init; }

    /// <summary>The message as it goes over the line (RFC 5322), with an identifier of its own: sent twice it is one.</summary>
    public required byte[] Message { get; init; }

    public DateTimeOffset At { get; init; }
}

/// <summary>What a mail server answered to a mail. Never changed, never deleted.</summary>
public sealed class MailAttemptRow
{
    public long Number { get; init; }

    public Guid Mail { get; init; }

    /// <summary>Whether the server took it.</summary>
    public bool IsSent { get; init; }

    /// <summary>The server's own words, or why there were none.</summary>
    public required string Answer { get; init; }

    public DateTimeOffset At { get; init; }
}
