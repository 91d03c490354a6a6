using System.Collections.Immutable;
using Fondo.Core.Amounts;
using Fondo.Core.Proof;
using Fondo.Core.SetUp;
using Fondo.Files.Text;
using Fondo.Store.Days;
using Fondo.Store.Model;
using Microsoft.EntityFrameworkCore;

namespace Fondo.Store.Treasury;

/// <summary>Seals deposits, hands them over, opens them again before they left.</summary>
public sealed class DepositDesk(StoreContext db, DayStore days, DayLock guard, MoneyBook book, TimeProvider clock)
{
    private const int LongestName = 64;

    /// <param name="form">Made with the page: the same form twice is one deposit.</param>
    /// <param name="typed">Pieces by denomination in minor units.</param>
    /// <param name="checks">The keys of the checks that go with it.</param>
    /// <param name="witness">The second person, who proved it with their PIN.</param>
    public Task<Outcome> Seal(DateOnly day, Guid form, string? bag, IReadOnlyDictionary<long, string> typed,
        IReadOnlyCollection<string> checks, Person by, Person witness)
    {
        List<Objection> objections = [];
        return guard.Write(day, by, ActKind.SealDeposit, async () =>
        {
            if (await days.View(day) is not { } view)
            {
                return Outcome.Refused("Nothing was imported for this day yet.");
            }

            var name = bag?.Trim() ?? "";
            var pieces = TypedPieces.Read(typed, view.Setup, objections);
            var held = view.Money.Custody.End.Checks.ToDictionary(c => c.Key);
            if (await db.Deposits.AsNoTracking().SingleOrDefaultAsync(d => d.Id == form) is { } made)
            {
                return made.Bag == name && made.Pieces == MoneyBook.Write(pieces)
                    && made.Checks.Split('\n', StringSplitOptions.RemoveEmptyEntries).ToHashSet().SetEquals(checks) ? Outcome.Done
                    : Outcome.Refused(
                        "This form already sealed a deposit with different contents. Reload the page to see it.");
            }

            await LookAtBag(name, objections);
            if (!witness.MayBeSecond(ActKind.SealDeposit, by))
            {
                objections.Add(new("witness", "A deposit takes two people. Someone else must type their PIN."));
            }

            if (checks.Any(c => !held.ContainsKey(c)))
            {
                objections.Add(new("checks", "One of these checks is no longer in the safe. Nothing was sealed. Reload the page."));
            }

            if (pieces.IsEmpty && checks.Count == 0 && objections.Count == 0)
            {
                objections.Add(new(null, "This deposit is empty. Type the pieces, or choose checks."));
            }

            LookIntoSafe(view, pieces, objections);
            if (objections.Count > 0)
            {
                return Outcome.Refused(objections);
            }

            db.Deposits.Add(new()
            {
                Number = (await db.Deposits.MaxAsync(d => (int?)d.Number) ?? 0) + 1,
                Id = form,
                Day = day,
                Bag = name,
                Pieces = MoneyBook.Write(pieces),
                Checks = string.Join('\n', held.Values.Where(c => checks.Contains(c.Key)).Select(c => c.Key)),
                By = by.Id.Value,
                Witness = witness.Id.Value,
                At = clock.GetUtcNow(),
            });
            return Outcome.Done;
        });
    }

    private async Task LookAtBag(string name, List<Objection> objections)
    {
        if (name.Length is 0 or > LongestName)
        {
            objections.Add(new("bag", name.Length == 0
                ? "Type the number on the bag."
                : $"A bag number has at most {LongestName} characters."));
        }
        else if (CardNumbers.Contains(name))
        {
            objections.Add(new("bag", "That is a full card number. It was not saved. Type the number on the bag."));
        }
        else if (await db.Deposits.AsNoTracking().Where(d => d.Bag == name).Select(d => new { d.Number, d.Day })
            .FirstOrDefaultAsync() is { } used)
        {
            objections.Add(new("bag",
                $"Bag {name} was already used for deposit {used.Number} on {used.Day:d MMM}. Check the number."));
        }
    }

    /// <summary>No more goes than lies there, of each piece and together.</summary>
    private static void LookIntoSafe(DayView view, ImmutableArray<Pieces> pieces, List<Objection> objections)
    {
        var known = view.Money.Custody.End;
        foreach (var piece in known.Pieces.IsEmpty ? [] : pieces)
        {
            var there = known.Pieces.Where(p => p.Denomination == piece.Denomination).Sum(p => p.Number);
            if (piece.Number > there)
            {
                objections.Add(new($"p{piece.Denomination.Minor}", $"The safe holds only {there}, so {piece.Number} cannot go."));
            }
        }

        if (known.Loose is { } loose && pieces.Sum(p => p.Worth) is var cash && cash > loose && objections.Count == 0)
        {
            objections.Add(new(null,
                $"You cannot deposit {view.Setup.Currency.Say(cash)}: the safe should hold {view.Setup.Currency.Say(loose)}."));
        }
    }

    /// <summary>Says who took the sealed bag. It may be said on any day, also when the day that sealed it is closed.</summary>
    public async Task<Outcome> HandOver(int number, string? to, string? seal, Person by)
    {
        var (name, mark) = (to?.Trim() ?? "", seal?.Trim() ?? "");
        if (by.Refusal(ActKind.HandOverDeposit) is { } refused)
        {
            return refused;
        }

        if (name.Length is 0 or > LongestName || mark.Length > LongestName)
        {
            return Outcome.Refused($"Type who took the deposit, in at most {LongestName} characters.");
        }

        if (CardNumbers.Contains(name) || CardNumbers.Contains(mark))
        {
            return Outcome.Refused("That is a full card number. It was not saved.");
        }

        await using var transaction = await db.BeginWriting();
        if (await book.Deposit(number) is not { } deposit)
        {
            return Outcome.Refused("There is no such deposit.");
        }

        if (deposit.HandedOver is { } handed)
        {
            return (handed.To, handed.Seal) == (name, mark)
                ? Outcome.Done
                : Outcome.Refused($"Deposit {number} was already handed to {handed.To}. Nothing was changed.");
        }

        if (deposit.Unsealed is not null)
        {
            return Outcome.Refused($"Deposit {number} was reopened and cannot be handed over.");
        }

        db.HandOvers.Add(new() { Number = number, To = name, Seal = mark, By = by.Id.Value, At = clock.GetUtcNow() });
        await db.SaveChangesAsync();
        await transaction.CommitAsync();
        return Outcome.Done;
    }

    /// <summary>Opens a sealed bag again: what is in it lies in the safe again, and its number is used up.</summary>
    /// <param name="witness">The second person, who proved it with their PIN; needed above the limit for approvals.</param>
    public Task<Outcome> Unseal(DateOnly day, int number, string? reason, Person by, Person? witness) =>
        guard.Write(day, by, ActKind.OpenDeposit, async () =>
    {
        if (Reasons.Needed(reason) is { } withheld)
        {
            return Outcome.Refused(withheld);
        }

        if (await book.Deposit(number) is not { } deposit || deposit.Day.Date > day)
        {
            return Outcome.Refused("There is no such deposit.");
        }

        if (deposit.HandedOver is { } handed)
        {
            return Outcome.Refused($"Deposit {number} was handed to {handed.To} and cannot be reopened here.");
        }

        if (deposit.Unsealed is not null)
        {
            return Outcome.Done;
        }

        if (await days.View(day) is not { } view)
        {
            return Outcome.Refused("Nothing was imported for this day yet.");
        }

        if (view.Money.Bank.End.Deposits.All(d => d.Deposit.Number != number))
        {
            return Outcome.Refused($"Deposit {number} is already at the bank.");
        }

        var needsSecond = deposit.Cash > view.Setup.Policy.ApprovalAbove;
        if (needsSecond && witness?.MayBeSecond(ActKind.OpenDeposit, by) != true)
        {
            return Outcome.Refused(
                $"Above {view.Setup.Currency.Say(view.Setup.Policy.ApprovalAbove)} opening a sealed deposit takes two people. Someone "
                    + "else must type their PIN.");
        }

        db.Unsealings.Add(new()
        {
            Number = number,
            Day = day,
            Reason = reason!.Trim(),
            By = by.Id.Value,
            Witness = needsSecond ? witness!.Id.Value : null,
            At = clock.GetUtcNow()
        });
        return Outcome.Done;
    });
}
