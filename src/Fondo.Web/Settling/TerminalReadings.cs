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
/// <param name="IsAwaited">It was asked and is still answering.</param>
public sealed record TerminalReading(TerminalPlace Place, TerminalComparison Comparison, IReadOnlyList<BatchRow> Held, string? Objection,
    bool IsAwaited = false)
{
    public TerminalId Terminal => Place.Terminal;

    /// <summary>Known to agree, in number and amount, brand by brand.</summary>
    public bool Agrees => Objection is null && !IsAwaited && Comparison.Agrees;
}

/// <summary>Asks the connected terminals what they hold, before anything is settled.</summary>
public sealed class TerminalReadings(ProcessorLink processor, TerminalAsks asks)
{
    /// <summary>All terminals of the day, in the order of the set-up; connected ones are asked, side by side, and not waited for longer
    /// than a page waits.</summary>
    /// <param name="since">Answers to questions since then are good enough; null: all are asked anew.</param>
    public async Task<IReadOnlyList<TerminalReading>> Of(DayView view, DateTimeOffset? since = null)
    {
        var places = view.Setup.Terminals.GroupBy(t => t.Terminal).Select(g => g.Last());
        var waiting = view.Known.Unsettled;
        return await Task.WhenAll(places.Select(p => Of(view, p, waiting[p.Terminal], since)));
    }

    private async Task<TerminalReading> Of(DayView view, TerminalPlace place, IEnumerable<TakenTender> waiting, DateTimeOffset? since)
    {
        if (!place.IsConnected || !processor.IsThere)
        {
            return new(place, TerminalComparison.Of(place.Terminal, waiting, []), [], null);
        }

        if (await asks.Of(place.Terminal.Value, since) is not { } answer)
        {
            return new(place, TerminalComparison.Of(place.Terminal, waiting, []), [], null, IsAwaited: true);
        }

        var (held, objection) = Read(place.Terminal.Value, answer, view.Setup);
        return new(place, TerminalComparison.Of(place.Terminal, waiting, held), held, objection);
    }

    /// <summary>The rows of an answer; or why there are none, in words.</summary>
    internal static (IReadOnlyList<BatchRow> Rows, string? Objection) Read(string terminal, Answer<WireRunning> answer, Setup setup)
    {
        if (answer.How != Answered.Yes)
        {
            return ([], answer.Says.Length > 0 ? answer.Says : "The processor does not know this terminal.");
        }

        var (rows, findings) = BatchRows.Read(WireFiles.Rows(terminal, IfSettled.HeldBatch, answer.Value!.Rows), setup);
        return findings.Count > 0 ? ([], $"Its answer is unreadable: {findings[0].Message}.") : (rows, null);
    }
}
