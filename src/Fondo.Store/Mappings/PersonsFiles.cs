using Fondo.Core.Journal;
using Fondo.Core.SetUp;
using Fondo.Store.Intake;
using Fondo.Store.Treasury;

namespace Fondo.Store.Mappings;

/// <summary>The door for files that a person brings: taken at once, or held until others agree.</summary>
public sealed class PersonsFiles(PersonsWord word, HeldFiles held, MappedIntake mapped, JournalIntake journals, StatementIntake statements)
{
    /// <param name="day">The day that files without day.json belong to.</param>
    public async Task<IntakeResult> Bring(IReadOnlyList<OfferedFile> files, DateOnly? day, PersonId by, IntakeProgress progress)
    {
        word.IsOf(by);
        var result = await Take(files, day, by, progress);
        if (result.Waits is { } waits)
        {
            await held.Hold(files, day, isStatement: false, waits, by);
        }

        return result;
    }

    /// <summary>A statement of the bank, whatever its name.</summary>
    public async Task<BankDesk.Taken> BringStatement(OfferedFile file, PersonId by)
    {
        word.IsOf(by);
        await using var content = file.Open();
        var (taken, _) = await statements.Take(file.Name, content, by.Value);
        if (taken.Waits is { } waits)
        {
            await held.Hold([file], null, isStatement: true, waits, by);
        }

        return taken;
    }

    /// <summary>A person who proved themselves agrees; once nobody is missing, the files are taken in.</summary>
    /// <returns>What became of the files; null while somebody is missing.</returns>
    public async Task<(Outcome Outcome, IntakeResult? Result)> Agree(Guid id, Person person)
    {
        if (await held.Agree(id, person) is { IsDone: false } refused)
        {
            return (refused, null);
        }

        var own = (await held.All()).First(h => h.Id == id);
        if (!own.IsAgreed)
        {
            return (Outcome.Done, null);
        }

        if (await held.Files(own) is not { } files)
        {
            return (Outcome.Refused("The waiting files are gone. Discard them, then import them again."), null);
        }

        word.IsOf(own.By, own.Agreed);
        var result = own.IsStatement ? await statements.Take(files[0], own.By.Value) : await Take(files, own.Day, own.By, new());
        if (result.Waits is { } waits)
        {
            // Meanwhile they change something else than was agreed to: it is looked at again.
            await held.Hold(files, own.Day, own.IsStatement, waits, own.By);
        }

        if (result.IsTaken || result.Waits is not null)
        {
            await held.End(id, result.IsTaken, person.Id);
        }

        return (Outcome.Done, result);
    }

    private async Task<IntakeResult> Take(IReadOnlyList<OfferedFile> files, DateOnly? day, PersonId by, IntakeProgress progress)
    {
        if (files is [var journal] && journal.Name.EndsWith(".jsonl", StringComparison.OrdinalIgnoreCase))
        {
            // A journal alone says by itself to which day each event belongs.
            await using var lines = progress.Reads(journal.Name, journal.Open());
            var part = await journals.TakeFile(lines, by.Value, journal.Name);
            return new(day, part.Taken, part.Findings, [], part.Refusal, part.Aside.Count) { Waits = part.Waits };
        }

        await using var zip = files is [var only] && only.Name.EndsWith(".zip", StringComparison.OrdinalIgnoreCase) ? only.Open() : null;
        var (offered, objection) = files.Count == 0 ? ([], "Choose the files first.")
            : zip is not null ? ZipFiles.Open(zip, files[0].Name)
            : (files, null);
        return objection is null ? await mapped.Take(offered, day, by.Value, progress) : new(null, 0, [], [], objection);
    }
}
