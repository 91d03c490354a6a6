using System.Buffers.Binary;
using System.Collections.Immutable;
using System.Globalization;
using System.Security.Cryptography;
using Fondo.Core.Leads;
using Fondo.Core.Reconciling;
using Fondo.Files.Reading;
using Fondo.Files.Writing;
using Fondo.Standins.Days;

namespace Fondo.Core.Tests;

/// <summary>What two hundred generated days said before. Ten of them can be read (tests/cases/answers), the others are a number each. Where
/// a rule changes, the files are made again from those that this test writes beside them.</summary>
public sealed class AnswersAsBefore
{
    private const int Readable = 10, All = 200;

    private static readonly string _kept = Path.Combine(AppContext.BaseDirectory, "cases", "answers"),
        _now = Path.Combine(AppContext.BaseDirectory, "answers-now");

    [Fact]
    public void Two_hundred_days_say_what_they_said()
    {
        Directory.CreateDirectory(_now);
        var lines = Enumerable.Range(1, All).AsParallel().AsOrdered()
            .Select(seed => string.Create(CultureInfo.InvariantCulture, $"{seed} {Number(seed)}")).ToArray();
        File.WriteAllLines(Path.Combine(_now, "numbers.txt"), lines);
        Assert.Equal(File.ReadAllLines(Path.Combine(_kept, "numbers.txt")), lines);
    }

    public static TheoryData<int> Seeds => [.. Enumerable.Range(1, Readable)];

    [Theory]
    [MemberData(nameof(Seeds))]
    public void A_day_reads_as_it_read(int seed)
    {
        var (result, leads) = Answer(seed);
        var says = Lines(result, leads).ToArray();
        Directory.CreateDirectory(_now);
        File.WriteAllLines(Path.Combine(_now, $"day-{seed}.txt"), says);
        Assert.Equal(File.ReadAllLines(Path.Combine(_kept, $"day-{seed}.txt")), says);
    }

    /// <summary>A day as a person would check it: its cells, what stands alone on one side, what checks found, and the leads.</summary>
    private static IEnumerable<string> Lines(Reconciliation result, ImmutableArray<Lead> leads)
    {
        var (setup, currency) = (result.Day.Setup, result.Day.Setup.Currency);
        yield return $"{setup.Store}, {setup.TradingDay}: {result.Matches.Length} matches";
        foreach (var cell in result.Cells)
        {
            yield return $"cell {cell.Key}: {currency.Format(cell.Expected)} expected, "
                + $"{(cell.Proof is { } proof ? currency.Format(proof) : "nothing")} proved, {cell.State.Written()}";
        }

        foreach (var open in result.OpenItems)
        {
            yield return $"open {open.Item.Key}: {currency.Format(open.Item.Amount)}, {open.Cause.Written()}";
        }

        foreach (var finding in result.TicketFindings)
        {
            yield return $"finding {finding.Ticket}: {finding.Code.Written()}, {currency.Format(finding.Amount)}";
        }

        foreach (var lead in leads)
        {
            yield return string.Create(CultureInfo.InvariantCulture,
                $"lead {lead.Cell}, rank {lead.Rank}, wrong with {lead.Chance}: {currency.Format(lead.Explains)}, {lead.Says(setup)}");
        }
    }

    /// <summary>The beginning of the hash of the whole answer, byte by byte.</summary>
    private static uint Number(int seed)
    {
        var (result, leads) = Answer(seed);
        using var answer = new MemoryStream();
        ResultWriter.Write(result, leads, answer);
        return BinaryPrimitives.ReadUInt32BigEndian(SHA256.HashData(answer.ToArray()));
    }

    private static (Reconciliation Result, ImmutableArray<Lead> Leads) Answer(int seed)
    {
        var (registers, tickets, faults) = (2 + (seed % 12), 60 + (seed * 37 % 240), seed % 13);
        var made =
            DayMaker.MakeFaulty(seed, registers, tickets, faults, overlap: seed % 4 != 0, (Prices)(seed % 3), cardRate: seed % 2 * 30);
        var builder = new DayBuilder();
        foreach (var (name, text) in made.Files.OrderBy(f => f.Key == "day.json" ? 0 : 1))
        {
            builder.Take(name, new MemoryStream(System.Text.Encoding.UTF8.GetBytes(text)));
        }

        var reading = builder.Build();
        Assert.Empty(reading.Findings);
        var result = Reconciliation.Of(reading.Day!);
        return (result, LeadFinder.Of(result).Leads);
    }
}
