using Fondo.Core.Amounts;
using Fondo.Core.Books;
using Fondo.Core.Closing;
using Fondo.Core.Entries;
using Fondo.Core.Journal;
using Fondo.Files.Reading;

namespace Fondo.Store.Model;

/// <summary>A trading day that something was taken in for.</summary>
public sealed class DayRow
{
    public DateOnly Date { get; init; }

    public required string Store { get; init; }

    /// <summary>Grows with everything that changes the day's reconciliation; never with entries.</summary>
    public int Revision { get; set; }

    public bool HasRows { get; set; }

    public bool HasLedger { get; set; }

    /// <summary>Whether anything was rung, counted, or settled on it: only then is it a trading day of the store's chain (rules
    /// §9).</summary>
    public bool HasTrade { get; set; }
}

/// <summary>A record as it came in. Never changed, never deleted.</summary>
public sealed class RecordRow
{
    public long Id { get; init; }

    public DateOnly Day { get; init; }

    public RecordKind Kind { get; init; }

    /// <summary>Natural key within its kind.</summary>
    public required string Key { get; init; }

    /// <summary>1; higher where a person decided that another version stands. The highest one counts.</summary>
    public int Version { get; init; } = 1;

    /// <summary>As it came in; empty where a person set the record aside because it no longer reads.</summary>
    public required string Json { get; init; }

    /// <summary>The file that it came in; null where it came over HTTP, or from a person.</summary>
    public string? File { get; init; }

    /// <summary>Its line in the file or part, from 1; 0 where it has none.</summary>
    public int Line { get; init; }

    public DateTimeOffset TakenAt { get; init; }

    /// <summary>Who took it in, or handed it in.</summary>
    public required string TakenBy { get; init; }

    /// <summary>Why a later attempt replaces an earlier count.</summary>
    public string? Reason { get; init; }
}

/// <summary>Records of a file that is being written in steps: until all are there, nobody sees those of these numbers.</summary>
public sealed class OpenIntakeRow
{
    public int Id { get; init; }

    public DateOnly Day { get; init; }

    public long First { get; init; }

    public long Last { get; init; }

    public required string By { get; init; }

    public DateTimeOffset At { get; init; }
}

/// <summary>The set-up from one trading day on. Never changed; a later one from the same day replaces it.</summary>
public sealed class SetupRow
{
    public int Id { get; init; }

    public DateOnly From { get; init; }

    /// <summary>In the shape of day.json.</summary>
    public required string Json { get; init; }

    public required string By { get; init; }

    public DateTimeOffset At { get; init; }

    /// <summary>What it loosens, one a line; null where it loosens nothing. Such a one holds only once a manager who did not make it has
    /// approved it.</summary>
    public string? Loosens { get; init; }

    /// <summary>The set-up that held from that day when this one was made; approving it later than another change would undo that
    /// change.</summary>
    public int? Follows { get; init; }

    public SetupApprovalRow? Approval { get; init; }
}

/// <summary>A manager's word for a set-up that loosens a control. Never changed, never deleted.</summary>
public sealed class SetupApprovalRow
{
    public int SetupId { get; init; }

    public required string By { get; init; }

    public DateTimeOffset At { get; init; }
}

/// <summary>What of an event one searches by; derived from its record.</summary>
public sealed class EventRow
{
    /// <summary>The record's.</summary>
    public long Id { get; init; }

    public DateOnly Day { get; init; }

    public required string Key { get; init; }

    /// <summary>The number at the end of the key; null where it has none.</summary>
    public long? Number { get; init; }

    public required string Register { get; init; }

    public string? Drawer { get; init; }

    public string? Cashier { get; init; }

    public DateTimeOffset At { get; init; }

    public EventKind Kind { get; init; }

    /// <summary>What it comes to, in minor units.</summary>
    public long? Amount { get; init; }

    /// <summary>The ticket or hold that it refers to.</summary>
    public string? Original { get; init; }
}

/// <summary>What of a tender one searches by; derived.</summary>
public sealed class TenderRow
{
    public const int PlacesOfATicket = 1024;

    /// <summary>The ticket's record times <see cref="PlacesOfATicket"/>, and its place.</summary>
    public long Id { get; init; }

    public required string Type { get; init; }

    public long Amount { get; init; }

    /// <summary>The last four of the card, or of the gift card or account.</summary>
    public string? LastFour { get; init; }

    public string? Approval { get; init; }

    /// <summary>On a check, in small letters.</summary>
    public string? Name { get; init; }

    /// <summary>Of a check.</summary>
    public string? Number { get; init; }
}

/// <summary>What a register identifies itself with over HTTP. The key itself is not kept.</summary>
public sealed class RegisterKeyRow
{
    public Guid Id { get; init; }

    public required string Register { get; init; }

    public required string Hash { get; init; }

    public required string MadeBy { get; init; }

    /// <summary>The second person; null on keys of an older store.</summary>
    public string? Witness { get; init; }

    public DateTimeOffset MadeAt { get; init; }

    public string? RevokedBy { get; set; }

    public DateTimeOffset? RevokedAt { get; set; }
}

/// <summary>A record that waits for a person: a line of a journal that contradicts what is there, or the set-up; or a stored record that no
/// longer reads.</summary>
public sealed class AsideRow
{
    public long Id { get; init; }

    public RecordKind Kind { get; init; } = RecordKind.Event;

    /// <summary>The event that has to come first; when it does, this one is tried again by itself.</summary>
    public string? WaitsFor { get; init; }

    /// <summary>Its line in the file or part that it came in, from 1; 0 where it has none.</summary>
    public int Line { get; init; }

    public required string Register { get; init; }

    public required string Key { get; init; }

    public required string Json { get; init; }

    public required string Why { get; set; }

    /// <summary>Whether the same key is there already with other contents.</summary>
    public bool IsConflict { get; init; }

    public required string From { get; init; }

    public DateTimeOffset At { get; init; }

    public string? Decision { get; set; }

    public string? Reason { get; set; }

    public string? DecidedBy { get; set; }

    public DateTimeOffset? DecidedAt { get; set; }
}

/// <summary>Why some numbers of a register will never come.</summary>
public sealed class GapRow
{
    public int Id { get; init; }

    public required string Register { get; init; }

    public long First { get; init; }

    public long Last { get; init; }

    public required string Reason { get; init; }

    public required string By { get; init; }

    public DateTimeOffset At { get; init; }
}

/// <summary>A count that a person is typing. The only thing of a day that is overwritten; gone once handed in.</summary>
public sealed class CountDraft
{
    public DateOnly Day { get; init; }

    public required string Drawer { get; init; }

    public required string Person { get; init; }

    public required string Json { get; set; }

    public DateTimeOffset SavedAt { get; set; }
}

/// <summary>A resolution. Never changed, never deleted.</summary>
public sealed class EntryRow
{
    public Guid Id { get; init; }

    public DateOnly Day { get; init; }

    public EntryKind Kind { get; init; }

    public required string Reason { get; init; }

    public required string By { get; init; }

    public DateTimeOffset At { get; init; }

    /// <summary>Keys of what it rests on, one a line.</summary>
    public string Evidence { get; init; } = "";

    public Guid? Reverses { get; init; }

    public bool NeedsApproval { get; init; }

    /// <summary>What its kind says besides, as JSON; null where it says nothing more, and on entries made before it was asked
    /// for.</summary>
    public string? Detail { get; init; }

    /// <summary>Entries that were taken as one have the same.</summary>
    public Guid? Together { get; init; }

    public List<PostingRow> Postings { get; init; } = [];

    public ApprovalRow? Approval { get; init; }
}

public sealed class PostingRow
{
    public Guid EntryId { get; init; }

    public int Place { get; init; }

    public string? Register { get; init; }

    public string? Drawer { get; init; }

    public required string Tender { get; init; }

    public Money Amount { get; init; }
}

/// <summary>The second person's word. Never changed, never deleted.</summary>
public sealed class ApprovalRow
{
    public Guid EntryId { get; init; }

    public required string By { get; init; }

    public DateTimeOffset At { get; init; }
}

/// <summary>A reason to close the day over something that is left. Never changed, never deleted.</summary>
public sealed class ExcuseRow
{
    public DateOnly Day { get; init; }

    public GateId Gate { get; init; }

    public required string Item { get; init; }

    /// <summary>What it said of the item when it was excused; over anything else the excuse says nothing.</summary>
    public required string Seen { get; init; }

    public required string Reason { get; init; }

    public required string By { get; init; }

    public DateTimeOffset At { get; init; }
}

/// <summary>A ticket rung after the close of its day, and the closed day on which it was counted: there it stays. Never changed, never
/// deleted.</summary>
public sealed class LateTicketRow
{
    public required string Ticket { get; init; }

    public DateOnly RungOn { get; init; }

    public DateOnly CountsOn { get; init; }
}

/// <summary>A closed day as it was frozen. Never changed, never deleted.</summary>
public sealed class CloseRow
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

/// <summary>The open day on which a correction of an earlier, closed one is posted. Never changed, never deleted.</summary>
public sealed class CorrectionRow
{
    /// <summary>The number of the close that corrects.</summary>
    public int Close { get; init; }

    public DateOnly Day { get; init; }
}

/// <summary>Somebody saw what should be in a drawer before it was counted: a closing count of theirs is not blind. Never changed, never
/// deleted.</summary>
public sealed class SeenRow
{
    public DateOnly Day { get; init; }

    public required string Drawer { get; init; }

    public required string By { get; init; }

    /// <summary>The page that showed it.</summary>
    public required string Where { get; init; }

    public DateTimeOffset At { get; init; }
}
