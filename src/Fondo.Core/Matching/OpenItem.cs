using Fondo.Core.Amounts;
using Fondo.Core.Cash;
using Fondo.Core.Cells;
using Fondo.Core.Checks;
using Fondo.Core.Closing;
using Fondo.Core.Days;
using Fondo.Core.Entries;
using Fondo.Core.Journal;
using Fondo.Core.Leads;
using Fondo.Core.Proof;
using Fondo.Core.Reconciling;
using Fondo.Core.SetUp;
using Fondo.Core.Sheets;

namespace Fondo.Core.Matching;

/// <summary>Where an open item stands.</summary>
public enum OpenIn
{
    Journal,
    Batch,
}

/// <summary>A tender that was not found settled, or a settled row that no tender explains.</summary>
public sealed record OpenItem(OpenIn Side, Item Item, Cause Cause)
{
    /// <summary>What it does to its cell: a row is over, a tender short.</summary>
    public Money Effect => Side == OpenIn.Batch ? Item.Amount : -Item.Amount;
}
