using Fondo.Core.Journal;

namespace Fondo.Core.SetUp;

/// <summary>The store as it stood on one trading day: what day.json says.</summary>
/// <param name="Tenders">The standard catalogue with the store's additions, in board order.</param>
public sealed record Setup(
    string Store,
    TradingDay TradingDay,
    Currency Currency,
    TimeZoneInfo TimeZone,
    TimeOnly DayEndsAt,
    ImmutableArray<Register> Registers,
    ImmutableArray<TerminalPlace> Terminals,
    ImmutableArray<Person> People,
    ImmutableArray<TenderKind> Tenders,
    Policy Policy)
{
    /// <summary>The notes and coins that are counted, largest first.</summary>
    public ImmutableArray<Denomination> Denominations { get; init; } = Amounts.Denominations.Of(Currency);

    /// <summary>Where in the store's books everything is posted that is not a tender.</summary>
    public ImmutableArray<AccountUse> Accounts { get; init; } = AccountUse.Standard;

    /// <summary>Who pays for what was settled.</summary>
    public ImmutableArray<Processor> Processors { get; init; } = Processor.Standard;

    /// <summary>The store's accounts at the bank; empty: the one of the first statement.</summary>
    public ImmutableArray<BankAccount> BankAccounts { get; init; } = [];

    /// <summary>Days on which the bank books nothing, besides Saturdays and Sundays.</summary>
    public ImmutableArray<DateOnly> BankHolidays { get; init; } = [];

    /// <summary>A time of this trading day: one before the hour at which it ends is on the next date.</summary>
    public DateTimeOffset At(TimeOnly time) => At(TradingDay.Date, time);

    /// <summary>The same of another trading day.</summary>
    public DateTimeOffset At(DateOnly day, TimeOnly time)
    {
        var local = day.AddDays(time < DayEndsAt ? 1 : 0).ToDateTime(time);
        return new(local, TimeZone.GetUtcOffset(local));
    }

    /// <summary>When a trading day begins: at the hour at which the one before ends.</summary>
    public DateTimeOffset Begins(DateOnly day) => At(day, DayEndsAt);

    public Register? Find(RegisterId id) => Registers.FirstOrDefault(r => r.Id == id);

    public TenderKind? Find(TenderId id) => Tenders.FirstOrDefault(t => t.Id == id);

    public Person? Find(PersonId id) => People.FirstOrDefault(p => p.Id == id);

    /// <summary>By how much a cell of this tender may be off and still prove: the tender's own tolerance, else that of cash, else
    /// nothing.</summary>
    public Money ToleranceOf(TenderId id) =>
        Find(id)?.Tolerance ?? (id == TenderId.Cash ? Policy.CashTolerance : Money.Zero);

    /// <summary>The name a person reads; the id where day.json does not name them.</summary>
    public string NameOf(PersonId? id) => id is not { } known ? "" : Find(known)?.Name ?? known.Value;

    public string NameOf(RegisterId? id) => id is not { } known ? "No register" : Find(known)?.Name ?? known.Value;

    public string NameOf(TenderId? id) => id is not { } known ? "" : Find(known)?.Name ?? known.Value;
}
