using System.Globalization;
using Fondo.Core.Amounts;
using Fondo.Core.Days;
using Fondo.Core.Journal;
using Fondo.Store.Days;

namespace Fondo.Web.Hosting;

/// <summary>What the journal has for a terminal, beside what the terminal says of its running batch.</summary>
/// <param name="Says">In words; what it said, or that it does not answer.</param>
public sealed record TerminalLine(string Terminal, int Number, Money Journal, string Says, bool Agrees);

/// <summary>Asks the terminals that can be asked what they hold, long before they settle.</summary>
public sealed class TerminalReadings(IHttpClientFactory clients, RunOptions options)
{
    private sealed record Running(int Count, string Amount);

    /// <summary>Grows as time goes by, so that a page that watches asks again.</summary>
    public long Version => options.Terminals is null ? 0 : DateTime.UtcNow.Ticks / TimeSpan.FromSeconds(20).Ticks;

    public async Task<IReadOnlyList<TerminalLine>> Of(DayView view, CancellationToken cancel)
    {
        if (options.Terminals is not { } address)
        {
            return [];
        }

        var standing = new Standing(view.Day);
        var taken = Standing.Tenders(view.Day, standing).Where(t => t.Tender.Card?.Terminal is { } terminal && !view.Reconciliation.SettledTerminals.Contains(terminal)).ToLookup(t => t.Tender.Card!.Terminal!.Value);
        var lines = new List<TerminalLine>();
        foreach (var terminal in taken.OrderBy(t => t.Key.Value, StringComparer.Ordinal))
        {
            var (number, amount) = (terminal.Count(), terminal.Sum(t => t.Tender.Amount));
            lines.Add(await Ask(address, terminal.Key, number, amount, view.Setup.Currency, cancel));
        }

        return lines;
    }

    private async Task<TerminalLine> Ask(Uri address, TerminalId terminal, int number, Money amount, Currency currency, CancellationToken cancel)
    {
        try
        {
            using var client = clients.CreateClient();
            client.Timeout = TimeSpan.FromSeconds(2);
            var running = await client.GetFromJsonAsync<Running>(new Uri(address, $"terminals/{terminal}/running"), cancel);
            var agrees = running!.Count == number && running.Amount == currency.Format(amount);
            return new(terminal.Value, number, amount, string.Create(CultureInfo.InvariantCulture, $"{running.Count} · {running.Amount}"), agrees);
        }
        catch (Exception e) when (e is HttpRequestException or TaskCanceledException or System.Text.Json.JsonException)
        {
            return new(terminal.Value, number, amount, "does not answer", true);
        }
    }
}
