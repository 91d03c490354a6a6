using System.Globalization;
using Fondo.Core.Journal;

namespace Fondo.Core.Days;

/// <summary>The three words by which files, addresses and the database name a cell: register, drawer, tender. A place of the store's own
/// money has a word with @ where the tender stands, which no tender's id can have, and its own name where the drawer stands.</summary>
public readonly record struct CellName(string? Register, string? Drawer, string Tender) : IComparable<CellName>
{
    internal const string Safe = "@safe", Bag = "@bag", Float = "@float", Deposit = "@deposit", BankLine = "@bank", Funding = "@funding";

    /// <summary>The cell of this name; null where there is no such place.</summary>
    public CellKey? Cell => Tender switch
    {
        Safe => new CellKey.Safe(),
        Bag when Drawer is { } bag => new CellKey.Bag(bag),
        Float when Register is { } register && Drawer is { } drawer => new CellKey.Float(new(register), new(drawer)),
        Deposit when int.TryParse(Drawer, NumberStyles.None, CultureInfo.InvariantCulture, out var number) => new CellKey.Deposit(number),
        BankLine when Drawer is { } line => new CellKey.BankLine(line),
        Funding when Drawer is { } funding => CellKey.Funding.Parse(funding),
        ['@', ..] => null,
        _ => new CellKey.Takings(Register is null ? null : new RegisterId(Register), Drawer is null ? null : new DrawerId(Drawer),
            new(Tender)),
    };

    /// <summary>Reads what <see cref="ToString"/> wrote; what stands in the middle may hold slashes of its own.</summary>
    public static CellName? Parse(string? text)
    {
        var (first, last) = (text?.IndexOf('/') ?? -1, text?.LastIndexOf('/') ?? -1);
        return first < last ? new(Part(text![..first]), Part(text[(first + 1)..last]), text[(last + 1)..]) : null;

        static string? Part(string part) => part == "-" ? null : part;
    }

    public int CompareTo(CellName other) =>
        string.CompareOrdinal(Register, other.Register) is var r and not 0 ? r
        : string.CompareOrdinal(Drawer, other.Drawer) is var d and not 0 ? d
        : string.CompareOrdinal(Tender, other.Tender);

    public override string ToString() => $"{Register ?? "-"}/{Drawer ?? "-"}/{Tender}";
}
