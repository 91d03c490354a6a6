using Fondo.Core.Custody;

namespace Fondo.Store.Model;

/// <summary>What went into the safe or came out of it, beside what registers and deposits say. Never changed, never deleted.</summary>
public sealed class SafeMovementRow
{
    public Guid Id { get; init; }

    public DateOnly Day { get; init; }

    public SafeMovementKind Kind { get; init; }

    /// <summary>In minor units.</summary>
    public long Amount { get; init; }

    public required string Reason { get; init; }

    public required string By { get; init; }

    public DateTimeOffset At { get; init; }

    /// <summary>The second person, who proved it with their PIN; null where none was needed.</summary>
    public string? Witness { get; init; }

    /// <summary>The register whose drawer a float went to; null for everything else.</summary>
    public string? Register { get; init; }

    /// <summary>The number of the change order that it belongs to; null for everything else.</summary>
    public int? Order { get; init; }

    /// <summary>Denomination in minor units and pieces, one a line; empty where only the amount is known.</summary>
    public string Pieces { get; init; } = "";
}

/// <summary>Change that was ordered from the bank. Never changed, never deleted.</summary>
public sealed class ChangeOrderRow
{
    public int Number { get; init; }

    /// <summary>Made with the form.</summary>
    public Guid Id { get; init; }

    public DateOnly Day { get; init; }

    /// <summary>Denomination in minor units and pieces, one a line.</summary>
    public required string Pieces { get; init; }

    public required string By { get; init; }

    public DateTimeOffset At { get; init; }
}

/// <summary>A deposit as it was sealed. Never changed, never deleted.</summary>
public sealed class DepositRow
{
    public int Number { get; init; }

    /// <summary>Made with the form.</summary>
    public Guid Id { get; init; }

    public DateOnly Day { get; init; }

    public required string Bag { get; init; }

    /// <summary>Denomination in minor units and pieces, <c>2000x14</c>, one a line.</summary>
    public required string Pieces { get; init; }

    /// <summary>The keys of the checks in it, one a line.</summary>
    public required string Checks { get; init; }

    public required string By { get; init; }

    public required string Witness { get; init; }

    public DateTimeOffset At { get; init; }
}

/// <summary>Who took a deposit. Never changed, never deleted.</summary>
public sealed class HandOverRow
{
    /// <summary>Of the deposit.</summary>
    public int Number { get; init; }

    public required string To { get; init; }

    public string Seal { get; init; } = "";

    public required string By { get; init; }

    public DateTimeOffset At { get; init; }
}

/// <summary>A sealed bag that was opened again. Never changed, never deleted.</summary>
public sealed class UnsealingRow
{
    /// <summary>Of the deposit.</summary>
    public int Number { get; init; }

    public DateOnly Day { get; init; }

    public required string Reason { get; init; }

    public required string By { get; init; }

    /// <summary>The second person; null where none was needed.</summary>
    public string? Witness { get; init; }

    public DateTimeOffset At { get; init; }
}

/// <summary>A statement of the bank as it came in. Never changed, never deleted.</summary>
public sealed class BankStatementRow
{
    /// <summary>As the bank numbers it.</summary>
    public required string Id { get; init; }

    public required string Account { get; init; }

    public required string Currency { get; init; }

    public DateOnly From { get; init; }

    public DateOnly To { get; init; }

    public long Opening { get; init; }

    public long Closing { get; init; }

    /// <summary>The file that it came in.</summary>
    public required string File { get; init; }

    public required string By { get; init; }

    public DateTimeOffset At { get; init; }
}

/// <summary>One line of a statement. Never changed, never deleted.</summary>
public sealed class BankLineRow
{
    public required string Key { get; init; }

    public required string Statement { get; init; }

    /// <summary>In the statement, from 1.</summary>
    public int Place { get; init; }

    /// <summary>The trading day on which it is matched; while it waits for one, the last day that there was.</summary>
    public DateOnly Day { get; init; }

    /// <summary>Whether no day with trade was open when it came: the next one takes it (<see cref="BankLineDayRow"/>).</summary>
    public bool Waits { get; init; }

    public DateOnly Booked { get; init; }

    public long Amount { get; init; }

    public required string Text { get; init; }

    public int? Items { get; init; }

    /// <summary>Whether the bank says that it takes an earlier line back.</summary>
    public bool IsReversal { get; init; }

    /// <summary>What it is made of, as JSON; null where the bank does not list it.</summary>
    public string? Details { get; init; }
}

/// <summary>The trading day that took a line that waited for one. Never changed, never deleted.</summary>
public sealed class BankLineDayRow
{
    public required string Key { get; init; }

    public DateOnly Day { get; init; }
}
