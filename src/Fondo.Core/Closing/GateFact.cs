using Fondo.Core.Checks;
using Fondo.Core.Entries;
using Fondo.Core.Journal;
using Fondo.Core.SetUp;

namespace Fondo.Core.Closing;

/// <summary>The last batch of a terminal that holds cards.</summary>
public enum LastBatch
{
    None,

    /// <summary>With cards of an earlier day alone.</summary>
    Earlier,

    /// <summary>With cards of today, taken before the ones that are held.</summary>
    Today,
}

/// <summary>What is so with something that a gate waits for.</summary>
public abstract record GateFact
{
    private GateFact()
    {
    }

    public sealed record DrawerOpen(RegisterId Register, DrawerId Drawer) : GateFact;

    public sealed record DrawerNotCounted(RegisterId Register, DrawerId Drawer) : GateFact;

    public sealed record OnHold(RegisterId Register, Money Total) : GateFact;

    public sealed record BatchIncomplete(BatchTotalDifference Difference) : GateFact;

    /// <param name="Number">How many cards no batch has, for <paramref name="Amount"/> in all.</param>
    /// <param name="Last">The batch that came and does not have them.</param>
    public sealed record CardsUnsettled(TerminalId Terminal, int Number, Money Amount, LastBatch Last) : GateFact;

    public sealed record CellUnresolved(Bridge Bridge) : GateFact;

    /// <param name="Register">Null where the ticket is not in the journal.</param>
    public sealed record FindingUnseen(RegisterId? Register, TicketFinding Finding) : GateFact;

    public sealed record ApprovalWaits(Entry Entry) : GateFact;

    public sealed record SafeNotCounted : GateFact;

    public sealed record SafeCountedAlone(PersonId? By) : GateFact;

    public sealed record DayOpen(TradingDay Day) : GateFact;

    public sealed record CarriedUnowned(Money Amount, TradingDay From) : GateFact;
}
