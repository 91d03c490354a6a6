using Fondo.Core.Books;
using Fondo.Store.Trails;

namespace Fondo.Store.Model;

/// <summary>A closed day as it was frozen. Never changed, never deleted.</summary>
public sealed class CloseRow : IAudited
{
    public int Number { get; init; }

    public DateOnly Day { get; init; }

    public required string Content { get; init; }

    public required string PreviousHash { get; init; }

    public required string Hash { get; init; }

    /// <summary>What is rung later than this belongs to the next day.</summary>
    public DateTimeOffset At { get; init; }

    /// <summary>Who closed it; null on closes made before it was written down here (their document says it).</summary>
    public string? By { get; init; }

    /// <summary>The close whose figures the days behind this one began with, where some of them were closed already; null where none
    /// was.</summary>
    public int? Corrects { get; init; }

    /// <summary>The close that it began with; 0 where there was none before it; null on closes made before it was written down.</summary>
    public int? Follows { get; init; }

    public string ContentHash() => Hashing.Of([
        Number,
        Day,
        Content,
        PreviousHash,
        Hash,
        At.UtcTicks,
        .. By is null ? [] : new object?[] { By },
        .. Corrects is null && Follows is null ? [] : new object?[] { Corrects, Follows }
    ]);

    public Act Added() => new(TrailAct.Close, By, $"{Day:yyyy-MM-dd}", $"closed as number {Number}", $"Closes:{Number}", ContentHash());
}

/// <summary>A ticket rung after the close of its day, and the closed day on which it was counted: there it stays. Never changed, never
/// deleted.</summary>
public sealed class LateTicketRow : IAudited
{
    public required string Ticket { get; init; }

    public DateOnly RungOn { get; init; }

    public DateOnly CountsOn { get; init; }

    public string ContentHash() => Hashing.Of(Ticket, RungOn, CountsOn);

    public Act Added() => new(TrailAct.Late, null, Ticket,
        $"rung on {RungOn:yyyy-MM-dd}, counted on {CountsOn:yyyy-MM-dd}", $"LateTickets:{Ticket}", ContentHash());
}

/// <summary>The open day on which a correction of an earlier, closed one is posted. Never changed, never deleted.</summary>
public sealed class CorrectionRow : IAudited
{
    /// <summary>The number of the close that corrects.</summary>
    public int Close { get; init; }

    public DateOnly Day { get; init; }

    public string ContentHash() => Hashing.Of(Close, Day);

    public Act Added() => new(TrailAct.CarryChange, null, $"{Day:yyyy-MM-dd}",
        $"posts the correction of close {Close}", $"Corrections:{Close}", ContentHash());
}

/// <summary>What a ticket of a closed day did to a customer's item, as its close document says: made with it, to look through. Never
/// changed, never deleted.</summary>
public sealed class CustomerMovementRow
{
    public long Number { get; init; }

    public int Close { get; init; }

    public DateOnly Day { get; init; }

    public required string Account { get; init; }

    /// <summary>Empty where it came without a number.</summary>
    public required string Reference { get; init; }

    public string? Name { get; init; }

    public required string What { get; init; }

    /// <summary>In minor units. Debits are positive, credits negative.</summary>
    public long Amount { get; init; }

    /// <summary>Empty for what differences and entries leave.</summary>
    public required string Ticket { get; init; }

    public CustomerKey Key => new(Account, Reference);
}
