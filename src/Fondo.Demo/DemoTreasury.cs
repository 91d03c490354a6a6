using System.Globalization;
using System.Text;
using System.Text.Json.Nodes;
using Fondo.Core.Banking;
using Fondo.Core.Cash;
using Fondo.Core.Entries;
using Fondo.Core.SetUp;
using Fondo.Files.Reading;
using Fondo.Standins.Bank;
using Fondo.Standins.Days;
using Fondo.Store.Days;
using Fondo.Store.SetUp;
using Fondo.Store.Treasury;

namespace Fondo.Demo;

/// <summary>The demo's way to the bank, night after night: the safe counted, a deposit sealed and handed over, the bank's statement taken
/// in. Twice the bank found a note short, once a deposit
/// came in two parts, once the processor paid late.</summary>
internal sealed class DemoTreasury(Person supervisor, Person manager)
{
    private const string Account = "4471-0092-MM", Carrier = "Ferry Lane carriers";

    /// <summary>Counted in days from the first.</summary>
    private const int FirstShort = 18, SecondShort = 39, InParts = 29, Late = 45;

    private const long StartingBalance = 18_240_00;

    private readonly SafeKeeper _safe = new();
    private readonly StandInBank _bank = new(Account, "USD", StartingBalance);
    private int _day;

    /// <summary>The files of a day, with the safe counted as it really is at that moment.</summary>
    public IReadOnlyDictionary<string, string> CountSafe(MadeDay day, DateTimeOffset at)
    {
        if (_day == 0 && DateOnly.FromDateTime(at.Date) == DateOnly.FromDateTime(DemoStore.Evening.Date))
        {
            // Nothing lies behind it: the safe is as the day itself has it.
            return day.Files;
        }

        var floats = JsonNode.Parse(day.Files["day.json"])!["registers"]!.AsArray()
            .ToDictionary(r => (string)r!["id"]!, r => (long)(decimal.Parse((string)r!["float"]!, CultureInfo.InvariantCulture) * 100));
        var files = day.Files.ToDictionary(f => f.Key, f => f.Value);
        files["counts.json"] = _safe.Count(files["counts.json"], files["journal.jsonl"], floats, at);
        return files;
    }

    /// <summary>What happens between the counts of a day and its close.</summary>
    public async Task Night(IServiceProvider services, DateOnly date, TimeProvider clock)
    {
        _day++;
        var days = services.GetRequiredService<DayStore>();
        if (date.DayOfWeek is not (DayOfWeek.Saturday or DayOfWeek.Sunday))
        {
            var text = _bank.Statement(_bank.Stated?.AddDays(1) ?? date, date, _day % 2 == 0 ? "02" : "08");
            var read = CamtFile.Read(new MemoryStream(Encoding.UTF8.GetBytes(text)),
                (await services.GetRequiredService<SetupBook>().Now())!.Setup.TimeZone);
            var taken = await ActivatorUtilities.CreateInstance<BankDesk>(services, clock)
                .Take([.. read.Statements], $"statement-{date:yyyy-MM-dd}.xml", supervisor.Id.Value);
            if ((read.Objection ?? taken.Objection) is { } refused)
            {
                throw new InvalidOperationException($"A statement of the demo was refused: {refused}");
            }
        }

        var view = (await days.View(date))!;
        foreach (var off in view.Unresolved.Where(b => b.Cell.Key.IsPlace).ToList())
        {
            var (form, resolving) = (Guid.NewGuid(), ActivatorUtilities.CreateInstance<Resolving>(services, clock));
            var why = view.PlaceLeads.FirstOrDefault(l => l.Cell == off.Cell.Key)?.Says(view.Setup) ?? "The bank says so.";
            await resolving.Add(date, form, [new(EntryKind.Accept, [new(off.Cell.Key, off.Left!.Value)], null, why, [])], supervisor);
            await resolving.Approve(date, form, manager);
        }

        view = (await days.View(date))!;
        var there = view.Money.Custody.End;
        var pieces = DepositProposal.Of(there.Pieces, view.Setup.Policy.SafeFund!.Value, view.Setup.Denominations);
        var bag = (70_400 + _day).ToString(CultureInfo.InvariantCulture);
        var desk = ActivatorUtilities.CreateInstance<DepositDesk>(services, clock);
        var outcome = await desk.Seal(
            date, Guid.NewGuid(), bag, pieces.ToDictionary(p => p.Denomination.Minor, p => p.Number.ToString(CultureInfo.InvariantCulture)),
            [.. there.Checks.Select(c => c.Key)], supervisor, manager);
        if (!outcome.IsDone)
        {
            throw new InvalidOperationException($"A deposit of the demo was refused: {outcome.Objection}");
        }

        _safe.Take(pieces.Select(p => KeyValuePair.Create(p.Denomination.Minor, p.Number)));
        view = (await days.View(date))!;
        var deposit = view.Money.Acts.Deposits[^1];
        await desk.HandOver(deposit.Number, Carrier, $"S{deposit.Number + 2200}", supervisor);
        _bank.IsNew(bag);
        _bank.Receive(bag, date, deposit.Cash.Minor, deposit.CheckAmount.Minor, _day is FirstShort or SecondShort ? 20_00 : 0,
            _day == InParts);
        foreach (var funding in view.Money.Settled)
        {
            var processor = view.Setup.Processors.First(p => p.Id == funding.Processor);
            _bank.IsNew(funding.Key);
            _bank.Pay(processor.Reference, _day == Late && funding.Processor == "cards" ? BankDays.After(funding.Due, 3) : funding.Due,
                funding.Expected.Minor, funding.Number, date);
        }
    }

    /// <summary>What the bank goes on with.</summary>
    public BankState Bank => _bank.State;

    /// <summary>What really lies in the safe of the demo's evening, once its last drawer is counted.</summary>
    public string HoldsAtNight(MadeDay today)
    {
        const string miscounted = "GY-A";
        _safe.Bring(today.Uncounted.Pieces, 200_00);
        if (today.Troubles.SelectMany(t => t.Cells.Where(c => t.Kind == "count-slip" && c.Drawer == miscounted)).Select(c => c.Variance)
            .FirstOrDefault() is < 0 and var off)
        {
            _safe.Exchange(5_00, 10_00, (int)(-off / 5_00));
        }

        return string.Join(", ", _safe.Pieces.Where(p => p.Value != 0).OrderByDescending(p => p.Key)
            .Select(p => string.Create(CultureInfo.InvariantCulture, $"{p.Value} × {p.Key / 100}.{p.Key % 100:00}")));
    }
}
