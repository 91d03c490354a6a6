namespace Fondo.Core.Journal;

public enum TenderResult
{
    Approved,
    Declined,

    /// <summary>Approved, then taken back because a later card on the ticket failed.</summary>
    Reversed,
}

/// <summary>One tender of a ticket, in the order taken. Only approved tenders count.</summary>
/// <param name="Amount">What was handed over or charged, all in: tip, cash back and fee are included.</param>
/// <param name="Change">Cash given back out of this tender.</param>
/// <param name="Card">For batch-proved tenders, what the terminal said.</param>
/// <param name="Number">Check number.</param>
/// <param name="Name">Name on the check.</param>
/// <param name="Reference">Last four of a gift card, store credit or account.</param>
/// <remarks>What most tenders do not have lies apart (<see cref="Seldom"/>), as with tickets.</remarks>
public sealed record Tender(
    TenderId Type,
    Money Amount,
    Money Change,
    Money Tip,
    Money Cashback,
    Money Fee,
    CardSlip? Card,
    TenderResult Result,
    string? Number,
    string? Name,
    string? Reference)
{
    private readonly Seldom? _seldom = Seldom.Of(Tip, Cashback, Fee, Result, Number, Name, Reference);

    public Money Tip
    {
        get => _seldom?.Tip ?? Money.Zero; init =>
        _seldom = Seldom.Of(value, Cashback, Fee, Result, Number, Name, Reference);
    }

    public Money Cashback
    {
        get => _seldom?.Cashback ?? Money.Zero; init =>
        _seldom = Seldom.Of(Tip, value, Fee, Result, Number, Name, Reference);
    }

    public Money Fee
    {
        get => _seldom?.Fee ?? Money.Zero; init =>
        _seldom = Seldom.Of(Tip, Cashback, value, Result, Number, Name, Reference);
    }

    public TenderResult Result
    {
        get => _seldom?.Result ?? TenderResult.Approved; init =>
        _seldom = Seldom.Of(Tip, Cashback, Fee, value, Number, Name, Reference);
    }

    public string? Number { get => _seldom?.Number; init => _seldom = Seldom.Of(Tip, Cashback, Fee, Result, value, Name, Reference); }

    public string? Name { get => _seldom?.Name; init => _seldom = Seldom.Of(Tip, Cashback, Fee, Result, Number, value, Reference); }

    public string? Reference { get => _seldom?.Reference; init => _seldom = Seldom.Of(Tip, Cashback, Fee, Result, Number, Name, value); }

    public bool Counts => Result == TenderResult.Approved;

    /// <summary>What should be there of it (rules §1): of cash, what was handed over less the change; of any other tender all of it,
    /// whatever change was wrongly given.</summary>
    public Money Expected => Type == TenderId.Cash ? Amount - Change : Amount;

    /// <summary>What it pays of its ticket's total: without change, cash back and tip.</summary>
    public Money Net => Amount - Change - Cashback - Tip;

    /// <summary>What it pays of its ticket at the listed price: without fee, too (rules §4).</summary>
    public Money Listed => Net - Fee;

    private sealed record Seldom(Money Tip, Money Cashback, Money Fee, TenderResult Result, string? Number, string? Name, string? Reference)
    {
        /// <summary>Null where there is nothing of it.</summary>
        public static Seldom? Of(Money tip, Money cashback, Money fee, TenderResult result, string? number, string? name,
            string? reference) =>
            tip.IsZero && cashback.IsZero && fee.IsZero && result == TenderResult.Approved && number is null && name is null
                && reference is null
                ? null
                : new(tip, cashback, fee, result, number, name, reference);
    }
}
