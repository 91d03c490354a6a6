using System.Globalization;
using Fondo.Core.Amounts;
using Fondo.Core.Days;
using Fondo.Core.Journal;
using Fondo.Core.Proof;

namespace Fondo.Core.Tests;

/// <summary>Values that differ in one part only hash apart, whichever part it is: a day on which all are alike but for that part is not
/// slower than another.</summary>
public sealed class Hashes
{
    private const int Many = 20_000;

    public static TheoryData<string, Func<int, object>> Kinds => new()
    {
        { "articles by sku", i => new Article($"S{i}", "Bread", 0, true, null) },
        { "articles by name", i => new Article("S1", $"Bread {i}", 0, true, null) },
        { "articles by account", i => new Article("S1", "Bread", 0, true, $"account {i}") },
        { "lines by name", i => new TicketLine(new("S1", $"{i} Bread", 0, true, null), 1, new(475), Money.Zero, null) },
        { "lines by amount", i => new TicketLine(new("S1", "Bread", 0, true, null), 1, new(i), Money.Zero, null) },
        { "lines by tax", i => new TicketLine(new("S1", "Bread", 0, true, null), 1, new(475), new(i), null) },
        { "lines by weight", i => new TicketLine(new("S1", "Bread", 0, true, null), i / 1000m, new(475), Money.Zero, null) },
        { "ids by number", i => new EventId($"L1-{i:000000}") },
        { "ids by register", i => new EventId($"L{i}-000001") },
        { "ids of letters", i => new EventId($"{(char)('a' + (i % 26))}{(char)('a' + (i / 26 % 26))}x{(char)('a' + (i / 676))}") },
        { "rows by sequence", i => new BatchKey(new TerminalId("T-01"), "1", i.ToString(CultureInfo.InvariantCulture)) },
        { "rows by batch", i => new BatchKey(new("T-01"), $"{i}", "1") },
        { "rows by terminal", i => new BatchKey(new($"T-{i}"), "1", "1") },
        { "cells by drawer", i => new CellKey.Takings(new("L1"), new($"L1-{i}"), new("cash")) },
        { "cells by tender", i => new CellKey.Takings(new("L1"), new("L1-A"), new($"cash{i}")) },
    };

    [Theory]
    [MemberData(nameof(Kinds))]
    public void Spread(string kind, Func<int, object> make)
    {
        // Twenty thousand numbers drawn from 2^32 meet 0.05 times (n²/2·2^32): a hundred are far beyond chance.
        var apart = Enumerable.Range(0, Many).Select(i => make(i).GetHashCode()).Distinct().Count();
        Assert.True(apart > Many - 100, $"{kind}: {apart} of {Many}");

        // Tables use the lower bits: so many draws fill 32,768 · (1 − e^(−20,000/32,768)) = 14,970 of 32,768 places.
        var places = Enumerable.Range(0, Many).Select(i => (uint)make(i).GetHashCode() % 32768).Distinct().Count();
        Assert.InRange(places, 14_000, Many);
    }
}
