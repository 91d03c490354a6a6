namespace Fondo.Core.Checks;

/// <summary>One family of ticket checks: a pure function of the day's tickets.</summary>
public interface ITicketCheck
{
    /// <summary>Adds what it finds; the order has no meaning.</summary>
    void Find(TicketBook book, List<TicketFinding> found);
}
