using Fondo.Core.Custody;
using Fondo.Store.Trails;

namespace Fondo.Store.Model;

/// <summary>What went into the safe or came out of it, beside what registers and deposits say. Never changed, never deleted.</summary>
public sealed class SafeMovementRow : IAudited
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

    public string ContentHash() => Hashing.Of(
        [Id, Day, Kind.Written(), Amount, Reason, By, At.UtcTicks,
            .. Witness is null && Register is null && Order is null && Pieces.Length == 0
                ? []
                : new object?[] { Witness, Register, Order, Pieces }]);

    public Act Added() => new(TrailAct.Safe, By, $"{Day:yyyy-MM-dd}", $"{Kind.Written()}: {Reason}", $"SafeMovements:{Id}", ContentHash());
}

/// <summary>Change that was ordered from the bank. Never changed, never deleted.</summary>
public sealed class ChangeOrderRow : IAudited
{
    public int Number { get; init; }

    /// <summary>Made with the form.</summary>
    public Guid Id { get; init; }

    public DateOnly Day { get; init; }

    /// <summary>Denomination in minor units and pieces, one a line.</summary>
    public required string Pieces { get; init; }

    public required string By { get; init; }

    public DateTimeOffset At { get; init; }

    public string ContentHash() => Hashing.Of(Number, Id, Day, Pieces, By, At.UtcTicks);

    public Act Added() =>
        new(TrailAct.Safe, By, $"{Day:yyyy-MM-dd}", $"ordered change, order {Number}", $"ChangeOrders:{Number}", ContentHash());
}

/// <summary>A deposit as it was sealed. Never changed, never deleted.</summary>
public sealed class DepositRow : IAudited
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

    public string ContentHash() => Hashing.Of(Number, Id, Day, Bag, Pieces, Checks, By, Witness, At.UtcTicks);

    public Act Added() => new(TrailAct.Deposit, By, $"{Day:yyyy-MM-dd}",
        $"sealed deposit {Number} in bag {Bag}, with {Witness}", $"Deposits:{Number}", ContentHash());
}

/// <summary>Who took a deposit. Never changed, never deleted.</summary>
public sealed class HandOverRow : IAudited
{
    /// <summary>Of the deposit.</summary>
    public int Number { get; init; }

    public required string To { get; init; }

    public string Seal { get; init; } = "";

    public required string By { get; init; }

    public DateTimeOffset At { get; init; }

    public string ContentHash() => Hashing.Of(Number, To, Seal, By, At.UtcTicks);

    public Act Added() => new(TrailAct.Deposit, By, $"deposit {Number}", $"handed over to {To}", $"HandOvers:{Number}", ContentHash());
}

/// <summary>A sealed bag that was opened again. Never changed, never deleted.</summary>
public sealed class UnsealingRow : IAudited
{
    /// <summary>Of the deposit.</summary>
    public int Number { get; init; }

    public DateOnly Day { get; init; }

    public required string Reason { get; init; }

    public required string By { get; init; }

    /// <summary>The second person; null where none was needed.</summary>
    public string? Witness { get; init; }

    public DateTimeOffset At { get; init; }

    public string ContentHash() => Hashing.Of([Number, Day, Reason, By, At.UtcTicks, .. Witness is null ? [] : new object?[] { Witness }]);

    public Act Added() => new(TrailAct.Deposit, By, $"deposit {Number}", $"opened again: {Reason}", $"Unsealings:{Number}", ContentHash());
}

/// <summary>A statement of the bank as it came in. Never changed, never deleted.</summary>
public sealed class BankStatementRow : IAudited
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

    public string ContentHash() => Hashing.Of(Id, Account, Currency, From, To, Opening, Closing, File, By, At.UtcTicks);

    public Act Added() => new(TrailAct.Bank, By, Account,
        $"statement {Id}, {From:yyyy-MM-dd} to {To:yyyy-MM-dd}", $"BankStatements:{Id}", ContentHash());
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

    public string ContentHash() => Hashing.Of([
        Key,
        Statement,
        Place,
        Day,
        Booked,
        Amount,
        Text,
        Items,
        .. Waits ? new object?[] { "waits" } : [],
        .. IsReversal || Details is not null ? new object?[] { IsReversal, Details } : []
    ]);

    public Act Added() => new(TrailAct.Bank, null, $"{Day:yyyy-MM-dd}", $"line {Key}: {Text}", $"BankLines:{Key}", ContentHash());

    /// <summary>The line of the trail for all lines of a statement, in their order. Older stores have one for each.</summary>
    internal static Act Added(string statement, IEnumerable<BankLineRow> lines)
    {
        var hashes = lines.Select(l => l.ContentHash()).ToArray<object?>();
        return new(TrailAct.Bank, null, statement, hashes.Length == 1 ? "1 line" : $"{hashes.Length} lines", $"{LinesOf}{statement}",
            Hashing.Of(hashes));
    }

    internal const string LinesOf = "BankLines of:";
}

/// <summary>The trading day that took a line that waited for one. Never changed, never deleted.</summary>
public sealed class BankLineDayRow : IAudited
{
    public required string Key { get; init; }

    public DateOnly Day { get; init; }

    public string ContentHash() => Hashing.Of(Key, Day);

    public Act Added() =>
        new(TrailAct.Bank, null, $"{Day:yyyy-MM-dd}", $"matches line {Key}, which waited", $"BankLineDays:{Key}", ContentHash());
}
