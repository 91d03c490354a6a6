using Fondo.Core.Cash;
using Fondo.Core.Journal;

namespace Fondo.Core.Days;

/// <summary>A trading day, named by the calendar date on which it began.</summary>
public readonly record struct TradingDay(DateOnly Date) : IComparable<TradingDay>
{
    public int CompareTo(TradingDay other) => Date.CompareTo(other.Date);

    public override string ToString() => Date.ToString("yyyy-MM-dd", System.Globalization.CultureInfo.InvariantCulture);

    public static bool TryParse(string? text, out TradingDay day)
    {
        var ok = DateOnly.TryParseExact(text, "yyyy-MM-dd", out var date);
        day = new(date);
        return ok;
    }

    public static bool operator <(TradingDay a, TradingDay b) => a.Date < b.Date;

    public static bool operator >(TradingDay a, TradingDay b) => a.Date > b.Date;

    public static bool operator <=(TradingDay a, TradingDay b) => a.Date <= b.Date;

    public static bool operator >=(TradingDay a, TradingDay b) => a.Date >= b.Date;
}

public enum RegisterKind
{
    Lane,
    Self,
    Desk,

    /// <summary>No drawer, no float, no one to open it.</summary>
    Online,
}

/// <param name="DropAbove">More cash than this should not lie in the drawer; null: as much as comes.</param>
public sealed record Register(RegisterId Id, string Name, RegisterKind Kind, Money Float, Money? DropAbove = null)
{
    /// <summary>The tenders that it takes; empty: all of them.</summary>
    public ImmutableArray<TenderId> Tenders { get; init; } = [];

    public bool Takes(TenderId tender) => Tenders.IsEmpty || Tenders.Contains(tender);
}

/// <summary>Where a terminal stood, and when: a moved terminal has several.</summary>
/// <param name="From">Null: from the beginning of the day.</param>
/// <param name="Until">Null: to its end. Exclusive.</param>
/// <param name="SettlesAt">The local time at which it settles by itself; null: by hand.</param>
public sealed record TerminalPlace(TerminalId Terminal, RegisterId Register, DateTimeOffset? From, DateTimeOffset? Until, TimeOnly? SettlesAt = null)
{
    public bool Holds(DateTimeOffset at) => (From is not { } from || at >= from) && (Until is not { } until || at < until);

    /// <summary>Whether the two places hold at one moment.</summary>
    public bool Overlaps(TerminalPlace other) => (Until is not { } until || other.From is not { } from || from < until) && (other.Until is not { } otherUntil || From is not { } ownFrom || ownFrom < otherUntil);
}

public enum Role
{
    Cashier,
    Supervisor,
    Manager,

    /// <summary>Reads only.</summary>
    Auditor,
}

public sealed record Person(PersonId Id, string Name, Role Role)
{
    /// <summary>The registers that the person may open; empty: all of them.</summary>
    public ImmutableArray<RegisterId> Registers { get; init; } = [];

    public bool MayOpen(RegisterId register) => Registers.IsEmpty || Registers.Contains(register);
}

public enum PriceProgrammeKind
{
    None,

    /// <summary>The listed price is the cash price; listed tenders pay the rate more.</summary>
    Surcharge,

    /// <summary>The listed price is the card price; cash and checks pay the rate less.</summary>
    CashDiscount,
}

public sealed record PriceProgramme(PriceProgrammeKind Kind, decimal Rate, ImmutableArray<TenderId> Tenders)
{
    public static readonly PriceProgramme None = new(PriceProgrammeKind.None, 0, []);
}

public enum BenefitTax
{
    TaxableFirst,
    ProRata,
}

/// <summary>What the store has decided for the day.</summary>
public sealed record Policy(Money CashTolerance, Money ApprovalAbove, PriceProgramme PriceProgramme, BenefitTax BenefitTax, Money CashRounding, TimeSpan MatchWindow, TimeSpan DisputeTime)
{
    public static readonly Policy Default = new(Money.Zero, Money.Zero, PriceProgramme.None, BenefitTax.TaxableFirst, new(1), TimeSpan.FromMinutes(15), TimeSpan.FromHours(48));
}

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
    public ImmutableArray<Denomination> Denominations { get; init; } = Cash.Denominations.Of(Currency);

    /// <summary>Where in the store's books everything is posted that is not a tender.</summary>
    public ImmutableArray<AccountUse> Accounts { get; init; } = AccountUse.Standard;

    public Register? Find(RegisterId id) => Registers.FirstOrDefault(r => r.Id == id);

    public TenderKind? Find(TenderId id) => Tenders.FirstOrDefault(t => t.Id == id);

    public Person? Find(PersonId id) => People.FirstOrDefault(p => p.Id == id);

    /// <summary>By how much a cell of this tender may be off and still prove: the tender's own tolerance, else that of cash, else nothing.</summary>
    public Money ToleranceOf(TenderId id) => Find(id)?.Tolerance ?? (id == TenderId.Cash ? Policy.CashTolerance : Money.Zero);

    /// <summary>The name a person reads; the id where day.json does not name them.</summary>
    public string NameOf(PersonId? id) => id is not { } known ? "" : Find(known)?.Name ?? known.Value;

    public string NameOf(RegisterId? id) => id is not { } known ? "No register" : Find(known)?.Name ?? known.Value;

    public string NameOf(TenderId id) => Find(id)?.Name ?? id.Value;
}
