using System.Globalization;
using Fondo.Core.Journal;
using Fondo.Core.SetUp;

namespace Fondo.Core.Days;

/// <summary>Where money is compared: what a register took of a tender, or a place of the store's own money. There are no other kinds than
/// these.</summary>
public abstract record CellKey : IComparable<CellKey>
{
    private CellKey(RegisterId? register, DrawerId? drawer) => (Register, Drawer) = (register, drawer);

    /// <summary>The register that it is at; null for what is at none.</summary>
    public RegisterId? Register { get; }

    /// <summary>The drawer session that is counted; null where none is.</summary>
    public DrawerId? Drawer { get; }

    /// <summary>Whether it is a place of the store's own money, and no register's takings.</summary>
    public bool IsPlace => this is not Takings;

    /// <summary>As files, addresses and the database name it.</summary>
    public abstract CellName Written { get; }

    /// <summary>The tender of a register's takings; null for a place of the store's own money.</summary>
    public TenderId? OfTender => (this as Takings)?.Tender;

    public int CompareTo(CellKey? other) => other is null ? 1 : Written.CompareTo(other.Written);

    public sealed override string ToString() => Written.ToString();

    /// <summary>One tender of one register; for count-proved tenders, of one drawer session.</summary>
    public sealed record Takings : CellKey
    {
        /// <param name="register">Null only for rows of a terminal that stood nowhere.</param>
        /// <param name="drawer">Null unless the tender is proved by a count.</param>
        public Takings(RegisterId? register, DrawerId? drawer, TenderId tender)
            : base(register, drawer) => Tender = tender;

        public TenderId Tender { get; }

        public override CellName Written => new(Register?.Value, Drawer?.Value, Tender.Value);

        public override int GetHashCode() => QuickHash.Of(Register?.Value, Drawer?.Value, Tender.Value);
    }

    /// <summary>What lies loose in the safe.</summary>
    public sealed record Safe() : CellKey(null, null)
    {
        public override CellName Written => new(null, null, CellName.Safe);
    }

    /// <summary>A bag that was dropped into the safe.</summary>
    public sealed record Bag(string Number) : CellKey(null, null)
    {
        public override CellName Written => new(null, Number, CellName.Bag);
    }

    /// <summary>The float of a drawer session.</summary>
    public sealed record Float : CellKey
    {
        public Float(RegisterId register, DrawerId drawer)
            : base(register, drawer)
        {
        }

        public override CellName Written => new(Register!.Value.Value, Drawer!.Value.Value, CellName.Float);
    }

    /// <summary>A sealed deposit, at the bank.</summary>
    public sealed record Deposit(int Number) : CellKey(null, null)
    {
        public override CellName Written => new(null, Number.ToString(CultureInfo.InvariantCulture), CellName.Deposit);
    }

    /// <summary>A line of the bank that nothing explains.</summary>
    /// <param name="Line">Its key.</param>
    public sealed record BankLine(string Line) : CellKey(null, null)
    {
        public override CellName Written => new(null, Line, CellName.BankLine);
    }

    /// <summary>What a processor paid for a day, or for days that follow each other.</summary>
    /// <param name="Day">The first of its days.</param>
    /// <param name="More">How many days more.</param>
    public sealed record Funding(string Processor, TradingDay Day, int More) : CellKey(null, null)
    {
        public override CellName Written => new(null,
            More == 0 ? $"{Processor} {Day}" : string.Create(CultureInfo.InvariantCulture, $"{Processor} {Day} +{More}"), CellName.Funding);

        /// <summary>Reads what stands where a drawer's name stands; null where it is no funding.</summary>
        internal static Funding? Parse(string text)
        {
            var more = text.LastIndexOf(" +", StringComparison.Ordinal) is > 0 and var plus
                && int.TryParse(text.AsSpan(plus + 2), NumberStyles.None, CultureInfo.InvariantCulture, out var number)
                ? (Text: text[..plus], Number: number)
                : (Text: text, Number: 0);
            return more.Text.LastIndexOf(' ') is > 0 and var blank && TradingDay.TryParse(more.Text[(blank + 1)..], out var day)
                ? new(more.Text[..blank], day, more.Number)
                : null;
        }
    }
}
