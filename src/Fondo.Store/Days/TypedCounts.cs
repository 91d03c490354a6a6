using System.Collections.Immutable;
using Fondo.Core.Amounts;
using Fondo.Core.Cash;
using Fondo.Core.Journal;
using Fondo.Core.Proof;
using Fondo.Core.SetUp;
using Fondo.Files.Text;

namespace Fondo.Store.Days;

/// <summary>Reads a count as it was typed.</summary>
internal static class TypedCounts
{
    /// <summary>The count; what is wrong with it goes to the objections, each at its field.</summary>
    /// <param name="machines">What machines say of it.</param>
    public static Count Read(string key, CountTarget target, HandedIn count, bool isBlind, Person by, Setup setup,
        IReadOnlyList<MachineSays> machines, List<Objection> objections)
    {
        var rows = Rows(count.Typed, machines, setup, objections);
        return new(key, count.Kind, target.Drawer, target.Bag, by.Id, count.Witness, count.At, count.Attempt,
            TypedPieces.Of(rows), Checks(count.Typed, setup.Currency, objections),
            Stubs(count.Typed.Stubs, setup, objections))
        { How = rows, IsBlind = isBlind };
    }

    /// <summary>What a machine counted stays the machine's; where a hand says otherwise, the hand stands, with its reason.</summary>
    private static ImmutableArray<CountedRow> Rows(TypedCount typed, IReadOnlyList<MachineSays> machines, Setup setup,
        List<Objection> objections)
    {
        var rows = TypedPieces.Rows(typed.Pieces, setup, objections).ToDictionary(r => r.Denomination);
        var reason = typed.Overrules?.Trim() ?? "";
        var overruled = false;
        foreach (var (denomination, pieces, machine) in machines.Where(m => m.Pieces is not null)
            .Select(m => (m.Denomination, m.Pieces!.Value, m.Machine)))
        {
            if (rows.TryGetValue(denomination, out var row) && TypedPieces.PiecesOf(row).Number == pieces
                && row.Parts.All(p => p.By == Means.Piece))
            {
                rows[denomination] = new(denomination, [new(Means.Machine, machine, pieces)]);
            }
            else if (pieces != 0 || row is not null)
            {
                overruled = true;
                rows[denomination] = (row ?? new(denomination, [])) with { Instead = new(machine, pieces, reason) };
            }
        }

        if (Reasons.Objection(reason) is { } withheld)
        {
            objections.Add(new("overrules", withheld));
        }
        else if (overruled && reason.Length == 0)
        {
            objections.Add(new("overrules", "Give a reason for overriding the machine's count. Fondo keeps both numbers."));
        }

        return [.. rows.Values.OrderByDescending(r => r.Denomination)];
    }

    private static ImmutableArray<CountedCheck> Checks(TypedCount count, Currency currency, List<Objection> objections)
    {
        var (typed, checks) = (count.Checks, ImmutableArray.CreateBuilder<CountedCheck>());
        for (var i = 0; i < typed.Count; i++)
        {
            var (number, amount, routing) =
                (typed[i].Number.Trim(), typed[i].Amount.Trim(), (typed[i].Routing ?? "").Replace(" ", "", StringComparison.Ordinal));
            if (number.Length + amount.Length + routing.Length == 0)
            {
                continue;
            }

            if (CardNumbers.Contains(number) || CardNumbers.Contains(routing))
            {
                objections.Add(new($"c{i}", "This looks like a full card number. It was not saved."));
            }
            else if (TypedAmount.Read(amount, currency) is not { Sign: > 0 } worth)
            {
                objections.Add(new($"c{i}",
                    $"Check {(number.Length > 0 ? number : "without number")}: type its amount, like {currency.Format(new(5820))}."));
            }
            else if (routing.Length > 0 && !RoutingNumber.IsValid(routing))
            {
                objections.Add(new($"c{i}",
                    $"Check {(number.Length > 0 ? number : "without number")}: a routing number has nine digits, and the last one checks "
                        + $"the others; {routing} does not fit. Type it again, or leave it empty."));
            }
            else
            {
                var check = new CountedCheck(number, worth, routing.Length > 0 ? routing : null);
                if (number.Length > 0 && !count.HasSameChecks && checks.Contains(check))
                {
                    objections.Add(new($"c{i}", $"Check {number} of {currency.Format(worth)} is listed twice. Clear one of them, or tick "
                        + "“These are different checks”."));
                }

                checks.Add(check);
            }
        }

        return checks.ToImmutable();
    }

    private static ImmutableArray<CountedStub> Stubs(Dictionary<string, string> typed, Setup setup, List<Objection> objections)
    {
        var stubs = ImmutableArray.CreateBuilder<CountedStub>();
        foreach (var (tender, text) in typed.Where(s => s.Value.Trim().Length > 0))
        {
            if (setup.Find(new TenderId(tender)) is not { Proof: ProofKind.Count }
                || TypedAmount.Read(text, setup.Currency) is not { Sign: >= 0 } worth)
            {
                objections.Add(new($"s{tender}",
                    $"{setup.NameOf(new TenderId(tender))}: type an amount, like {setup.Currency.Format(new(350))}."));
            }
            else
            {
                stubs.Add(new(new(tender), worth));
            }
        }

        return stubs.ToImmutable();
    }
}
