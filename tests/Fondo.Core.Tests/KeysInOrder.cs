using CsCheck;
using Fondo.Core.Amounts;
using Fondo.Core.Days;
using Fondo.Core.Journal;
using Fondo.Core.Matching;
using Fondo.Core.Proof;

namespace Fondo.Core.Tests;

/// <summary>Items rank as their keys stand in the order of texts: tickets character by character, and of a batch 9 before 10.</summary>
public sealed class KeysInOrder
{
    private static readonly DateTimeOffset _noon = new(2026, 11, 21, 12, 0, 0, TimeSpan.FromHours(-5));

    private static readonly Gen<string> _ids = Gen.Select(
        Gen.OneOf(Gen.Const("L1-"), Gen.Const("L10-"), Gen.Const("L2-"), Gen.Const("SA-")), Gen.Int[0, 99_999])
        .Select((b, n) => $"{b}{n:000000}");

    /// <summary>Numbered otherwise than most, so that what stands before a number does not order them.</summary>
    private static readonly Gen<string> _odd = Gen.Select(
        Gen.OneOf(Gen.Const("L1-"), Gen.Const("L1-0"), Gen.Const("L"), Gen.Const(""), Gen.Const("web"), Gen.Const("L1-Y"),
            Gen.Const("L1-."), Gen.Const("SA-:")), Gen.Int[0, 9_999]).Select((b, n) => $"{b}{n}");

    private static Item Tender(string id, int place) => Item.Of(
        new TakenTender(new Ticket(
            new(new(id), new("L1"), new("L1-A"), null, _noon), EventKind.Sale, null, [], Money.Zero, Money.Zero, Money.Zero, Money.Zero,
            Money.Zero, Money.Zero, Money.Zero,
            [.. Enumerable.Range(0, place)
                .Select(_ => new Tender(TenderId.Credit, Money.Zero, Money.Zero, Money.Zero, Money.Zero, Money.Zero, null,
                    TenderResult.Approved, null, null, null))], null), place), null);

    private static Item Row(string terminal, int batch, int sequence) => Item.Of(
        new BatchRow(new(new(terminal), $"{batch}", $"{sequence}"), _noon, Direction.Sale, Money.Zero, Money.Zero, Money.Zero,
            new(new(terminal), null, null, default, default, null), Benefit.None),
        new CellKey.Takings(new("L1"), null, TenderId.Credit), null);

    private static void Holds(Item[] items, IEnumerable<string> keysInOrder)
    {
        KeyOrder.Rank(items);
        Assert.Equal(Enumerable.Range(0, items.Length), items.Select(i => i.Rank).Order());
        Assert.Equal(keysInOrder, items.OrderBy(i => i.Rank).Select(i => i.Key));
    }

    [Fact]
    public void Of_tenders() => Gen.Select(_ids.Array[1, 60], _odd.Array[0, 3], Gen.Int[1, 3]).Sample((ids, odd, place) =>
    {
        string[] all = [.. ids.Concat(odd).Distinct()];
        Holds([.. all.Select(id => Tender(id, place))], all.Order(StringComparer.Ordinal).Select(id => $"{id}#{place}"));
    });

    [Fact]
    public void Of_rows_with_carried_ones_behind_them() =>
        Gen.Select(Gen.Int[1, 40].Array[1, 30], Gen.Int[1, 40].Array[0, 12]).Sample((sorted, behind) =>
    {
        var rows = sorted.Distinct().Order().Select(n => (Terminal: $"T-{n % 3}", Sequence: n))
            .OrderBy(r => r.Terminal, StringComparer.Ordinal).ThenBy(r => r.Sequence)
            .Concat(behind.Distinct().Select(n => (Terminal: $"T-{n % 4}", Sequence: n + 100))).ToList();
        Holds([.. rows.Select(r => Row(r.Terminal, 7, r.Sequence))],
            rows.OrderBy(r => r.Terminal, StringComparer.Ordinal).ThenBy(r => r.Sequence).Select(r => $"{r.Terminal}/7/{r.Sequence}"));
    });
}
