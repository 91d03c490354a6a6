using Fondo.Core.Entries;
using Fondo.Core.Journal;
using Fondo.Core.SetUp;

namespace Fondo.Core.Banking;

/// <summary>A claim that has no end yet: neither paid nor given up.</summary>
/// <param name="Id">The entry that made it.</param>
/// <param name="Amount">To the store positive; what the store owes negative.</param>
public sealed record OpenClaim(Guid Id, TradingDay Day, Money Amount, bool IsOwedToStore, ClaimParty Party, PersonId Owner,
    DateTimeOffset Deadline, string Reason)
{
    /// <summary>As evidence names it.</summary>
    public string Key => Id.ToString("D");

    /// <summary>What is expected to bring it, where it is a sum that was carried and nobody's debt; null for a claim.</summary>
    public AwaitedProof? Awaits { get; init; }

    /// <summary>The account on which it stands, by its use.</summary>
    public string Use => Awaits is null ? UseOf(IsOwedToStore) : "carried";

    /// <summary>How a drawer ends it: what is owed to the store comes in, what the store owes goes out.</summary>
    public EntryDetail PaidAtADrawer => new EntryDetail.Moved(Amount.Sign < 0 ? MovementKind.PaidOut : MovementKind.PaidIn);

    public static string UseOf(bool isOwedToStore) => isOwedToStore ? "claim-owed" : "claim-owing";
}

/// <summary>A claim and the entry that ended it.</summary>
public sealed record EndedClaim(Entry Entry, OpenClaim Claim);

/// <summary>Claims from day to day, as a pure function of those that were open and of the entries.</summary>
public static class Claims
{
    /// <summary>What is open when the day ends: what was, less what was paid or given up, and what the day claimed. Beside it the claims
    /// that entries end without a line of the bank,
    /// given up or paid at a drawer, each with what was open of it at that moment.</summary>
    /// <param name="givenUp">Carried items that the day made into claims, each with its amount as a claim.</param>
    /// <param name="carried">Sums that the day carries (<see cref="Carrying.Sums"/>).</param>
    public static (ImmutableArray<OpenClaim> Open, ImmutableArray<EndedClaim> Ended) After(ImmutableArray<OpenClaim> before,
        IReadOnlyCollection<Entry> entries, IEnumerable<(Entry Entry, Money Amount)> givenUp,
        IEnumerable<(Entry Entry, Money Amount)> carried, TradingDay today)
    {
        var open = before.ToDictionary(c => c.Id);
        var (amounts, ended) = (givenUp.GroupBy(g => g.Entry.Id).ToDictionary(g => g.Key, g => g.Sum(i => i.Amount)),
            ImmutableArray.CreateBuilder<EndedClaim>());
        foreach (var entry in entries.Where(e => (e.Detail is EntryDetail.Owed || (e.Postings.IsEmpty && Ends(e))) && e.Stands(entries))
            .OrderBy(e => e.At).ThenBy(e => e.Detail is EntryDetail.Owed ? 0 : 1).ThenBy(e => e.Id))
        {
            var named = Named(entry, open);
            if (entry.Detail is not EntryDetail.Owed owed)
            {
                if (named is not null && open.Remove(named.Id))
                {
                    ended.Add(new(entry, named));
                }

                continue;
            }

            var amount = entry.Postings.IsEmpty ? amounts.GetValueOrDefault(entry.Id) : -entry.Postings.Sum(p => p.Amount);
            var paid = named?.IsOwedToStore == owed.IsOwedToStore ? named : null;
            open[paid?.Id ?? entry.Id] = paid is not null ? paid with { Amount = paid.Amount + amount }
                : new(entry.Id, today, amount, owed.IsOwedToStore, owed.Party, owed.Owner, owed.Deadline, entry.Reason);
        }

        foreach (var entry in entries.Where(e => e.Detail is EntryDetail.Moved { What: MovementKind.Arrival } && !e.Postings.IsEmpty
            && e.Stands(entries)))
        {
            if (Named(entry, open) is { Awaits: not null } sum)
            {
                open[sum.Id] = sum with { Amount = sum.Amount - entry.Postings.Sum(p => p.Amount) };
            }
        }

        foreach (var (entry, amount) in carried)
        {
            var awaited = (EntryDetail.Awaited)entry.Detail!;
            open[entry.Id] = new(entry.Id, today, amount, amount.Sign > 0, default, awaited.Owner, awaited.Deadline, entry.Reason)
            {
                Awaits = awaited.Proof
            };
        }

        return ([.. open.Values.Where(c => !c.Amount.IsZero).OrderBy(c => c.Day.Date).ThenBy(c => c.Id)], ended.ToImmutable());
    }

    /// <summary>What is left of them once the bank's lines that were found to pay them are off.</summary>
    public static ImmutableArray<OpenClaim> Paid(ImmutableArray<OpenClaim> claims, IEnumerable<BankMatch.Claimed> matches)
    {
        var paid = matches.ToLookup(m => m.Claim.Id, m => m.Booked);
        return [.. claims.Select(c => c with { Amount = c.Amount - paid[c.Id].Sum(b => b) }).Where(c => !c.Amount.IsZero)];
    }

    private static bool Ends(Entry entry) =>
        entry.Kind == EntryKind.Accept || entry.Detail is EntryDetail.Moved { What: MovementKind.PaidIn or MovementKind.PaidOut };

    private static OpenClaim? Named(Entry entry, Dictionary<Guid, OpenClaim> open) =>
        entry.Evidence.Select(e => Guid.TryParseExact(e, "D", out var id) ? open.GetValueOrDefault(id) : null)
            .FirstOrDefault(c => c is not null);
}
