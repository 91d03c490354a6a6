using Fondo.Core.Custody;
using Fondo.Core.SetUp;
using Fondo.Store.Days;
using Fondo.Store.Model;
using Microsoft.EntityFrameworkCore;

namespace Fondo.Store.Treasury;

/// <summary>Writes down what goes into the safe or comes out of it, beside what registers, counts and deposits say.</summary>
public sealed class SafeDesk(StoreContext db, DayStore days, DayLock guard, TimeProvider clock)
{
    /// <param name="form">Made with the page: the same form twice is one movement.</param>
    /// <param name="typed">The amount.</param>
    public Task<Outcome> Move(DateOnly day, Guid form, SafeMovementKind kind, string? typed, string? reason, Person by) => guard.Write(day, async () =>
    {
        if (!by.May(Right.Supervise))
        {
            return Outcome.Refused("Only a supervisor or a manager moves money at the safe.");
        }

        if (await days.View(day) is not { } view)
        {
            return Outcome.Refused("Nothing is known of this day yet.");
        }

        var currency = view.Setup.Currency;
        if (Core.Amounts.TypedAmount.Read(typed, currency) is not { Sign: > 0 } amount || amount.Minor > Limits.WholeUnits * currency.Unit)
        {
            return Outcome.Refused($"Type an amount above nothing, like {currency.Format(new(25_000))}.");
        }

        if (Reasons.Needed(reason) is { } withheld)
        {
            return Outcome.Refused(withheld);
        }

        if (await db.SafeMovements.AsNoTracking().SingleOrDefaultAsync(m => m.Id == form) is { } made)
        {
            return (made.Kind, made.Amount, made.Reason) == (kind, amount.Minor, reason!.Trim()) ? Outcome.Done
                : Outcome.Refused("This form was sent before with other contents, and those stand. Load the page to see them.");
        }

        if (kind == SafeMovementKind.Opening && (view.Money.Custody.Start.Loose is not null || view.Money.Acts.Movements.Any(m => m.Kind == kind)))
        {
            return Outcome.Refused("What lay in the safe at the beginning is known already. What lies there now is counted.");
        }

        db.SafeMovements.Add(new() { Id = form, Day = day, Kind = kind, Amount = amount.Minor, Reason = reason!.Trim(), By = by.Id.Value, At = clock.GetUtcNow() });
        return Outcome.Done;
    });
}
