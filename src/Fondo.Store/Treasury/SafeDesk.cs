using Fondo.Core.Amounts;
using Fondo.Core.Custody;
using Fondo.Core.Journal;
using Fondo.Core.SetUp;
using Fondo.Store.Days;
using Fondo.Store.Model;
using Microsoft.EntityFrameworkCore;

namespace Fondo.Store.Treasury;

/// <summary>A movement at the safe as a person enters it.</summary>
/// <param name="Form">Made with the page: the same form twice is one movement.</param>
/// <param name="Typed">The amount; ignored where pieces are typed.</param>
public sealed record SafeMovementForm(Guid Form, SafeMovementKind Kind, string? Typed, string? Reason)
{
    /// <summary>The register whose drawer a float goes to.</summary>
    public RegisterId? Register { get; init; }

    /// <summary>The change order that is paid, delivered or closed.</summary>
    public int? Order { get; init; }

    /// <summary>Pieces by denomination in minor units, where change was delivered.</summary>
    public IReadOnlyDictionary<long, string> Pieces { get; init; } = new Dictionary<long, string>();
}

/// <summary>Writes down what goes into the safe or comes out of it, and follows change orders (rules §9).</summary>
public sealed class SafeDesk(StoreContext db, DayStore days, DayLock guard, TimeProvider clock)
{
    /// <param name="witness">The second person, who proved it with their PIN; null where none is there.</param>
    public Task<Outcome> Move(DateOnly day, SafeMovementForm form, Person by, Person? witness) =>
        guard.Write(day, by, ActKind.MoveSafeMoney, async () =>
    {
        if (await days.View(day) is not { } view)
        {
            return Outcome.Refused("Nothing was imported for this day yet.");
        }

        var order = view.Money.Orders.FirstOrDefault(o => o.Number == form.Order);
        if (form.Order is { } number && order is null && !await db.SafeMovements.AnyAsync(m => m.Id == form.Form))
        {
            return Outcome.Refused($"Change order {number} is not open.");
        }

        var (amount, pieces, objection) = Amount(form, order, view.Setup);
        if ((objection ?? Reasons.Needed(form.Reason)) is { } refused)
        {
            return Outcome.Refused(refused);
        }

        var reason = form.Reason!.Trim();
        if (await db.SafeMovements.AsNoTracking().SingleOrDefaultAsync(m => m.Id == form.Form) is { } made)
        {
            return (made.Kind, made.Amount, made.Reason, made.Pieces) == (form.Kind, amount.Minor, reason, pieces) ? Outcome.Done
                : Outcome.Refused("This form was already sent with different values, and those were kept. Reload the page to see them.");
        }

        if (Objection(form, amount, view) is { } why)
        {
            return Outcome.Refused(why);
        }

        var needsSecond = NeedsSecond(form.Kind, amount, view);
        if (needsSecond && witness?.MayBeSecond(ActKind.MoveSafeMoney, by) != true)
        {
            return Outcome.Refused(
                $"Above {view.Setup.Currency.Say(view.Setup.Policy.ApprovalAbove)} moving money at the safe takes two people. Someone "
                    + "else must type their PIN.");
        }

        db.SafeMovements.Add(new()
        {
            Id = form.Form,
            Day = day,
            Kind = form.Kind,
            Amount = amount.Minor,
            Reason = reason,
            By = by.Id.Value,
            At = clock.GetUtcNow(),
            Witness = needsSecond ? witness!.Id.Value : null,
            Register = form.Register?.Value,
            Order = form.Order,
            Pieces = pieces,
        });
        return Outcome.Done;
    });

    /// <summary>Orders change from the bank: nothing moves yet.</summary>
    /// <param name="form">Made with the page: the same form twice is one order.</param>
    /// <param name="typed">Pieces by denomination in minor units.</param>
    public Task<Outcome> Order(DateOnly day, Guid form, IReadOnlyDictionary<long, string> typed, Person by)
    {
        List<Objection> objections = [];
        return guard.Write(day, by, ActKind.OrderChange, async () =>
        {
            if (await days.View(day) is not { } view)
            {
                return Outcome.Refused("Nothing was imported for this day yet.");
            }

            var pieces = TypedPieces.Read(typed, view.Setup, objections);
            if (await db.ChangeOrders.AsNoTracking().SingleOrDefaultAsync(o => o.Id == form) is { } made)
            {
                return made.Pieces == MoneyBook.Write(pieces)
                    ? Outcome.Done
                    : Outcome.Refused(
                        $"This form already placed change order {made.Number}, for different pieces. Reload the page to see it.");
            }

            if (pieces.IsEmpty && objections.Count == 0)
            {
                objections.Add(new(null, "Type the pieces to order."));
            }

            if (objections.Count > 0)
            {
                return Outcome.Refused(objections);
            }

            db.ChangeOrders.Add(new()
            {
                Number = (await db.ChangeOrders.MaxAsync(o => (int?)o.Number) ?? 0) + 1,
                Id = form,
                Day = day,
                Pieces = MoneyBook.Write(pieces),
                By = by.Id.Value,
                At = clock.GetUtcNow()
            });
            return Outcome.Done;
        });
    }

    /// <summary>Whether a second person stands by: above the limit, for all that one day moved at the safe without one taken together, so
    /// that slices change nothing.</summary>
    public static bool NeedsSecond(SafeMovementKind kind, Money amount, DayView view) => kind != SafeMovementKind.Opening
        && view.Money.Acts.Movements.Where(m => m.Witness is null && m.Kind != SafeMovementKind.Opening).Sum(m => m.Amount)
            + amount > view.Setup.Policy.ApprovalAbove;

    /// <summary>What is typed, in minor units: of delivered change its pieces, of a closed order what never came.</summary>
    private static (Money Amount, string Pieces, string? Objection) Amount(SafeMovementForm form, OpenOrder? order, Setup setup)
    {
        if (form.Kind == SafeMovementKind.OrderClosed)
        {
            return (order?.OnItsWay ?? Money.Zero, "", null);
        }

        if (form.Pieces.Count > 0)
        {
            List<Objection> objections = [];
            var pieces = TypedPieces.Read(form.Pieces, setup, objections);
            return objections.Count > 0
                ? (Money.Zero, "", objections[0].Sentence)
                : (pieces.Sum(p => p.Worth), MoneyBook.Write(pieces), pieces.IsEmpty ? "Type the pieces that came." : null);
        }

        var currency = setup.Currency;
        return TypedAmount.Read(form.Typed, currency) is { Sign: > 0 } amount && amount.Minor <= Limits.WholeUnits * currency.Unit
            ? (amount, "", null) : (Money.Zero, "", $"Type an amount above 0, like {currency.Format(new(25_000))}.");
    }

    private static string? Objection(SafeMovementForm form, Money amount, DayView view)
    {
        var (custody, currency) = (view.Money.Custody, view.Setup.Currency);
        switch (form.Kind)
        {
            case SafeMovementKind.Opening when custody.Start.Loose is not null
                || view.Money.Acts.Movements.Any(m => m.Kind == SafeMovementKind.Opening):
                return "The opening amount of the safe is already recorded. Count the safe to record what it holds now.";
            case SafeMovementKind.Opening when custody.Count is not null:
                return "The safe is already counted, and its first count is the opening amount. Nothing was changed.";
            case SafeMovementKind.FloatIssued
                when form.Register is not { } register || view.Setup.Find(register) is not { Kind: not RegisterKind.Online }:
                return "Choose the register whose drawer the float went to.";
            case SafeMovementKind.ChangeGiven or SafeMovementKind.ChangeBought or SafeMovementKind.OrderClosed when form.Order is null:
                return "Choose the change order.";
            case SafeMovementKind.ChangeBought when form.Pieces.Count == 0:
                return "Type the pieces that came.";
            case SafeMovementKind.ChangeGiven when view.Money.Orders.First(o => o.Number == form.Order).ToPay is var due && amount > due:
                return $"{currency.Say(due)} is still to be paid for order {form.Order}. Nothing was changed.";
        }

        if (form.Kind is SafeMovementKind.ChangeGiven or SafeMovementKind.FloatIssued or SafeMovementKind.PettyCash)
        {
            return custody.End.Loose
                is not { } loose ? "Fondo does not know what the safe holds yet. Count it or enter its opening amount first."
                : amount > loose ? $"The safe holds {currency.Say(loose)}, so {currency.Say(amount)} cannot come out of it." : null;
        }

        return null;
    }
}
