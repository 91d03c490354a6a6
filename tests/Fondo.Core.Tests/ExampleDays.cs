using System.Globalization;
using System.Text.Json;
using Fondo.Core.Days;
using Fondo.Core.Leads;
using Fondo.Core.Matching;
using Fondo.Core.Reconciling;
using Fondo.Files.Reading;
using Fondo.Files.Writing;
using Fondo.Standins.Days;

namespace Fondo.Core.Tests;

/// <summary>Days whose truth is known: three in tests/cases, and some that the generator makes with its own account of them.</summary>
public sealed class ExampleDays
{
    public static readonly TheoryData<string> All =
        ["clean", "surcharge", "cash-discount", "made-6-1", "made-6-2", "made-12-3", "made-20-4"];

    private static readonly Lazy<string> _made = new(() => Directory.CreateTempSubdirectory("fondo-made-").FullName);

    public static string Folder(string name) =>
        name.StartsWith("made-", StringComparison.Ordinal) ? Made(name) : Path.Combine(AppContext.BaseDirectory, "cases", name);

    /// <summary>made-REGISTERS-SEED, with a fault for each register.</summary>
    private static string Made(string name)
    {
        lock (_made)
        {
            var folder = Path.Combine(_made.Value, name);
            if (!Directory.Exists(folder))
            {
                var numbers = name.Split('-')[1..].Select(n => int.Parse(n, CultureInfo.InvariantCulture)).ToArray();
                var made = DayMaker.MakeFaulty(numbers[1], numbers[0], 100 * numbers[0], numbers[0], overlap: true);
                made.WriteTo(folder);
                File.WriteAllText(folder + ".truth.json", made.Truth()!.ToJsonString());
            }

            return folder;
        }
    }

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
            .Select(c => (c.Key.ToString(), Amount(c.Expected), Amount(c.Proof), Amount(c.Variance), (int?)c.ExpectedCount, c.ProofCount,
                c.State.Written())).ToList();
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
        Assert.All(result.Matches, m => Assert.Equal((1, 1), (m.Journal.Length, m.Rows.Length)));
        Assert.Equal(pairs.Order(), result.Matches.Select(m => (m.Journal[0].Key, m.Rows[0].Key)).Order());
        foreach (var (side, amounts) in new[] { (OpenIn.Journal, "journal"), (OpenIn.Batch, "batch") })
        {
            var used = result.Matches.SelectMany(m => side == OpenIn.Journal ? m.Journal : m.Rows)
                .Concat(result.OpenItems.Where(o => o.Side == side).Select(o => o.Item))
                .Where(i => i.CarriedFrom is null).Select(i => i.Key);
            Assert.Equal(truth.GetProperty("amounts").GetProperty(amounts).EnumerateObject().Select(p => p.Name).Order(), used.Order());
        }
    }

    /// <summary>Every ticket finding that was planted is told, with its amount, and no other one.</summary>
    [Theory]
    [MemberData(nameof(All))]
    public void The_checks_are_as_the_truth_says(string name)
    {
        var (result, truth) = (Reconciliation.Of(Read(name)), Truth(name));
        var told = result.TicketFindings.Select(f => (f.Ticket.Value, f.Code.Written(), result.Day.Setup.Currency.Format(f.Amount)))
            .ToHashSet();
        var planted = truth.GetProperty("checks").EnumerateArray().Select(c => (
            Told: (c.GetProperty("ticket").GetString()!, c.GetProperty("code").GetString()!, c.GetProperty("amount").GetString()!),
            IsRequired: c.GetProperty("required").GetBoolean(),
            Also: c.GetProperty("also").EnumerateArray().Select(t => t.GetString()!).ToList())).ToList();
        Assert.All(planted.Where(p => p.IsRequired),
            p => Assert.True(told.Contains(p.Told) || p.Also.Any(t => told.Contains(p.Told with { Item1 = t })), p.ToString()));
        Assert.All(told, t =>
            Assert.Contains(planted, p => p.Told.Item2 == t.Item2 && (p.Told.Item1 == t.Item1 || p.Also.Contains(t.Item1))));
    }

    [Theory]
    [MemberData(nameof(All))]
    public void The_causes_of_planted_open_items_are_named(string name)
    {
        var open = Reconciliation.Of(Read(name)).OpenItems;
        foreach (var error in Truth(name).GetProperty("errors").EnumerateArray()
            .Where(e => e.GetProperty("cause").ValueKind == JsonValueKind.String))
        {
            var keys = error.GetProperty("open").EnumerateArray().Select(k => k.GetString()).ToHashSet();
            Assert.Contains(open, o => keys.Contains(o.Item.Key) && o.Cause.Written() == error.GetProperty("cause").GetString());
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
        var result = Reconciliation.Of(DayFolder.Read(folder).Day!);
        ResultWriter.Write(result, LeadFinder.Of(result).Leads, memory);
        return memory.ToArray();
    }
}
