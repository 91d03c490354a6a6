namespace Fondo.Files;

/// <summary>The files of a day folder (docs/formats.md), in the order in which they are read.</summary>
public static class DayFiles
{
    public const string Setup = "day.json", Journal = "journal.jsonl", Rows = "batches.csv", Totals = "batch-totals.csv",
        Ledger = "ledger.csv", Counts = "counts.json", Carried = "carried.json", Printed = "printed-totals.csv";

    public static readonly ImmutableArray<string> All = [Setup, Journal, Rows, Totals, Ledger, Counts, Carried, Printed];
}
