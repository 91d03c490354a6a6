using System.Globalization;
using Fondo.Core.Amounts;
using Fondo.Core.Days;
using Fondo.Core.Journal;
using Fondo.Store.Days;

namespace Fondo.Web.Hosting;

/// <summary>What the journal has for a terminal, beside what the terminal says of its running batch.</summary>
/// <param name="Says">In words; what it said, or that it does not answer.</param>
public sealed record TerminalLine(string Terminal, int Number, Money Journal, string Says, bool Agrees);

/// <summary>Asks the stand-in terminals what they hold, long before they settle.</summary>
public sealed class TerminalReadings(StandInHost standIns)
{
    private static readonly TimeSpan _patience = TimeSpan.FromSeconds(2);

    private sealed record Running(int Count, string Amount);

    public async Task<IReadOnlyList<TerminalLine>> Of(DayView view, CancellationToken cancel)
    {
        if (!standIns.IsThere)
        {
            return [];
        }

        var standing = new Standing(view.Day);
        var taken = Standing.Tenders(view.Day, standing).Where(t => t.Tender.Card?.Terminal is { } terminal && !view.Overview.SettledTerminals.Contains(terminal)).ToLookup(t => t.Tender.Card!.Terminal!.Value);
        return await Task.WhenAll(taken.OrderBy(t => t.Key.Value, StringComparer.Ordinal)
            .Select(t => Ask(t.Key, t.Count(), t.Sum(x => x.Tender.Amount), view.Setup.Currency, cancel)));
    }

    private async Task<TerminalLine> Ask(TerminalId terminal, int number, Money amount, Currency currency, CancellationToken cancel)
    {
        try
        {
            using var client = standIns.Reach();
            client.Timeout = _patience;
            using var answer = await client.GetAsync($"stand-ins/terminals/{terminal}/running", cancel);
            if (!answer.IsSuccessStatusCode)
            {
                return new(terminal.Value, number, amount, "does not say", true);
            }

            var running = await answer.Content.ReadFromJsonAsync<Running>(cancel);
            var agrees = running!.Count == number && running.Amount == currency.Format(amount);
            return new(terminal.Value, number, amount, string.Create(CultureInfo.InvariantCulture, $"{running.Count} · {running.Amount}"), agrees);
        }
        catch (Exception e) when (e is HttpRequestException or TaskCanceledException or System.Text.Json.JsonException)
        {
            return new(terminal.Value, number, amount, "does not answer", true);
        }
    }
}
