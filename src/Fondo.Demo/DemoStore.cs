using System.Text;
using Fondo.Core.SetUp;
using Fondo.Standins.Days;
using Fondo.Standins.Terminals;
using Fondo.Store.Days;
using Fondo.Store.Intake;
using Fondo.Store.People;
using Fondo.Web.Hosting;

namespace Fondo.Demo;

/// <summary>The demo: an invented store on a Saturday evening, with people to sign in as.</summary>
internal static class DemoStore
{
    public const int Seed = 21;

    private const string SafeFile = "safe.txt", DrawerFile = "drawer.txt";

    public static readonly DateTimeOffset Evening = new(2026, 11, 21, 21, 42, 0, TimeSpan.FromHours(-5));

    private static readonly (string Id, string Name, Role Role, string Pin)[] _people =
    [
        ("p01", "Odile Marchetti", Role.Supervisor, "2580"),
        ("p02", "Tamsin Okafor", Role.Manager, "7410"),
        ("p15", "Esme Whitlock", Role.Cashier, "1590"),
        ("p11", "Ansel Ruiz", Role.Cashier, "3571"),
        ("p21", "Gil Abernathy", Role.Auditor, "9631"),
    ];

    /// <summary>Makes what is missing; what is there already stays as it was left.</summary>
    /// <param name="weeks">Of closed days that lie behind it.</param>
    /// <param name="says">Told how far it is.</param>
    public static async Task Prepare(IServiceProvider services, int weeks, TextWriter says)
    {
        var people = services.GetRequiredService<PeopleRegister>();
        if (!await people.IsEmpty())
        {
            return;
        }

        await people.Begin([.. _people.Select(p => (new Person(new(p.Id), p.Name, p.Role), p.Pin))]);

        var treasury = new DemoTreasury(Person(0), Person(1));
        foreach (var (place, (date, day)) in DayMaker.MakeHistory(Seed, weeks * 7).Index())
        {
            if (place % 7 == 0)
            {
                await says.WriteLineAsync($"fondo: making the demo’s weeks, {(place / 7) + 1} of {weeks}");
            }

            await using var scope = services.CreateAsyncScope();
            var night = new ShiftedClock(Evening.AddDays(date.DayNumber - DateOnly.FromDateTime(Evening.DateTime).DayNumber));
            await Take(ActivatorUtilities.CreateInstance<DayIntake>(scope.ServiceProvider, night),
                treasury.CountSafe(day, HalfPastNine(date)));
            await treasury.Night(scope.ServiceProvider, date, night);
            var closed = await ActivatorUtilities.CreateInstance<ClosingDesk>(scope.ServiceProvider, night).Close(date, Person(0));
            if (!closed.IsDone)
            {
                throw new InvalidOperationException($"{date:yyyy-MM-dd} of the demo did not close: {closed.Objection}");
            }
        }

        var today = DayMaker.Make(Seed);
        // In the evening the safe was not counted yet: it was when the shifts changed.
        await Take(services.GetRequiredService<DayIntake>(),
            treasury.CountSafe(today, new DateTimeOffset(Evening.Date.AddHours(15.75), Evening.Offset)));
        // What was rung after its terminal's last batch lies there until that settles again.
        var processor = services.GetRequiredService<StandInHost>().Processor;
        foreach (var (terminal, row) in HeldRows.AfterLastBatch(today.Files["journal.jsonl"], today.Files["batch-totals.csv"]))
        {
            processor.Take(terminal, row);
        }

        processor.Save();
        var options = services.GetRequiredService<RunOptions>();
        Directory.CreateDirectory(options.StandIns);
        await File.WriteAllTextAsync(Path.Combine(options.StandIns, DrawerFile), Uncounted(today));
        if (weeks == 0)
        {
            return;
        }

        BankStandIn.Keep(options, treasury.Bank);
        await File.WriteAllTextAsync(Path.Combine(options.StandIns, SafeFile), treasury.HoldsAtNight(today));
    }

    private static DateTimeOffset HalfPastNine(DateOnly date)
    {
        var local = date.ToDateTime(new(21, 30));
        return new(local, TimeZoneInfo.FindSystemTimeZoneById("America/New_York").GetUtcOffset(local));
    }

    private static Person Person(int number) => new(new(_people[number].Id), _people[number].Name, _people[number].Role);

    private static async Task Take(DayIntake intake, IReadOnlyDictionary<string, string> day)
    {
        var files = day.Select(f => new OfferedFile(f.Key, () => new MemoryStream(Encoding.UTF8.GetBytes(f.Value)))).ToList();
        var taken = await intake.Take(files, null, _people[0].Id);
        if (!taken.IsTaken)
        {
            throw new InvalidOperationException($"A day of the demo was refused: {taken.Objection ?? taken.Findings[0].ToString()}");
        }
    }

    /// <summary>What the drawer holds that not counted yet.</summary>
    private static string Uncounted(MadeDay today)
    {
        var drawer = today.Uncounted;
        return $"Drawer {drawer.Drawer} waits for its count. It holds "
            + string.Join(", ", drawer.Pieces.Select(p => $"{p.Value} × {p.Key / 100}.{p.Key % 100:00}"))
            + string.Concat(drawer.Checks.Select(c => $"; check {c.Number} of {c.Amount / 100}.{c.Amount % 100:00}"))
            + (drawer.Coupons > 0 ? $"; coupons {drawer.Coupons / 100}.{drawer.Coupons % 100:00}" : "");
    }

    /// <param name="standIns">Where it was written down, when the demo was made, what really lies in the drawer and in the safe.</param>
    public static void Print(TextWriter to, string standIns)
    {
        to.WriteLine("Sign in as:");
        foreach (var (_, name, role, pin) in _people)
        {
            to.WriteLine($"  {name,-16} {role.ToString().ToLowerInvariant(),-11} PIN {pin}");
        }

        if (Path.Combine(standIns, DrawerFile) is var drawer && File.Exists(drawer))
        {
            to.WriteLine(File.ReadAllText(drawer));
        }

        if (Path.Combine(standIns, SafeFile) is var safe && File.Exists(safe))
        {
            to.WriteLine($"Once it is counted, the safe holds {File.ReadAllText(safe)}.");
        }
    }
}
