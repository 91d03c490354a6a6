using Fondo.Core.Amounts;
using Fondo.Core.Cash;
using Fondo.Core.Cells;
using Fondo.Core.Checks;
using Fondo.Core.Closing;
using Fondo.Core.Days;
using Fondo.Core.Entries;
using Fondo.Core.Journal;
using Fondo.Core.Leads;
using Fondo.Core.Matching;
using Fondo.Core.Proof;
using Fondo.Core.Reconciling;
using Fondo.Core.Sheets;

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
