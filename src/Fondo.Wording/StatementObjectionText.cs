using System.Globalization;
using Fondo.Core.Banking;

namespace Fondo.Wording;

/// <summary>What is wrong with a statement of the bank.</summary>
public static class StatementObjectionText
{
    public static string Says(this StatementObjection objection, Currency currency) => objection switch
    {
        StatementObjection.OtherCurrency o => $"This statement is in {o.Statement}, but the store’s books are in {o.Store}.",
        StatementObjection.OtherAccount o => $"This statement is of account {o.Statement}; the store’s "
            + $"{(o.Store.Length == 1 ? "account is" : "accounts are")} {string.Join(" and ", o.Store)}.",
        StatementObjection.EndsBeforeItStarts o => $"This statement ends on {Date(o.To)}, before it starts on {Date(o.From)}.",
        StatementObjection.DoesNotAddUp o =>
            $"This statement does not add up: it opens with {currency.Say(o.Opening)}, its {o.Lines} lines come to "
                + $"{currency.Say(o.LinesSum)}, and it closes with {currency.Say(o.Closing)} instead of {currency.Say(o.Sum)}.",
        _ => throw new ArgumentOutOfRangeException(nameof(objection)),
    };

    private static string Date(DateOnly date) => date.ToString("d MMM yyyy", CultureInfo.InvariantCulture);
}
