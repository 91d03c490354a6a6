using System.Text;
using Fondo.Core.Journal;
using Fondo.Core.SetUp;

namespace Fondo.Web.Text;

/// <summary>A receipt as plain text.</summary>
internal static class ReceiptText
{
    private const int Width = 42;

    public static string Of(JournalEvent e, Setup setup)
    {
        var text = new StringBuilder();
        text.AppendLine(setup.Store).AppendLine($"{setup.NameOf(e.Register)}, {e.At:yyyy-MM-dd HH:mm}")
            .AppendLine($"{Say.Event(e.Kind)} {e.Id}").AppendLine();
        void Line(string what, Core.Amounts.Money amount)
        {
            var figure = setup.Currency.Typed(amount);
            var room = Width - figure.Length - 1;
            text.AppendLine($"{(what.Length > room ? what[..room] : what).PadRight(room)} {figure}");
        }

        if (e is not Ticket ticket)
        {
            Line(Say.Event(e.Kind), EventAmount.Of(e) ?? Core.Amounts.Money.Zero);
            return text.ToString();
        }

        foreach (var line in ticket.Lines)
        {
            Line(line.Quantity == 1 ? line.Article.Name : $"{line.Article.Name} x {line.Quantity}", line.Amount);
        }

        text.AppendLine(new string('-', Width));
        Line("Subtotal", ticket.Subtotal);
        foreach (var (what, amount) in new[]
        {
            ("Discount", -ticket.Discount),
            ("Tax", ticket.Tax),
            ("Card fee", ticket.Fee),
            ("Rounding", ticket.Rounding)
        }.Where(l => !l.Item2.IsZero))
        {
            Line(what, amount);
        }

        Line("Total", ticket.Total);
        text.AppendLine();
        foreach (var tender in ticket.Tenders)
        {
            Line($"{setup.NameOf(tender.Type)} {SlipOf(tender)}", tender.Amount);
            if (!tender.Change.IsZero)
            {
                Line("Change", -tender.Change);
            }
        }

        return text.ToString();
    }

    /// <summary>What a card, check or account left on the tender; of a card never more than the last four.</summary>
    public static string SlipOf(Tender tender)
    {
        List<string?> parts =
        [
            tender.Card?.Brand,
            tender.Card?.LastFour is { } last ? $"…{last}" : null,
            tender.Card?.Approval is { } approval ? $"approval {approval}" : null,
            tender.Reference is { } reference ? $"…{reference}" : null, tender.Number is { } number ? $"no. {number}" : null, tender.Name,
            tender.Tip.IsZero ? null : "tip included",
            tender.Cashback.IsZero ? null : "cash back included",
            tender.Counts ? null : tender.Result.ToString().ToLowerInvariant(),
        ];
        return string.Join(" ", parts.Where(p => p is not null));
    }
}
