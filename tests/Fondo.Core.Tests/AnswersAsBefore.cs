using System.Globalization;
using System.Security.Cryptography;
using Fondo.Core.Leads;
using Fondo.Core.Reconciling;
using Fondo.Files.Reading;
using Fondo.Files.Writing;
using Fondo.Standins.Days;

namespace Fondo.Core.Tests;

/// <summary>What two hundred generated days said before the inside was laid out anew, byte by byte. Where a rule changes, the file is made
/// again from the lines that this test writes beside it.</summary>
public sealed class AnswersAsBefore
{
    private const string Kept = "answers.sha256";

    [Fact]
    public void Two_hundred_days_say_what_they_said()
    {
        var lines = Enumerable.Range(1, 200).AsParallel().AsOrdered()
            .Select(seed => string.Create(CultureInfo.InvariantCulture, $"{seed} {Hash(Answer(seed))}")).ToArray();
        File.WriteAllLines(Path.Combine(AppContext.BaseDirectory, "answers.now"), lines);
        Assert.Equal(File.ReadAllLines(Path.Combine(AppContext.BaseDirectory, Kept)), lines);
    }

    private static string Hash(byte[] answer) => Convert.ToHexStringLower(SHA256.HashData(answer));

    private static byte[] Answer(int seed)
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
        using var answer = new MemoryStream();
        ResultWriter.Write(result, LeadFinder.Of(result).Leads, answer);
        return answer.ToArray();
    }
}
