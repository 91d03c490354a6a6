using Fondo.Core.Amounts;
using Fondo.Core.Proof;
using Fondo.Core.SetUp;
using Fondo.Files.Reading;
using Fondo.Files.Text;
using Fondo.Files.Writing;
using Fondo.Store.Days;
using Fondo.Store.Intake;
using Fondo.Store.Model;

namespace Fondo.Store.Settling;

/// <summary>A line of a terminal's printed totals as it was typed.</summary>
public sealed record TypedTotals(string Brand, string Sales, string SalesAmount, string Refunds, string RefundsAmount);

/// <summary>Takes in what terminals that are not connected print, typed in by a person.</summary>
public sealed class PrintedDesk(StoreContext db, DayStore days, DayLock guard, TimeProvider clock)
{
    public const string FoodBenefits = "food benefits", CashBenefits = "cash benefits";

    private const int MostNumber = 1_000_000;

    /// <summary>What was printed stands until the terminal's rows come; typed again, it takes the place of what was typed before.</summary>
    /// <returns>Objections name their field as <see cref="FieldOf"/> does.</returns>
    public Task<Outcome> Keep(DateOnly day, string terminal, IReadOnlyList<TypedTotals> typed, Person by)
    {
        List<Objection> objections = [];
        return guard.Write(day, by, ActKind.TypePrintedTotals, async () =>
        {
            if (await days.View(day) is not { } view)
            {
                return Outcome.Refused("Nothing was imported for this day yet.");
            }

            var setup = view.Setup;
            if (setup.Terminals.All(t => t.Terminal.Value != terminal))
            {
                return Outcome.Refused($"There is no terminal {terminal} in the set-up.");
            }

            var at = After(clock.GetUtcNow(), view.Day.Printed.Where(p => p.Terminal.Value == terminal), setup);
            var records = new Dictionary<string, RawRecord>();
            for (var i = 0; i < typed.Count; i++)
            {
                if (Line(terminal, at, typed[i], i, setup.Currency, by, objections) is { } line)
                {
                    var key = $"{terminal}/{at.UtcTicks}/{line.Brand}/{line.Benefit.Written()}";
                    if (!records.TryAdd(key, new(RecordKind.Printed, key, PrintedJson.Of(line, setup.Currency))))
                    {
                        objections.Add(new(FieldOf(i, "brand"), $"{typed[i].Brand} is listed twice."));
                    }
                }
            }

            if (objections.Count == 0 && records.Count == 0)
            {
                objections.Add(new(null, "You typed nothing. Type 0 for a terminal that took nothing."));
            }

            if (objections.Count > 0)
            {
                return Outcome.Refused(objections);
            }

            await RecordWriter.Append(db, day, records.Values, by.Id.Value, clock.GetUtcNow());
            await guard.Revise(day);
            return Outcome.Done;
        });
    }

    /// <summary>A field of a typed line.</summary>
    public static string FieldOf(int line, string field) =>
        string.Create(System.Globalization.CultureInfo.InvariantCulture, $"{line}/{field}");

    /// <summary>In whole seconds, and later than what was typed before.</summary>
    private static DateTimeOffset After(DateTimeOffset now, IEnumerable<PrintedLine> before, Setup setup)
    {
        var at = TimeZoneInfo.ConvertTime(now.AddTicks(-(now.Ticks % TimeSpan.TicksPerSecond)), setup.TimeZone);
        return before.Max(p => (DateTimeOffset?)p.At) is { } last && last >= at
            ? TimeZoneInfo.ConvertTime(last.AddSeconds(1), setup.TimeZone)
            : at;
    }

    private static PrintedLine? Line(string terminal, DateTimeOffset at, TypedTotals typed, int line, Currency currency, Person by,
        List<Objection> objections)
    {
        if (new[] { typed.Sales, typed.SalesAmount, typed.Refunds, typed.RefundsAmount }.All(t => t.Trim().Length == 0))
        {
            return null;
        }

        if (CardNumbers.Contains(typed.Brand) || typed.Brand.Length > 40)
        {
            objections.Add(new(FieldOf(line, "brand"), "Type a short brand name."));
            return null;
        }

        var brand = typed.Brand.Trim().ToLowerInvariant();
        var (sales, refunds) = (Number(typed.Sales, line, "sales", objections), Number(typed.Refunds, line, "refunds", objections));
        var (salesAmount, refundsAmount) = (Amount(typed.SalesAmount, line, "salesAmount", currency, objections),
            Amount(typed.RefundsAmount, line, "refundsAmount", currency, objections));
        if (sales == 0 && !salesAmount.IsZero)
        {
            objections.Add(new(FieldOf(line, "sales"), "Type how many sales make up this amount."));
        }

        if (refunds == 0 && !refundsAmount.IsZero)
        {
            objections.Add(new(FieldOf(line, "refunds"), "Type how many refunds make up this amount."));
        }

        var benefit = brand switch { FoodBenefits => Benefit.Food, CashBenefits => Benefit.Cash, _ => Benefit.None };
        return new(new(terminal), at, by.Id, benefit == Benefit.None ? brand : "ebt", benefit, sales, salesAmount, refunds, refundsAmount);
    }

    private static int Number(string typed, int line, string field, List<Objection> objections)
    {
        if (typed.Trim() is not { Length: > 0 } text)
        {
            return 0;
        }

        if (text.Length <= 7 && text.All(char.IsAsciiDigit)
            && int.Parse(text, System.Globalization.CultureInfo.InvariantCulture) is < MostNumber and var number)
        {
            return number;
        }

        objections.Add(new(FieldOf(line, field), "Type a whole number of 0 or more."));
        return 0;
    }

    private static Money Amount(string typed, int line, string field, Currency currency, List<Objection> objections)
    {
        if (typed.Trim().Length == 0)
        {
            return Money.Zero;
        }

        if (TypedAmount.Read(typed, currency) is { Sign: >= 0 } amount)
        {
            return amount;
        }

        objections.Add(new(FieldOf(line, field), $"Type an amount that is not negative, like {currency.Format(new(128415))}."));
        return Money.Zero;
    }
}
