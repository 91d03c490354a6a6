using Fondo.Core.Journal;

namespace Fondo.Core.Checks;

/// <summary>Something wrong with one ticket (rules §2).</summary>
/// <param name="Code">What it is.</param>
/// <param name="Amount">Signed as in the journal: refunds negative. For fees and discounts that are missing or wrong: due less
/// recorded.</param>
public readonly record struct TicketFinding(EventId Ticket, FindingCode Code, Money Amount);
