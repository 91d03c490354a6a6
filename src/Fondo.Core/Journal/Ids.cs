namespace Fondo.Core.Journal;

/// <summary>A register of the store: lane, self-service, desk or online.</summary>
public readonly record struct RegisterId(string Value)
{
    public override int GetHashCode() => QuickHash.Of(Value);

    public override string ToString() => Value;
}

/// <summary>A drawer session: one drawer at one register from its opening to its close.</summary>
public readonly record struct DrawerId(string Value)
{
    public override int GetHashCode() => QuickHash.Of(Value);

    public override string ToString() => Value;
}

/// <summary>A card or benefit terminal.</summary>
public readonly record struct TerminalId(string Value)
{
    public override int GetHashCode() => QuickHash.Of(Value);

    public override string ToString() => Value;
}

/// <summary>A kind of tender of the catalogue, such as <c>cash</c> or <c>credit</c>.</summary>
public readonly record struct TenderId(string Value)
{
    public static readonly TenderId Cash = new("cash"), Check = new("check"), Coupon = new("coupon"), Voucher = new("voucher"),
        Credit = new("credit"), Debit = new("debit"), EbtFood = new("ebt-food"), EbtCash = new("ebt-cash"), Wic = new("wic"),
        Online = new("online"), GiftCard = new("gift-card"), StoreCredit = new("store-credit"), HouseAccount = new("house-account");

    public override int GetHashCode() => QuickHash.Of(Value);

    public override string ToString() => Value;
}

/// <summary>A person of the store.</summary>
public readonly record struct PersonId(string Value)
{
    public override int GetHashCode() => QuickHash.Of(Value);

    public override string ToString() => Value;
}

/// <summary>One event of a register; unique in the store. Ordered as its text.</summary>
public readonly record struct EventId(Code Code) : IComparable<EventId>
{
    public string Value => Code.Text!;

    public int CompareTo(EventId other) => Code.CompareTo(other.Code);

    public static bool operator <(EventId left, EventId right) => left.CompareTo(right) < 0;

    public static bool operator >(EventId left, EventId right) => left.CompareTo(right) > 0;

    public static bool operator <=(EventId left, EventId right) => left.CompareTo(right) <= 0;

    public static bool operator >=(EventId left, EventId right) => left.CompareTo(right) >= 0;

    public override int GetHashCode() => Code.GetHashCode();

    public override string ToString() => Value;
}

/// <summary>One tender of a ticket: the ticket's event and the tender's place in it, from 1.</summary>
public readonly record struct TenderKey(EventId Ticket, int Place) : IComparable<TenderKey>
{
    public int CompareTo(TenderKey other) =>
        Ticket.CompareTo(other.Ticket) is var t and not 0 ? t : Place.CompareTo(other.Place);

    public override string ToString() => $"{Ticket.Value}#{Place}";
}
