using System.Globalization;
using Fondo.Core.Cells;
using Fondo.Core.Reconciling;

namespace Fondo.Files.Writing;

/// <summary>The summary of a reconciliation that a person reads in half a minute: what is off first.</summary>
public sealed class Summary
{
    private const int MostRows = 20;

    private readonly Reconciliation _result;
    private readonly TextWriter _to;

    private Summary(Reconciliation result, TextWriter to) => (_result, _to) = (result, to);

    public static void Write(Reconciliation result, TextWriter to)
    {
        var summary = new Summary(result, to);
        summary.Headline();
        summary.Cells();
        summary.Batches();
        summary.OpenItems();
        summary.Checks();
        summary.Tenders();
    }

    private Setup Setup => _result.Day.Setup;

    private void Headline()
    {
        var by = _result.Cells.CountBy(c => c.State).ToDictionary();
        int Count(CellState state) => by.GetValueOrDefault(state);
        _to.WriteLine($"{Setup.Store}, trading day {Setup.TradingDay}");
        _to.WriteLine(string.Create(CultureInfo.InvariantCulture,
            $"{Number(Count(CellState.Off), "cell")} off, {Count(CellState.Waiting)} waiting, {Count(CellState.Proved)} proved, "
                + $"{Count(CellState.JournalOnly)} without books; {Number(_result.OpenItems.Length, "open item")}, "
                + $"{Number(_result.TicketFindings.Length, "ticket finding")}, {Number(_result.Matches.Length, "match", "matches")}"));
    }

    private void Cells()
    {
        var shown = _result.Cells.Where(c => c.State is CellState.Off or CellState.Waiting)
            .OrderBy(c => c.State == CellState.Off ? 0 : 1).ThenByDescending(c => c.Variance?.Abs() ?? Money.Zero).ThenBy(c => c.Key)
            .ToList();
        Table(shown, "cells",
            $"{"register",-18} {"drawer",-8} {"tender",-14} {"expected",14} {"proof",14} {"variance",12} {"number",11}  state", cell =>
            $"{Cut(Setup.NameOf(cell.Key.Register), 18),-18} {Cut(cell.Key.Drawer?.Value ?? "", 8),-8} "
                + $"{Cut(Setup.NameOf(cell.Key.OfTender), 14),-14} {Amount(cell.Expected),14} {Amount(cell.Proof),14} "
                + $"{Amount(cell.Variance),12} {Numbers(cell),11}  {cell.State.Written()}");
    }

    private void Batches()
    {
        foreach (var batch in _result.BatchDifferences)
        {
            _to.WriteLine(
                $"batch {batch.Key} is incomplete: the host says {batch.Total.SalesCount + batch.Total.RefundsCount} for "
                    + $"{Amount(batch.Total.SalesAmount - batch.Total.RefundsAmount)}, the rows say "
                    + $"{batch.SalesCount + batch.RefundsCount} for {Amount(batch.SalesAmount - batch.RefundsAmount)}");
        }
    }

    private void OpenItems()
    {
        var shown = _result.OpenItems.OrderBy(o => o.Item.CarriedFrom is null ? 0 : 1).ThenByDescending(o => o.Item.Amount.Abs())
            .ThenBy(o => o.Item.Key, StringComparer.Ordinal).ToList();
        Table(shown, "open items", $"{"open in",-8} {"key",-26} {"amount",12}  cause", open =>
            $"{open.Side.Written(),-8} {Cut(open.Item.Key, 26),-26} {Amount(open.Item.Amount),12}  "
                + $"{open.Cause.Written()}{(open.Item.CarriedFrom is { } day ? $" (carried from {day})" : "")}");
    }

    private void Checks()
    {
        var shown = _result.TicketFindings.OrderByDescending(f => f.Amount.Abs()).ThenBy(f => f.Ticket.Value, StringComparer.Ordinal)
            .ToList();
        Table(shown, "ticket findings", $"{"ticket",-18} {"finding",-24} {"amount",12}",
            f => $"{Cut(f.Ticket.Value, 18),-18} {f.Code.Written(),-24} {Amount(f.Amount),12}");
    }

    private void Tenders()
    {
        var order = Setup.Tenders.Select((t, i) => (t.Id, i)).ToDictionary(t => t.Id, t => t.i);
        var tenders = _result.Cells.GroupBy(c => c.Key.OfTender!.Value).OrderBy(g => order[g.Key]).ToList();
        Table(tenders, "tenders", $"{"tender",-14} {"expected",14} {"proof",14} {"variance",12}", g =>
            $"{Cut(Setup.NameOf(g.Key), 14),-14} {Amount(g.Sum(c => c.Expected)),14} "
                + $"{Amount(g.All(c => c.Proof is null) ? null : g.Sum(c => c.Proof ?? Money.Zero)),14} "
                + $"{Amount(g.All(c => c.Proof is null) ? null : g.Sum(c => c.Variance ?? Money.Zero)),12}");
    }

    private void Table<T>(List<T> items, string what, string header, Func<T, string> line)
    {
        if (items.Count == 0)
        {
            return;
        }

        _to.WriteLine();
        _to.WriteLine(header.TrimEnd());
        foreach (var item in items.Take(MostRows))
        {
            _to.WriteLine(line(item).TrimEnd());
        }

        if (items.Count > MostRows)
        {
            _to.WriteLine($"… and {(items.Count - MostRows).ToString(CultureInfo.InvariantCulture)} more {what}");
        }
    }

    private string Amount(Money? amount) => amount is { } value ? Setup.Currency.Format(value) : "-";

    private static string Numbers(Cell cell) =>
        cell.ProofCount is { } proof && proof != cell.ExpectedCount ? $"{cell.ExpectedCount} / {proof}" : "";

    private static string Number(int number, string one, string? many = null) =>
        string.Create(CultureInfo.InvariantCulture, $"{number} {(number == 1 ? one : many ?? one + "s")}");

    private static string Cut(string text, int length) => text.Length <= length ? text : text[..(length - 1)] + "…";
}
