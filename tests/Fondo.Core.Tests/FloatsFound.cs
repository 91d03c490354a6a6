using Fondo.Core.Amounts;
using Fondo.Core.Proof;
using Fondo.Core.Sheets;

using static Fondo.Core.Tests.MadeUp;

namespace Fondo.Core.Tests;

/// <summary>A drawer is opened with what was left in it, or the difference is told from the first minute.</summary>
public sealed class FloatsFound
{
    private static string Of(string drawer, string kind, string at, string by, string cash, int attempt = 1) =>
        $$"""{"id":"{{drawer}}{{kind}}{{at}}{{attempt}}","kind":"{{kind}}","drawer":"{{drawer}}","by":"{{by}}","at":"{{At(at)}}","attempt":{{attempt}},"cash":{ {{cash}} } }""";

    private static string Open(string drawer, string amount, string at) =>
        Event("open", $"\"amount\":\"{amount}\"", at).Replace("L1-A", drawer, StringComparison.Ordinal);

    private static FloatsBefore Floats(string[] journal, string? counts, params Count[] earlier) =>
        new(Overview.Of(Reconcile(journal, counts: counts ?? "")), earlier.ToDictionary(_ => new Journal.RegisterId("L1")));

    private static Count Yesterday(CountKind kind, long pieces) =>
        new("y", kind, new("L1-Z"), null, new("p9"), null, new DateTimeOffset(2026, 11, 20, 21, 0, 0, TimeSpan.FromHours(-5)), 1,
            [new(new(20_00), (int)pieces)], [], []);

    private static (long Off, string? LeftBy, bool IsKept)[] Differences(FloatsBefore floats) =>
        [.. floats.Differences().Select(d => (d.Off.Minor, d.Expected.LeftBy?.Value, d.Expected.IsKept))];

    [Fact]
    public void Without_anything_before_it_is_held_against_the_standard()
    {
        Assert.Empty(Differences(Floats([Open("L1-A", "200.00", "08:00")], null)));
        Assert.Equal([(-10_00L, null, false)], Differences(Floats([Open("L1-A", "190.00", "08:00")], null)));
    }

    [Fact]
    public void What_was_written_down_last_night_counts_and_an_uncertain_count_only_names_its_person()
    {
        Assert.Equal([(20_00L, "p9", true)], Differences(Floats([Open("L1-A", "200.00", "08:00")], null, Yesterday(CountKind.Kept, 9))));
        Assert.Empty(Differences(Floats([Open("L1-A", "180.00", "08:00")], null, Yesterday(CountKind.Kept, 9))));
        Assert.Equal([(-20_00L, "p9", false)],
            Differences(Floats([Open("L1-A", "180.00", "08:00")], null, Yesterday(CountKind.Closing, 44))));
    }

    [Fact]
    public void The_second_session_begins_with_what_the_first_one_left()
    {
        string[] journal = [Open("L1-A", "200.00", "08:00"), Open("L1-B", "200.00", "15:00"), Open("L1-C", "200.00", "18:00")];
        var counts = string.Join(',', Of("L1-A", "closing", "14:30", "p1", "\"20.00\":15"),
            Of("L1-A", "kept", "14:40", "p1", "\"20.00\":9"), Of("L1-B", "closing", "17:30", "p2", "\"20.00\":30"));
        // The first is as it was left; the second 20.00 over what p1 left; after the third nobody wrote anything down, so the standard
        // holds.
        Assert.Equal([(20_00L, "p1", true)], Differences(Floats(journal, counts, Yesterday(CountKind.Kept, 10))));
    }

    /// <summary>Rules §9: the float lies in the drawer that ran last, also where the one before it is counted only the next
    /// morning.</summary>
    [Fact]
    public void A_count_handed_in_late_does_not_move_the_float_back()
    {
        string[] journal = [
            Open("L1-A", "200.00", "08:00"),
            Event("close", "", "14:00"),
            Open("L1-B", "200.00", "15:00"),
            Event("close", "", "20:00").Replace("L1-A", "L1-B", StringComparison.Ordinal)
        ];
        var counts = string.Join(',', Of("L1-B", "closing", "20:30", "p2", "\"20.00\":30"),
            Of("L1-B", "kept", "20:40", "p2", "\"20.00\":9"), Of("L1-A", "closing", "23:30", "p1", "\"20.00\":15"));
        var floats = Floats(journal, counts);
        var lane = Reconcile(journal).Day.Setup.Find(new Journal.RegisterId("L1"))!;
        Assert.Equal((new Money(180_00), "p2"),
            (floats.Expected(lane, DateTimeOffset.MaxValue).Amount, floats.Expected(lane, DateTimeOffset.MaxValue).LeftBy?.Value));
    }

    [Fact]
    public void Another_float_takes_the_place_of_the_first_and_a_later_correction_of_the_count_changes_nothing()
    {
        string[] journal = [Open("L1-A", "200.00", "08:00"), Open("L1-B", "160.00", "15:00")];
        var counts = string.Join(',', Of("L1-A", "closing", "14:30", "p1", "\"20.00\":15"),
            Of("L1-A", "kept", "14:35", "p1", "\"20.00\":9"), Of("L1-A", "kept", "14:40", "p1", "\"20.00\":8", 2),
            Of("L1-A", "closing", "14:50", "p1", "\"20.00\":14", 2));
        Assert.Empty(Differences(Floats(journal, counts, Yesterday(CountKind.Kept, 10))));
        var (floats, lane) = (Floats(journal, counts), Reconcile(journal).Day.Setup.Find(new Journal.RegisterId("L1"))!);
        Assert.Equal(new Money(160_00),
            floats.Expected(lane, DateTimeOffset.Parse(At("14:55"), System.Globalization.CultureInfo.InvariantCulture)).Amount);
        // Once the next session has taken it, another one would begin with the standard float out of the safe.
        Assert.Equal((new Money(200_00), null),
            (floats.Expected(lane, DateTimeOffset.MaxValue).Amount, floats.Expected(lane, DateTimeOffset.MaxValue).LeftBy));
    }

    /// <summary>Drawers are named alike every day: what yesterday's L1-A left is not what today's leaves.</summary>
    [Fact]
    public void A_drawer_of_yesterday_is_no_session_of_today()
    {
        var floats = Floats([Open("L1-A", "180.00", "08:00")], null, Yesterday(CountKind.Kept, 9) with { Drawer = new("L1-A") });
        Assert.Null(floats.Expected(Reconcile([]).Day.Setup.Find(new Journal.RegisterId("L1"))!,
            DateTimeOffset.Parse(At("07:00"), System.Globalization.CultureInfo.InvariantCulture)).Drawer);
    }
}
