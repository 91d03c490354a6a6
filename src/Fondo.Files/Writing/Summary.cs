using System.Globalization;
using Fondo.Core.Matching;

namespace Fondo.Files.Writing;

/// <summary>The summary of a reconciliation that a person reads in half a minute: what is off first.</summary>
public static class Summary
{
    private const int MostRows = 40;

    public static void Write(Reconciliation result, TextWriter to)
    {
        var setup = result.Day.Setup;
        string Amount(Money? m) => m is { } value ? setup.Currency.Format(value) : "-";
        var by = result.Cells.ToLookup(c => c.State);
        to.WriteLine($"{setup.Store}, trading day {setup.TradingDay}");
        to.WriteLine(string.Create(CultureInfo.InvariantCulture,
            $"{by[CellState.Off].Count()} cells off, {by[CellState.Waiting].Count()} waiting, {by[CellState.Proved].Count()} proved, {by[CellState.JournalOnly].Count()} without books; {result.OpenItems.Length} open items, {result.Matches.Length} matches"));
        var shown = result.Cells.Where(c => c.State is CellState.Off or CellState.Waiting)
            .OrderBy(c => c.State == CellState.Off ? 0 : 1).ThenByDescending(c => c.Variance?.Abs() ?? Money.Zero).ThenBy(c => c.Key).ToList();
        if (shown.Count > 0)
        {
            to.WriteLine();
            to.WriteLine($"{"register",-18} {"drawer",-8} {"tender",-14} {"expected",14} {"proof",14} {"variance",12} {"number",11}  state");
            foreach (var cell in shown.Take(MostRows))
            {
                to.WriteLine($"{Cut(setup.NameOf(cell.Key.Register), 18),-18} {cell.Key.Drawer?.Value ?? "",-8} {Cut(setup.NameOf(cell.Key.Tender), 14),-14} "
                    + $"{Amount(cell.Expected),14} {Amount(cell.Proof),14} {Amount(cell.Variance),12} {Number(cell),11}  {ResultWriter.StateName(cell.State)}");
            }

            More(to, shown.Count, "cells");
        }

        foreach (var batch in result.BatchDifferences)
        {
            to.WriteLine($"batch {batch.Key} is incomplete: the host says {batch.Total.SalesCount + batch.Total.RefundsCount} for {Amount(batch.Total.SalesAmount - batch.Total.RefundsAmount)}, the rows say {batch.SalesCount + batch.RefundsCount} for {Amount(batch.SalesAmount - batch.RefundsAmount)}");
        }

        if (result.OpenItems.Length > 0)
        {
            to.WriteLine();
            to.WriteLine($"{"open",-8} {"key",-24} {"amount",12}  cause");
            foreach (var open in result.OpenItems.OrderByDescending(o => o.Item.Amount.Abs()).ThenBy(o => o.Item.Key, StringComparer.Ordinal).Take(MostRows))
            {
                to.WriteLine($"{(open.Side == Side.Batch ? "batch" : "journal"),-8} {open.Item.Key,-24} {Amount(open.Item.Amount),12}  {open.Cause}{(open.Item.CarriedFrom is { } day ? $" (carried from {day})" : "")}");
            }

            More(to, result.OpenItems.Length, "open items");
        }
    }

    private static string Number(Cell cell) => cell.ProofCount is { } proof && proof != cell.ExpectedCount ? $"{cell.ExpectedCount} / {proof}" : "";

    private static string Cut(string text, int length) => text.Length <= length ? text : text[..(length - 1)] + "…";

    private static void More(TextWriter to, int count, string what)
    {
        if (count > MostRows)
        {
            to.WriteLine($"… and {count - MostRows} more {what}");
        }
    }
}
