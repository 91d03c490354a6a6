using System.Text.Json;
using Fondo.Core.Banking;
using Fondo.Core.SetUp;
using Fondo.Standins.Bank;
using Fondo.Store.Days;
using Fondo.Store.Model;
using Fondo.Web.Hosting;
using Microsoft.EntityFrameworkCore;

namespace Fondo.Demo;

/// <summary>The stand-in bank beside the application: it credits what was handed over, lets the processors pay, and writes statements into
/// the watched folder and over HTTP.</summary>
public sealed class BankStandIn(RunOptions options, StoreContext db, DayStore days)
{
    public const string Door = "/stand-ins/bank/statements";

    private const long StartingBalance = 18_240_00, Less = 1_37, ANote = 20_00, TakenBack = 24_50;

    private static readonly Lock _one = new();

    private static string FileOf(RunOptions options) => Path.Combine(options.StandIns, "bank.json");

    private string Folder => Path.Combine(options.StandIns, "bank");

    internal static void Keep(RunOptions options, BankState state)
    {
        Directory.CreateDirectory(options.StandIns);
        var file = FileOf(options);
        File.WriteAllText(file + ".part", JsonSerializer.Serialize(state));
        File.Move(file + ".part", file, overwrite: true);
    }

    public async Task<StandInBank> Open()
    {
        if (File.Exists(FileOf(options))
            && JsonSerializer.Deserialize<BankState>(await File.ReadAllTextAsync(FileOf(options))) is { } state)
        {
            return StandInBank.Of(state);
        }

        var setup = await Latest() is { } view ? view.Setup : null;
        return new(setup?.BankAccounts.FirstOrDefault()?.Number ?? "4471-0092-MM", setup?.Currency.Code ?? "USD", StartingBalance);
    }

    /// <summary>The statement up to a date, with what came to the bank since the last one.</summary>
    /// <param name="fault">How it, or what it tells of, is not as it should be.</param>
    /// <returns>Its name and its text; a text that is no statement where the bank has nothing to say yet.</returns>
    public async Task<(string? Name, string Text)> Write(DateOnly to, string version, BankFault fault)
    {
        if (await Latest() is not { } view)
        {
            return (null, "Nothing has been imported yet.");
        }

        var handed = await db.HandOvers.AsNoTracking().Select(h => h.Number).ToListAsync();
        lock (_one)
        {
            var bank = Open().GetAwaiter().GetResult();
            if (bank.Stated >= to)
            {
                return (null, $"The bank has written its statements up to {bank.Stated:yyyy-MM-dd} already. Choose a later date.");
            }

            foreach (var deposit in view.Money.Bank.End.Deposits.Select(d => d.Deposit)
                .Where(d => handed.Contains(d.Number) && bank.IsNew(d.Bag)))
            {
                bank.Receive(deposit.Bag, deposit.Day.Date, deposit.Cash.Minor, deposit.CheckAmount.Minor,
                    fault == BankFault.NoteShort ? ANote : 0, fault == BankFault.InParts);
            }

            foreach (var funding in view.Money.Bank.End.Fundings.Where(f => bank.IsNew(f.Key)))
            {
                var processor = view.Setup.Processors.First(p => p.Id == funding.Processor);
                bank.Pay(processor.Reference, fault == BankFault.PaysLate ? BankDays.After(funding.Due, 3) : funding.Due,
                    funding.Expected.Minor - (fault == BankFault.PaysLess ? Less : 0), funding.Number, funding.Day.Date);
            }

            if (fault == BankFault.TakesBack && view.Setup.Processors.FirstOrDefault() is { } disputed)
            {
                bank.Book(to, -TakenBack, $"{disputed.Reference} DISPUTED CHARGE");
            }

            var text = bank.Statement(bank.Stated?.AddDays(1) ?? to, to, version);
            text = fault switch
            {
                BankFault.DoesNotAddUp => OtherBalance(text),
                BankFault.IsCutOff => text[..(text.Length / 2)],
                _ => text,
            };
            var name = $"statement-{to:yyyy-MM-dd}.xml";
            Directory.CreateDirectory(Folder);
            Directory.CreateDirectory(options.Inbox);
            File.WriteAllText(Path.Combine(Folder, name), text);
            File.WriteAllText(Path.Combine(options.Inbox, name + ".part"), text);
            File.Move(Path.Combine(options.Inbox, name + ".part"), Path.Combine(options.Inbox, name), overwrite: true);
            // What was damaged on its way comes again with the next one.
            if (fault is not (BankFault.DoesNotAddUp or BankFault.IsCutOff))
            {
                Keep(options, bank.State);
            }

            return (name, text);
        }
    }

    /// <summary>The statements that it wrote, the last one first.</summary>
    public IReadOnlyList<string> Written =>
        Directory.Exists(Folder) ? [.. Directory.GetFiles(Folder, "*.xml").Select(f => Path.GetFileName(f)).OrderDescending()] : [];

    public string? Read(string name) => Written.Contains(name) ? File.ReadAllText(Path.Combine(Folder, name)) : null;

    private async Task<DayView?> Latest() => await db.Days.AsNoTracking().OrderByDescending(d => d.Date).Select(d => (DateOnly?)d.Date)
        .FirstOrDefaultAsync() is { } date ? await days.View(date) : null;

    private static string OtherBalance(string text)
    {
        var at = text.LastIndexOf("</Amt>",
            text.IndexOf("<Ntry>", StringComparison.Ordinal) is > 0 and var entries ? entries : text.Length - 1, StringComparison.Ordinal);
        return text[..(at - 1)] + (text[at - 1] == '7' ? '8' : '7') + text[at..];
    }
}

/// <summary>The stand-in bank's door.</summary>
internal static class StandInBankDoor
{
    public static void MapStandInBank(this WebApplication app)
    {
        var doors = app.MapGroup(BankStandIn.Door).WithMetadata(new DoesAttribute(ActKind.PlayStandIn)).AllowAnonymous()
            .DisableAntiforgery().WithGroupName(StandInProcessor.Document).WithTags("The bank");
        doors.MapPost("", async (DateOnly to, string? version, BankFault? fault, BankStandIn bank) =>
            await bank.Write(to, version == "02" ? "02" : "08", fault ?? BankFault.None) is ({ } name, var text)
                ? Results.Created($"{BankStandIn.Door}/{name}", new { name, characters = text.Length })
                : Results.Problem("There is nothing to write: no day, or a statement up to that date exists.",
                    statusCode: StatusCodes.Status409Conflict))
            .WithName("WriteStatement")
            .WithSummary("Lets the bank write its statement up to a date, into the watched folder too; it misbehaves when told to.")
            .ProducesProblem(StatusCodes.Status409Conflict);
        doors.MapGet("", (BankStandIn bank) => Results.Ok(bank.Written)).WithName("Statements")
            .WithSummary("The names of the statements that it wrote, the last one first.").Produces<string[]>();
        doors.MapGet("{name}", (string name, BankStandIn bank) => bank.Read(name) is { } text
            ? Results.Text(text, "application/xml")
            : Results.NotFound()).WithName("Statement").WithSummary("One statement as ISO 20022 camt.053.")
            .Produces(StatusCodes.Status404NotFound);
    }
}
