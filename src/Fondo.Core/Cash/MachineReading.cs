using Fondo.Core.Proof;

namespace Fondo.Core.Cash;

/// <summary>What a scale or a counting machine says of some denominations.</summary>
/// <param name="Device">The machine's own name.</param>
/// <param name="Number">Its own number of this reading.</param>
public sealed record MachineReading(string Device, string Number, DateTimeOffset At, CountTarget Target, ImmutableArray<MachineRow> Rows);

/// <summary>One denomination: pieces, or grams to be made pieces of.</summary>
public readonly record struct MachineRow(Money Denomination, int? Pieces, decimal? Grams);

/// <summary>What machines say a count comes to, denomination by denomination: of each the latest word.</summary>
/// <param name="Pieces">Null where the scale cannot tell.</param>
/// <param name="Fault">Why it goes back to the hand; null where it does not.</param>
public sealed record MachineSays(Money Denomination, int? Pieces, string Machine, RowFault? Fault)
{
    /// <summary>The machine's name alone, without the number of its reading.</summary>
    public string Device => Machine.Split(' ')[0];

    public static ImmutableArray<MachineSays> Of(IEnumerable<MachineReading> readings, ImmutableArray<Denomination> denominations,
        Currency currency, Scale scale) =>
    [
        .. readings.OrderBy(r => r.At).SelectMany(r => r.Rows.Select(row => (Reading: r, Row: row))).GroupBy(r => r.Row.Denomination)
            .Select(g => g.Last())
            .OrderByDescending(r => r.Row.Denomination).Select(r => Of(r.Reading, r.Row, denominations, currency, scale))
            .OfType<MachineSays>(),
    ];

    private static MachineSays? Of(MachineReading reading, MachineRow row, ImmutableArray<Denomination> denominations, Currency currency,
        Scale scale)
    {
        var machine = $"{reading.Device} {reading.Number}";
        if (denominations.FirstOrDefault(d => d.Worth == row.Denomination) is not { } kind)
        {
            return null;
        }

        if (row.Pieces is { } pieces)
        {
            return new(row.Denomination, pieces, machine, null);
        }

        var read = CountSheet.Row(string.Create(System.Globalization.CultureInfo.InvariantCulture, $"{row.Grams}/"), kind, currency, scale);
        return new(row.Denomination, read.Fault is null ? read.Pieces : null, machine, read.Fault);
    }
}
