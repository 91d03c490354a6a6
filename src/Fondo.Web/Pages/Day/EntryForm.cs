using Fondo.Core.Amounts;
using Fondo.Core.Cells;
using Fondo.Core.Days;
using Fondo.Core.Entries;
using Fondo.Core.Journal;
using Fondo.Core.Leads;
using Fondo.Files.Text;
using Fondo.Store.Days;
using Fondo.Web.Text;

namespace Fondo.Web.Pages.Day;

/// <summary>An entry as it is typed.</summary>
public sealed class EntryForm
{
    /// <summary>Made with the page: the same form posted twice is one entry.</summary>
    public Guid Id { get; set; }

    public EntryKind Kind { get; set; } = EntryKind.Reclassify;

    public string? Amount { get; set; }

    /// <summary>The other cell of a reclassification, as register/drawer/tender.</summary>
    public string? To { get; set; }

    public string? Reason { get; set; }

    public List<string> Evidence { get; set; } = [];

    public static EntryForm For(Bridge bridge, Currency currency, CellKey? to) => new()
    {
        Id = Guid.NewGuid(),
        Kind = bridge.Cell.Key.Drawer is not null && bridge.Cell.Key.Tender == TenderId.Cash ? EntryKind.Record : EntryKind.Reclassify,
        Amount = bridge.Left is { } left ? Say.Amount(left - bridge.Pending, currency) : "",
        To = to?.ToString(),
    };

    /// <summary>The entry that a lead proposes: a reclassification where it moves money to one other cell, else a record.</summary>
    public static EntryForm For(Lead lead, Currency currency)
    {
        var other = lead.Entry.Where(p => p.Cell != lead.Cell).ToList();
        var moves = other is [var one] && one.Amount == -lead.Explains;
        return new()
        {
            Id = Guid.NewGuid(),
            Kind = moves ? EntryKind.Reclassify : EntryKind.Record,
            Amount = Say.Amount(lead.Explains, currency),
            To = moves ? other[0].Cell.ToString() : null,
            Reason = lead.Says,
            Evidence = [.. lead.Keys],
        };
    }

    /// <summary>What this entry would do to the cell; null while the amount cannot be read. An amount without a sign takes that of what is left.</summary>
    public Money? AmountOn(Bridge bridge, Currency currency)
    {
        if (TypedAmount.Read(Amount, currency) is not { } amount)
        {
            return null;
        }

        var signed = Amount!.TrimStart() is ['+' or '-' or '−', ..];
        return !signed && bridge.Left is { Sign: < 0 } ? -amount : amount;
    }

    /// <summary>The field that an objection is about.</summary>
    public string Wrong(Bridge bridge, Currency currency) =>
        AmountOn(bridge, currency) is null ? nameof(Amount) : string.IsNullOrWhiteSpace(Reason) || Reason.Length > 500 ? nameof(Reason) : Kind == EntryKind.Reclassify && string.IsNullOrEmpty(To) ? nameof(To) : nameof(Amount);

    /// <summary>The entry, or the sentence that says what cannot be read.</summary>
    public (ProposedEntry? Entry, string? Objection) Read(Bridge bridge, Currency currency)
    {
        if (AmountOn(bridge, currency) is not { } amount)
        {
            return (null, $"{(Amount?.Length > 20 ? "The amount" : $"“{Amount}”")} is not an amount; type it like {currency.Format(new(2000))} or −{currency.Format(new(2000))}.");
        }

        if (CardNumbers.Contains(Reason))
        {
            Reason = "";
            return (null, "The reason holds a full card number. It was not saved; write the last four digits at most.");
        }

        if (Reason?.Length > 500)
        {
            return (null, "The reason is longer than 500 characters.");
        }

        List<Posting> postings = [new(bridge.Cell.Key, amount)];
        if (Kind == EntryKind.Reclassify)
        {
            if (To?.Split('/') is not [var register, var drawer, var tender])
            {
                return (null, "Choose the cell that it belongs to.");
            }

            postings.Add(new(new(register == "-" ? null : new RegisterId(register), drawer == "-" ? null : new DrawerId(drawer), new(tender)), -amount));
        }

        return (new(Id, Kind, postings, Reason ?? "", Evidence), null);
    }
}
