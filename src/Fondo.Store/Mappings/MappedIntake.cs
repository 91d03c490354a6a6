using System.Text;
using Fondo.Core.Days;
using Fondo.Files.Mapping;
using Fondo.Files.Text;
using Fondo.Store.Intake;
using Fondo.Store.SetUp;
using Fondo.Store.Treasury;

namespace Fondo.Store.Mappings;

/// <summary>Takes files in: those of another shape by their mapping, the bank's to its desk; all others go straight on.</summary>
public sealed class MappedIntake(MappingBook mappings, SetupBook book, DayIntake days, JournalIntake journals, StatementIntake statements)
{
    /// <summary>A file of another shape is translated in memory.</summary>
    public const long Largest = 64L << 20;

    public static string TooLarge(string name) =>
        $"{name} is larger than 64 MB. Files read by a mapping must be smaller. Send it in parts.";

    /// <param name="day">The day to which files belong that do not say so; null: batches go to the days of their rows.</param>
    public async Task<IntakeResult> Take(IReadOnlyList<OfferedFile> files, DateOnly? day, string by, IntakeProgress? progress = null)
    {
        var all = (await mappings.All()).Select(m => m.Mapping).ToList();
        var mapped = files.Select(f => (File: f, Mapping: all.FirstOrDefault(m => m.Reads(f.Name))))
            .Where(f => f.Mapping is not null || StatementIntake.IsStatement(f.File.Name, f.Mapping)).ToList();
        if (files.Any(f => f.Report is not null) && (files.Count > 1 || mapped is not [{ Mapping: not null }]))
        {
            return Refused(
                "A report’s figures are compared with one file that a mapping reads. Choose that file alone, or leave them empty.");
        }

        if (mapped.Count == 0)
        {
            return await days.Take(files, day, by, progress);
        }

        var (plain, result) = (files.Except(mapped.Select(m => m.File)).ToList(), new IntakeResult(day, 0, [], [], null));
        if (plain.Count > 0 && (result = await days.Take(plain, day, by, progress)) is { IsTaken: false })
        {
            return result;
        }

        foreach (var (file, mapping) in mapped)
        {
            var one = StatementIntake.IsStatement(file.Name, mapping)
                ? await statements.Take(file, by)
                : await Take(file, mapping!, result.Day ?? day, by, progress);
            if (!one.IsTaken)
            {
                return one;
            }

            result = new(one.Day ?? result.Day, result.Added + one.Added, [], [.. result.Remarks, .. one.Remarks], null,
                result.Aside + one.Aside)
            { Again = result.Again + one.Again };
        }

        return result;
    }

    private async Task<IntakeResult> Take(OfferedFile file, Mapping mapping, DateOnly? day, string by, IntakeProgress? progress)
    {
        if (await (day is { } chosen ? book.For(chosen) : book.Now()) is not { Setup: var setup })
        {
            return Refused("The store is not set up yet. Save the set-up first.");
        }

        await using var stream = progress is null ? file.Open() : progress.Reads(file.Name, file.Open());
        if (await WholeFile.Read(stream, Largest) is not { } bytes)
        {
            return Refused(TooLarge(file.Name));
        }

        var made = MappedFile.Of(file.Name, bytes, mapping, setup);
        if (made.Findings.Count > 0)
        {
            return new(day, 0, made.Findings, [], null);
        }

        if (file.Report?.Objection(made, setup.Currency) is { } differs)
        {
            return Refused($"{differs} Nothing was imported.");
        }

        if (made.Kind is not (MappedKind.Journal or MappedKind.Statement) && day is { } own
            && made.OfAnotherDay(file.Name, own, setup) is { } elsewhere)
        {
            return new(day, 0, [elsewhere], [], null);
        }

        IReadOnlyList<Finding> remarks = [.. made.Remarks.Select(r => new Finding(file.Name, 0, null, null, r))];
        return made.Kind == MappedKind.Journal
            ? await Journal(file.Name, made, day, by, remarks)
            : await ByDay(file.Name, made, day, by, remarks, setup);
    }

    private async Task<IntakeResult> Journal(string name, MappedFile made, DateOnly? day, string by, IReadOnlyList<Finding> remarks)
    {
        using var lines = new MemoryStream(Encoding.UTF8.GetBytes(made.Text));
        var part = await journals.TakeFile(lines, by, name);
        return new(day, part.Taken, Told(name, made, part.Findings), remarks, part.Refusal, part.Aside.Count) { Waits = part.Waits };
    }

    /// <summary>A table goes to the days of its lines, one after the other.</summary>
    private async Task<IntakeResult> ByDay(string name, MappedFile made, DateOnly? day, string by, IReadOnlyList<Finding> remarks,
        Core.SetUp.Setup setup)
    {
        var lines = made.Text.Split('\n', StringSplitOptions.RemoveEmptyEntries);
        var byDay = lines.Skip(1).Select((line, place) => (Line: line, Place: place,
            Day: day ?? Placement.ByClock(made.Days[place], setup).Date)).GroupBy(l => l.Day).OrderBy(g => g.Key).ToList();
        var (added, again, last) = (0, 0, day);
        foreach (var own in byDay)
        {
            var text = string.Join('\n', own.Select(l => l.Line).Prepend(lines[0])) + "\n";
            var taken = await days.Take([new(made.Name, () => new MemoryStream(Encoding.UTF8.GetBytes(text)))], own.Key, by);
            if (!taken.IsTaken)
            {
                // Lines of the part are lines of the file again; what earlier days took is there, and known the next time.
                var places = own.Select(l => made.LineOf(l.Place + 2)).ToList();
                return taken with
                {
                    Findings = [.. taken.Findings.Select(f =>
                        f with { File = name, Line = f.Line >= 2 && f.Line - 2 < places.Count ? places[f.Line - 2] : f.Line })]
                };
            }

            (added, again, last) = (added + taken.Added, again + taken.Again, own.Key);
        }

        return new(last, added, [], remarks, null) { Again = again };
    }

    private static IReadOnlyList<Finding> Told(string name, MappedFile made, IReadOnlyList<Finding> findings) =>
        [.. findings.Select(f => f with { File = name, Line = made.LineOf(f.Line) })];

    private static IntakeResult Refused(string objection) => new(null, 0, [], [], objection);
}
