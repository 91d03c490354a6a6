using System.Text.Json;
using Fondo.Core.Days;
using Fondo.Core.Matching;
using Fondo.Files.Reading;
using Fondo.Files.Writing;

namespace Fondo.Core.Tests;

/// <summary>Three example days whose truth is known: tests/cases.</summary>
public sealed class ExampleDays
{
    public static readonly TheoryData<string> All = ["clean", "surcharge", "cash-discount"];

    public static string Folder(string name) => Path.Combine(AppContext.BaseDirectory, "cases", name);

    public static Day Read(string name)
    {
        var reading = DayFolder.Read(Folder(name));
        Assert.Empty(reading.Findings);
        return reading.Day!;
    }

    private static JsonElement Truth(string name)
    {
        using var text = JsonDocument.Parse(File.ReadAllText(Folder(name) + ".truth.json"));
        return text.RootElement.Clone();
    }

    [Theory]
    [MemberData(nameof(All))]
    public void Every_cell_is_as_the_truth_says(string name)
    {
        var day = Read(name);
        string? Amount(Fondo.Core.Amounts.Money? m) => m is { } value ? day.Setup.Currency.Format(value) : null;
        var got = Reconciliation.Of(day).Cells
            .Select(c => (c.Key.ToString(), Amount(c.Expected), Amount(c.Proof), Amount(c.Variance), (int?)c.ExpectedCount, c.ProofCount, ResultWriter.StateName(c.State))).ToList();
        static string? Text(JsonElement e) => e.ValueKind == JsonValueKind.Null ? null : e.GetString();
        static int? Number(JsonElement e) => e.ValueKind == JsonValueKind.Null ? null : e.GetInt32();
        var want = Truth(name).GetProperty("cells").EnumerateArray()
            .Select(c => ($"{Text(c.GetProperty("register"))}/{Text(c.GetProperty("drawer")) ?? "-"}/{Text(c.GetProperty("tender"))}",
                Text(c.GetProperty("expected")), Text(c.GetProperty("proof")), Text(c.GetProperty("variance")),
                Number(c.GetProperty("expectedCount")), Number(c.GetProperty("proofCount")), c.GetProperty("state").GetString()!)).ToList();
        Assert.Equal(want.Order(), got.Order());
    }

    [Theory]
    [MemberData(nameof(All))]
    public void Every_match_is_a_true_pair_and_every_item_is_used_once(string name)
    {
        var (result, truth) = (Reconciliation.Of(Read(name)), Truth(name));
        var pairs = truth.GetProperty("pairs").EnumerateArray().Select(p => (p[0].GetString()!, p[1].GetString()!)).ToHashSet();
        Assert.All(result.Matches, m => Assert.Contains((m.Journal[0].Key, m.Rows[0].Key), pairs));
        Assert.True(result.Matches.Length > pairs.Count * 0.9);
        foreach (var (side, amounts) in new[] { (Side.Journal, "journal"), (Side.Batch, "batch") })
        {
            var used = result.Matches.SelectMany(m => side == Side.Journal ? m.Journal : m.Rows).Concat(result.OpenItems.Where(o => o.Side == side).Select(o => o.Item))
                .Where(i => i.CarriedFrom is null).Select(i => i.Key);
            Assert.Equal(truth.GetProperty("amounts").GetProperty(amounts).EnumerateObject().Select(p => p.Name).Order(), used.Order());
        }
    }

    [Theory]
    [MemberData(nameof(All))]
    public void The_causes_of_planted_open_items_are_named(string name)
    {
        var open = Reconciliation.Of(Read(name)).OpenItems;
        foreach (var error in Truth(name).GetProperty("errors").EnumerateArray().Where(e => e.GetProperty("cause").ValueKind == JsonValueKind.String))
        {
            var keys = error.GetProperty("open").EnumerateArray().Select(k => k.GetString()).ToHashSet();
            Assert.Contains(open, o => keys.Contains(o.Item.Key) && o.Cause == error.GetProperty("cause").GetString());
        }
    }

    [Theory]
    [MemberData(nameof(All))]
    public void The_order_of_the_lines_has_no_meaning(string name)
    {
        var folder = Directory.CreateTempSubdirectory("fondo-order-");
        try
        {
            var random = new Random(7);
            foreach (var file in Directory.GetFiles(Folder(name)))
            {
                var lines = File.ReadAllLines(file);
                var shuffled = Path.GetExtension(file) switch
                {
                    ".jsonl" => lines.OrderBy(_ => random.Next()),
                    ".csv" => lines.Take(1).Concat(lines.Skip(1).OrderBy(_ => random.Next())),
                    _ => lines,
                };
                File.WriteAllLines(Path.Combine(folder.FullName, Path.GetFileName(file)), shuffled);
            }

            Assert.Equal(Answer(Folder(name)), Answer(folder.FullName));
        }
        finally
        {
            folder.Delete(recursive: true);
        }
    }

    private static byte[] Answer(string folder)
    {
        using var memory = new MemoryStream();
        ResultWriter.Write(Reconciliation.Of(DayFolder.Read(folder).Day!), memory);
        return memory.ToArray();
    }
}
