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
using Fondo.Core.SetUp;
using Fondo.Core.Sheets;

namespace Fondo.Files.Reading;

/// <summary>The kinds of record that come in, each with its natural key.</summary>
public enum RecordKind
{
    Setup,
    Event,
    Row,
    Total,
    Ledger,
    Count,
    Carried,
}

/// <summary>One record as it came in, as JSON text: unknown columns and members included.</summary>
/// <param name="Key">Natural key within its kind.</param>
/// <param name="Event">What an event says; null for the other kinds, and where nobody asked.</param>
public sealed record RawRecord(RecordKind Kind, string Key, string Json, JournalEvent? Event = null);

/// <summary>What reading came to: the day, or why there is none.</summary>
/// <param name="Remarks">Worth knowing, and no reason to refuse: people whom day.json does not name.</param>
public sealed record DayReading(Day? Day, IReadOnlyList<Text.Finding> Findings, IReadOnlyList<Text.Finding> Remarks);
