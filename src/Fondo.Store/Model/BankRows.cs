using Fondo.Core.Banking;
using Fondo.Store.Trails;

namespace Fondo.Store.Model;

/// <summary>A person's decision on one line of the bank, or on what is expected from it. Never changed, never deleted: a later one on
/// the same holds.</summary>
public sealed class BankDecisionRow : IAudited
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

    public string ContentHash() => Hashing.Of(Id, Day, Line, Kind.Written(), Target, Reason, By, At.UtcTicks);

    public Act Added() => new(TrailAct.Bank, By, $"{Day:yyyy-MM-dd}",
            Line.Length == 0 ? $"{Kind.Written()}: {Target}: {Reason}"
                : $"{Kind.Written()} line {Line}{(Target is null ? "" : $" to {Target}")}: {Reason}", $"BankDecisions:{Number}",
            ContentHash());
}

/// <summary>A statement that was imported by mistake: its lines count nowhere. Never changed, never deleted.</summary>
public sealed class StatementWithdrawalRow : IAudited
{
    /// <summary>The statement's number in the store.</summary>
    public required string Statement { get; init; }

    public required string Reason { get; init; }

    public required string By { get; init; }

    /// <summary>The second person.</summary>
    public required string Witness { get; init; }

    public DateTimeOffset At { get; init; }

    public string ContentHash() => Hashing.Of(Statement, Reason, By, Witness, At.UtcTicks);

    public Act Added() => new(TrailAct.Bank, By, Statement, $"withdrew the statement, with {Witness}: {Reason}",
            $"StatementWithdrawals:{Statement}", ContentHash());
}
