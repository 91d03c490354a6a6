using Fondo.Core.Banking;

namespace Fondo.Store.Model;

/// <summary>A person's decision on one line of the bank, or on what is expected from it. Never changed, never deleted: a later one on
/// the same holds.</summary>
public sealed class BankDecisionRow
{
    /// <summary>In the order in which they were made.</summary>
    public long Number { get; init; }

    /// <summary>Made with the form.</summary>
    public Guid Id { get; init; }

    public DateOnly Day { get; init; }

    /// <summary>The key of the line, or of its piece; empty for a decision on what is expected.</summary>
    public required string Line { get; init; }

    public BankDecisionKind Kind { get; init; }

    /// <summary>What it pays, or what is expected, as <see cref="BankTarget"/> writes it.</summary>
    public string? Target { get; init; }

    public required string Reason { get; init; }

    public required string By { get; init; }

    public DateTimeOffset At { get; init; }
}

/// <summary>A statement that was imported by mistake: its lines count nowhere. Never changed, never deleted.</summary>
public sealed class StatementWithdrawalRow
{
    /// <summary>The statement's number in the store.</summary>
    public required string Statement { get; init; }

    public required string Reason { get; init; }

    public required string By { get; init; }

    /// <summary>The second person.</summary>
    public required string Witness { get; init; }

    public DateTimeOffset At { get; init; }
}
