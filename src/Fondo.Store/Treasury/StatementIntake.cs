using System.Text;
using Fondo.Files.Mapping;
using Fondo.Files.Reading;
using Fondo.Store.Intake;
using Fondo.Store.Mappings;
using Fondo.Store.SetUp;

namespace Fondo.Store.Treasury;

/// <summary>Takes files of the bank in, wherever they come from: camt.053, our own CSV, or another shape by its mapping.</summary>
public sealed class StatementIntake(MappingBook mappings, SetupBook book, BankDesk desk)
{
    /// <summary>Nobody's bank sends more at once.</summary>
    public const long MostBytes = 10_000_000;

    /// <summary>Whether a file is the bank's: by its name, or by the mapping that reads it.</summary>
    public static bool IsStatement(string name, Mapping? mapping) =>
        mapping?.Kind == MappedKind.Statement
            || (mapping is null && Path.GetExtension(name) is var extension
                && (StatementFiles.Endings.Contains(extension, StringComparer.OrdinalIgnoreCase)
                    || (extension.Equals(".csv", StringComparison.OrdinalIgnoreCase)
                        && name.StartsWith("statement", StringComparison.OrdinalIgnoreCase))));

    public async Task<(BankDesk.Taken Taken, IReadOnlyList<string> Faults)> Take(string name, Stream content, string by)
    {
        if (await book.Now() is not { Setup: var setup })
        {
            return Refused("The store is not set up yet. Save the set-up first.");
        }

        if (await WholeFile.Read(content, MostBytes) is not { Length: > 0 } bytes)
        {
            return Refused($"{name} is empty, or larger than 10 MB. Nothing was imported.");
        }

        StatementReading read;
        if (await mappings.For(name) is { Kind: MappedKind.Statement } mapping)
        {
            var made = MappedFile.Of(name, bytes, mapping, setup);
            if (made.Findings.Count > 0)
            {
                return (new(0, 0, $"{made.Findings[0]}. Nothing was imported from it."), [.. made.Findings.Select(f => f.ToString())]);
            }

            read = await StatementFiles.Read(name, new MemoryStream(Encoding.UTF8.GetBytes(made.Text)), setup.Currency, setup.TimeZone);
        }
        else
        {
            read = await StatementFiles.Read(name, new MemoryStream(bytes), setup.Currency, setup.TimeZone);
        }

        return read.Objection is { } unread
            ? Refused($"{name}: {unread} Nothing was imported from it.")
            : (await desk.Take([.. read.Statements], name, by), []);

        static (BankDesk.Taken, IReadOnlyList<string>) Refused(string objection) => (new(0, 0, objection), []);
    }

    /// <summary>The same as an intake of files tells it.</summary>
    public async Task<IntakeResult> Take(OfferedFile file, string by)
    {
        await using var content = file.Open();
        var (taken, faults) = await Take(file.Name, content, by);
        return new(null, taken.Lines, [], [],
            taken.Objection is null ? null : faults.Count > 0 ? string.Join(Environment.NewLine, faults) : taken.Objection)
        {
            Waits = taken.Waits
        };
    }
}
