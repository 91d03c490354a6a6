using System.Text;
using Fondo.Core.Amounts;
using Fondo.Core.Leads;
using Fondo.Core.Reconciling;
using Fondo.Core.SetUp;
using Fondo.Files.Reading;
using Fondo.Files.Writing;
using Fondo.Standins.Registers;
using Fondo.Store.Days;
using Fondo.Store.Intake;
using Microsoft.Extensions.DependencyInjection;

namespace Fondo.Web.Tests;

/// <summary>However the journals of a day come in, the day that comes of it is the same to the byte.</summary>
public sealed class InAnyOrder : InOwnShop
{
    private static readonly Person _odile = new(new("p01"), "Odile Marchetti", Role.Supervisor);

    private static byte[] Answer(Reconciliation result)
    {
        using var memory = new MemoryStream();
        ResultWriter.Write(result, LeadFinder.Of(result).Leads, memory);
        return memory.ToArray();
    }

    private static MemoryStream Stream(string text) => new(Encoding.UTF8.GetBytes(text));

    private static Reconciliation AtOnce(IReadOnlyDictionary<string, string> files)
    {
        var builder = new DayBuilder();
        foreach (var (name, text) in files.OrderBy(f => f.Key == "day.json" ? 0 : 1))
        {
            builder.Take(name, Stream(text));
        }

        var reading = builder.Build();
        Assert.Empty(reading.Findings);
        return Reconciliation.Of(reading.Day!);
    }

    private async Task<T> Ask<TService, T>(Func<TService, Task<T>> ask)
        where TService : notnull
    {
        using var scope = Shop.Services.CreateScope();
        return await ask(scope.ServiceProvider.GetRequiredService<TService>());
    }

    [Theory]
    [InlineData(1, 8)]
    [InlineData(2, 14)]
    [InlineData(3, 0)]
    [InlineData(4, 20)]
    public async Task Parts_late_twice_and_out_of_order_make_the_day_that_the_files_make(int seed, int faults)
    {
        var random = new Random(seed);
        var date = new DateOnly(2026, 10, seed + 4);
        var played = new PlayedDay(seed, date, 300, faults, cardRate: 30);
        var expected = AtOnce(played.Files);

        // Each register's journal, cut anywhere, some parts twice, all in any order.
        var parts = new List<(string Register, string Lines)>();
        foreach (var register in played.Files["journal.jsonl"].Split('\n', StringSplitOptions.RemoveEmptyEntries)
            .GroupBy(l => System.Text.Json.JsonDocument.Parse(l).RootElement.GetProperty("register").GetString()!))
        {
            for (var lines = register.ToList(); lines.Count > 0;)
            {
                var part = lines[..Math.Min(lines.Count, random.Next(1, 40))];
                lines = lines[part.Count..];
                parts.AddRange(Enumerable.Repeat((register.Key, string.Join('\n', part)), random.Next(5) == 0 ? 2 : 1));
            }
        }

        var (taken, known, aside) = (0, 0, 0);
        foreach (var (register, lines) in parts.OrderBy(_ => random.Next()))
        {
            var part = await Ask<JournalIntake, PartTaken>(intake => intake.TakePart(Stream(lines), register));
            Assert.Null(part.Refusal);
            Assert.All(part.Aside, a => Assert.True(a.IsKept, a.Why));
            (taken, known, aside) = (taken + part.Taken, known + part.Known, aside + part.Aside.Count);
        }

        // What came before the ticket that it voids is taken once that is there.
        foreach (var row in (await Ask<Waiting, IReadOnlyList<Store.Model.AsideRow>>(w => w.All())).Where(w => w.From != "p01"))
        {
            Assert.True((await Ask<Waiting, Store.Outcome>(w => w.TryAgain(row.Id, _odile))).IsDone, row.Why);
            taken++;
        }

        Assert.Equal(played.Events, taken);
        Assert.Equal(parts.Sum(p => p.Lines.Split('\n').Length) - played.Events > 0, known + aside > 0);
        // Nothing is missing within the day; another played day has other numbers.
        var first = (await Ask<DayStore, DayView?>(d => d.View(date)))!.Day.Journal
            .Min(e => Core.Journal.EventNumber.Of(e.Id.Value)!.Value.Number);
        Assert.DoesNotContain(await Ask<Numbering, IReadOnlyList<MissingNumbers>>(n => n.Missing(date)), m => m.Last >= first);

        var proofs = played.Files.Where(f => f.Key is not ("day.json" or "journal.jsonl"))
            .Select(f => new OfferedFile(f.Key, () => Stream(f.Value))).ToList();
        var result = await Ask<DayIntake, IntakeResult>(intake => intake.Take(proofs, date, "p01"));
        Assert.True(result.IsTaken, result.Objection ?? string.Join("\n", result.Findings));
        Assert.Equal(Encoding.UTF8.GetString(Answer(expected)),
            Encoding.UTF8.GetString(Answer((await Ask<DayStore, DayView?>(d => d.View(date)))!.Reconciliation)));
    }
}
