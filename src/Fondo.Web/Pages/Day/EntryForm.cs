using System.Globalization;
using Fondo.Core.Amounts;
using Fondo.Core.Cells;
using Fondo.Core.Days;
using Fondo.Core.Entries;
using Fondo.Core.Journal;
using Fondo.Core.SetUp;
using Fondo.Files.Text;
using Fondo.Web.Text;

namespace Fondo.Web.Pages.Day;

/// <summary>An entry as it is typed.</summary>
public sealed class EntryForm
{
    private const string LocalTime = "yyyy-MM-dd'T'HH:mm";

    /// <summary>Made with the page: the same form posted twice is one entry.</summary>
    public Guid Id { get; set; }

    /// <summary>What was left of the cell when the page was made, in minor units.</summary>
    public string? Seen { get; set; }

    public EntryKind Kind { get; set; } = EntryKind.Reclassify;

    public string? Amount { get; set; }

    /// <summary>The other cell of a reclassification, as register/drawer/tender.</summary>
    public string? To { get; set; }

    public MovementKind Movement { get; set; } = MovementKind.Drop;

    public string? Bag { get; set; }

    /// <summary>The count that was wrong.</summary>
    public string? Count { get; set; }

    /// <summary>Who watches for what is carried, or sees to what is claimed.</summary>
    public string? Owner { get; set; }

    /// <summary>Until when, in the store's time.</summary>
    public string? Until { get; set; }

    public AwaitedProof Proof { get; set; }

    public ClaimParty Party { get; set; }

    public bool ToStore { get; set; }

    public string? Reason { get; set; }

    public List<string> Evidence { get; set; } = [];

    public static string SeenOf(Bridge bridge) => bridge.Left is { } left ? left.Minor.ToString(CultureInfo.InvariantCulture) : "";

    public Money? SeenLeft =>
        long.TryParse(Seen, NumberStyles.AllowLeadingSign, CultureInfo.InvariantCulture, out var minor) ? new Money(minor) : null;

    public static EntryForm For(Bridge bridge, Setup setup, PersonId me, DateTimeOffset now, CellKey? to) => new()
    {
        Id = Guid.NewGuid(),
        Seen = SeenOf(bridge),
        Kind = bridge.Cell.Key.Drawer is not null && bridge.Cell.Key.OfTender == TenderId.Cash ? EntryKind.Record : EntryKind.Reclassify,
        Amount = bridge.Left is { } left ? Say.Amount(left - bridge.Pending, setup.Currency) : "",
        To = to?.ToString(),
        Owner = me.Value,
        Until = Local(now + setup.Policy.DisputeTime, setup),
        ToStore = bridge.Left is { Sign: < 0 },
    };

    /// <summary>What is proposed, to be changed by hand.</summary>
    public static EntryForm For(Proposal proposal, Bridge bridge, Setup setup, PersonId me, DateTimeOffset now)
    {
        var other = proposal.Postings.Where(p => p.Cell != bridge.Cell.Key).ToList();
        var form = For(bridge, setup, me, now, other is [var one] ? one.Cell : null);
        (form.Kind, form.Amount, form.Reason, form.Evidence) =
            (proposal.Kind, Say.Amount(proposal.Postings[0].Amount, setup.Currency), proposal.Reason, [.. proposal.Evidence]);
        switch (proposal.Detail)
        {
            case EntryDetail.Moved moved:
                (form.Movement, form.Bag) = (moved.What, moved.Bag);
                break;
            case EntryDetail.Recounted recounted:
                form.Count = recounted.Count;
                break;
            case EntryDetail.Awaited awaited:
                (form.Owner, form.Until, form.Proof) = (awaited.Owner.Value, Local(awaited.Deadline, setup), awaited.Proof);
                break;
            case EntryDetail.Owed owed:
                (form.Owner, form.Until, form.Party, form.ToStore) =
                    (owed.Owner.Value, Local(owed.Deadline, setup), owed.Party, owed.IsOwedToStore);
                break;
        }

        return form;
    }

    /// <summary>What this entry would do to the cell; null while the amount cannot be read. An amount without a sign takes the side of what
    /// neither an entry nor one that waits explains.</summary>
    public Money? AmountOn(Bridge bridge, Currency currency)
    {
        if (TypedAmount.Read(Amount, currency) is not { } amount)
        {
            return null;
        }

        var signed = Amount!.TrimStart() is ['+' or '-' or '−', ..];
        var side = bridge.ToExplain is { IsZero: false } rest ? rest : bridge.Left;
        return !signed && side is { Sign: < 0 } ? -amount : amount;
    }

    /// <summary>The field that an objection is about.</summary>
    public string Wrong(Bridge bridge, Setup setup) =>
        AmountOn(bridge, setup.Currency) is null ? nameof(Amount)
        : string.IsNullOrWhiteSpace(Reason) || Reason.Length > 500 ? nameof(Reason)
        : Kind == EntryKind.Reclassify && string.IsNullOrEmpty(To) ? nameof(To)
        : Kind is EntryKind.Carry or EntryKind.Claim && TimeOf(Until, setup) is null ? nameof(Until)
        : nameof(Amount);

    /// <summary>The entry, or the sentence that says what cannot be read.</summary>
    public (Proposal? Entry, string? Objection) Read(Bridge bridge, Setup setup)
    {
        var currency = setup.Currency;
        if (AmountOn(bridge, currency) is not { } amount)
        {
            return (null,
                $"{(Amount?.Length > 20 ? "The amount" : $"“{Amount}”")} is not an amount; type it like {currency.Typed(new(2000))} or "
                    + $"−{currency.Typed(new(2000))}.");
        }

        if (CardNumbers.Contains(Reason))
        {
            Reason = "";
            return (null, "The reason contains a full card number. It was not saved. Type the last four digits at most.");
        }

        List<Posting> postings = [new(bridge.Cell.Key, amount)];
        if (Kind == EntryKind.Reclassify)
        {
            if (CellName.Parse(To)?.Cell is not { } other)
            {
                return (null, "Choose the cell that it belongs to.");
            }

            postings.Add(new(other, -amount));
        }

        if (Kind is EntryKind.Carry or EntryKind.Claim && TimeOf(Until, setup) is null)
        {
            return (null, "Type the deadline as a date and a time.");
        }

        EntryDetail? detail = Kind switch
        {
            EntryKind.Record =>
                new EntryDetail.Moved(Movement, Movement == MovementKind.Drop && !string.IsNullOrWhiteSpace(Bag) ? Short(Bag) : null),
            EntryKind.Recount => string.IsNullOrEmpty(Count) ? null : new EntryDetail.Recounted(Count, []),
            EntryKind.Carry => new EntryDetail.Awaited(new(Owner ?? ""), TimeOf(Until, setup)!.Value, Proof),
            EntryKind.Claim => new EntryDetail.Owed(Party, ToStore, new(Owner ?? ""), TimeOf(Until, setup)!.Value),
            _ => null,
        };
        return (new(Kind, [.. postings], detail, Reason ?? "", [.. Evidence]), null);
    }

    /// <summary>A date and time as a page's field has it, in the store's time; null where it is none.</summary>
    public static DateTimeOffset? TimeOf(string? text, Setup setup) =>
        DateTime.TryParseExact(text?.Length > 16 ? text[..16] : text, LocalTime, CultureInfo.InvariantCulture, DateTimeStyles.None,
            out var local) && local.Year is > 1900 and < 2500
            ? new DateTimeOffset(local, setup.TimeZone.GetUtcOffset(local)) : null;

    public static string Local(DateTimeOffset at, Setup setup) =>
        TimeZoneInfo.ConvertTime(at, setup.TimeZone).ToString(LocalTime, CultureInfo.InvariantCulture);

    private static string Short(string text) => text.Trim() is var trimmed && trimmed.Length > 40 ? trimmed[..40] : trimmed;
}
