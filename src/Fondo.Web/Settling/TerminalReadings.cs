using Fondo.Core.Days;
using Fondo.Core.Evidence;
using Fondo.Core.Journal;
using Fondo.Core.Proof;
using Fondo.Core.SetUp;
using Fondo.Core.Sheets;
using Fondo.Files.Reading;
using Fondo.Store.Days;

namespace Fondo.Web.Settling;

/// <summary>What a terminal holds beside what the journal has of it and no row proves yet.</summary>
/// <param name="Held">The rows that it holds; empty where it does not say.</param>
/// <param name="Objection">Why it does not say, in words; null where it does.</param>
public sealed record TerminalReading(TerminalPlace Place, TerminalComparison Comparison, IReadOnlyList<BatchRow> Held, string? Objection)
{
    public TerminalId Terminal => Place.Terminal;

    /// <summary>Known to agree, in number and amount, brand by brand.</summary>
    public bool Agrees => Objection is null && Comparison.Agrees;
}

/// <summary>Asks the connected terminals what they hold, before anything is settled.</summary>
public sealed class TerminalReadings(ProcessorLink processor)
{
    /// <summary>All terminals of the day, in the order of the set-up; connected ones are asked, side by side.</summary>
    public async Task<IReadOnlyList<TerminalReading>> Of(DayView view, CancellationToken cancel)
    {
        var places = view.Setup.Terminals.GroupBy(t => t.Terminal).Select(g => g.Last());
        var waiting = view.Known.Unsettled;
        return await Task.WhenAll(places.Select(p => Of(view, p, waiting[p.Terminal], cancel)));
    }

    private async Task<TerminalReading> Of(DayView view, TerminalPlace place, IEnumerable<TakenTender> waiting, CancellationToken cancel)
    {
        var (held, objection) = ((IReadOnlyList<BatchRow>)[], (string?)null);
        if (place.IsConnected && processor.IsThere)
        {
            var answer = await processor.Running(place.Terminal.Value, cancel);
            (held, objection) = answer.How == Answered.Yes
                ? Rows(place.Terminal.Value, answer.Value!, view.Setup)
                : ([], answer.Says.Length > 0 ? answer.Says : "The processor does not know this terminal.");
        }

        return new(place, TerminalComparison.Of(place.Terminal, waiting, held), held, objection);
    }

    private static (IReadOnlyList<BatchRow>, string?) Rows(string terminal, WireRunning running, Setup setup)
    {
        var (rows, findings) = BatchRows.Read(WireFiles.Rows(terminal, IfSettled.HeldBatch, running.Rows), setup);
        return findings.Count > 0 ? ([], $"Its answer is unreadable: {findings[0].Message}.") : (rows, null);
    }
}
