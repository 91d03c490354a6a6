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
public sealed record Register(RegisterId Id, string Name, RegisterKind Kind, Money Float, Money? DropAbove = null);

/// <summary>Where a terminal stood, and when: a moved terminal has several.</summary>
/// <param name="From">Null: from the beginning of the day.</param>
/// <param name="Until">Null: to its end. Exclusive.</param>
/// <param name="SettlesAt">The local time at which it settles by itself; null: by hand.</param>
public sealed record TerminalPlace(TerminalId Terminal, RegisterId Register, DateTimeOffset? From, DateTimeOffset? Until, TimeOnly? SettlesAt = null)
{
    public bool Holds(DateTimeOffset at) => (From is not { } from || at >= from) && (Until is not { } until || at < until);
}

public enum Role
{
    Cashier,
    Supervisor,
    Manager,

    /// <summary>Reads only.</summary>
    Auditor,
}

public sealed record Person(PersonId Id, string Name, Role Role);

/// <summary>What shows that a tender is really there.</summary>
public enum ProofKind
{
    Count,
    Batch,
    Ledger,
}

/// <summary>A kind of tender that the store takes.</summary>
public sealed record TenderKind(TenderId Id, string Name, ProofKind Proof, bool GivesChange)
{
    /// <summary>The standard catalogue, in the order in which a board shows it.</summary>
    public static readonly ImmutableArray<TenderKind> Standard =
    [
        new(TenderId.Cash, "Cash", ProofKind.Count, true),
        new(TenderId.Check, "Checks", ProofKind.Count, false),
        new(TenderId.Coupon, "Coupons", ProofKind.Count, false),
        new(TenderId.Voucher, "Vouchers", ProofKind.Count, false),
        new(TenderId.Credit, "Credit", ProofKind.Batch, false),
        new(TenderId.Debit, "Debit", ProofKind.Batch, false),
        new(TenderId.EbtFood, "Food benefits", ProofKind.Batch, false),
        new(TenderId.EbtCash, "Cash benefits", ProofKind.Batch, false),
        new(TenderId.Wic, "WIC", ProofKind.Batch, false),
        new(TenderId.Online, "Online", ProofKind.Batch, false),
        new(TenderId.GiftCard, "Gift cards", ProofKind.Ledger, false),
        new(TenderId.StoreCredit, "Store credit", ProofKind.Ledger, false),
        new(TenderId.HouseAccount, "Accounts", ProofKind.Ledger, false),
    ];
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
    public Register? Find(RegisterId id) => Registers.FirstOrDefault(r => r.Id == id);

    public TenderKind? Find(TenderId id) => Tenders.FirstOrDefault(t => t.Id == id);

    /// <summary>The name a person reads; the id where day.json does not name them.</summary>
    public string NameOf(PersonId? id) => id is not { } known ? "" : People.FirstOrDefault(p => p.Id == known)?.Name ?? known.Value;

    public string NameOf(RegisterId? id) => id is not { } known ? "No register" : Find(known)?.Name ?? known.Value;

    public string NameOf(TenderId id) => Find(id)?.Name ?? id.Value;
}
