using Fondo.Core.Journal;

namespace Fondo.Core.SetUp;

public enum Role
{
    Cashier,
    Supervisor,
    Manager,

    /// <summary>Reads only.</summary>
    Auditor,
}

public sealed record Person(PersonId Id, string Name, Role Role)
{
    /// <summary>The registers that the person may open; empty: all of them.</summary>
    public ImmutableArray<RegisterId> Registers { get; init; } = [];

    public bool MayOpen(RegisterId register) => Registers.IsEmpty || Registers.Contains(register);
}
