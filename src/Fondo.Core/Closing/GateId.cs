namespace Fondo.Core.Closing;

/// <summary>The gates of a day, in their order (rules §12).</summary>
public enum GateId
{
    Sessions,
    Counts,
    Holds,
    Batches,
    Cells,
    Checks,
    Approvals,
    Safe,
    Carried,
    DayBefore,
}
