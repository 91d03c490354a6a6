using Fondo.Core.Banking;

namespace Fondo.Core.Closing;

/// <summary>Something that the bank has and the books do not have yet (positive), or the other way round.</summary>
public sealed record BankOutstanding(DateOnly Date, string What, Money Amount);

/// <summary>An account of the books held against the bank's own balance on its last statement.</summary>
/// <param name="Account">As the books name it.</param>
/// <param name="Numbers">The accounts at the bank whose lines are posted there.</param>
/// <param name="Entries">What all entries up to the day posted there.</param>
/// <param name="Before">What the bank had before its first line here: no entry says it.</param>
/// <param name="Statement">The balance with which the last statements end.</param>
/// <param name="StatementOf">The day on which the last statement ends; null where there is none yet.</param>
public sealed record BankReconciliation(
    string Account, ImmutableArray<string> Numbers, Money Entries, Money Before, ImmutableArray<BankOutstanding> Outstanding,
    Money Statement, DateOnly? StatementOf)
{
    /// <summary>What the books say, with what was there before.</summary>
    public Money Book => Entries + Before;

    /// <summary>What nothing accounts for; nothing where all is well.</summary>
    public Money Difference => Book + Outstanding.Sum(o => o.Amount) - Statement;

    /// <param name="statements">The statements of these accounts that stand and end by the day, with the lines that each brought.</param>
    /// <param name="booked">The lines that stand in the entries, by their keys, with their days and amounts.</param>
    public static BankReconciliation Of(
        string account, ImmutableArray<string> numbers, Money entries, IReadOnlyCollection<BankStatement> statements,
        IReadOnlyDictionary<string, (DateOnly Booked, Money Amount)> booked)
    {
        var (before, ends, last) = (Money.Zero, Money.Zero, (DateOnly?)null);
        var outstanding = new List<BankOutstanding>();
        foreach (var own in statements.GroupBy(s => s.Account, StringComparer.Ordinal))
        {
            var inOrder = own.OrderBy(s => s.From).ThenBy(s => s.To).ToList();
            var (first, latest) = (First(inOrder), Last(inOrder));
            (before, ends, last) =
                (before + first.Opening, ends + latest.Closing, last is { } known && known > latest.To ? known : latest.To);
            foreach (var (statement, place) in inOrder.Select((s, i) => (s, i)).Skip(1))
            {
                var earlier = inOrder[..place];
                if (!earlier.Exists(s => s.Closing == statement.Opening || s.To >= statement.From))
                {
                    var since = earlier.MaxBy(s => s.To)!;
                    outstanding.Add(new(statement.From, $"statement missing since {since.To:yyyy-MM-dd}",
                        statement.Opening - since.Closing));
                }
            }
        }

        var stated = statements.SelectMany(s => s.Lines).ToDictionary(l => l.Key, StringComparer.Ordinal);
        outstanding.AddRange(stated.Values.Where(l => !booked.ContainsKey(l.Key))
            .Select(l => new BankOutstanding(l.Booked, l.Text, l.Amount)));
        outstanding.AddRange(booked.Where(b => !stated.ContainsKey(b.Key))
            .Select(b => new BankOutstanding(b.Value.Booked, b.Key, -b.Value.Amount)));
        return new(account, numbers, entries, before, [.. outstanding.OrderBy(o => o.Date).ThenBy(o => o.What, StringComparer.Ordinal)],
            ends, last);
    }
    /// <summary>Of several statements that begin on the first day, the one that goes on from none of the others.</summary>
    private static BankStatement First(List<BankStatement> inOrder)
    {
        var earliest = inOrder.Where(s => s.From == inOrder[0].From).ToList();
        return earliest.Find(s => !earliest.Exists(o => o != s && o.Closing == s.Opening)) ?? earliest[0];
    }

    /// <summary>Of several that end on the last day, the one from which none of the others goes on.</summary>
    private static BankStatement Last(List<BankStatement> inOrder)
    {
        var latest = inOrder.Where(s => s.To == inOrder.Max(l => l.To)).ToList();
        return latest.FindLast(s => !latest.Exists(o => o != s && o.Opening == s.Closing)) ?? latest[^1];
    }
}
