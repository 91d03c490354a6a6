using Fondo.Store.Model;
using Microsoft.EntityFrameworkCore;

namespace Fondo.Store.Trails;

/// <summary>The rows, beside the records, that the trail refers to.</summary>
internal static class TrailTables
{
    /// <summary>All of them, as the acts that wrote them.</summary>
    public static async Task<IReadOnlyList<Act>> Rows(StoreContext db)
    {
        var acts = new List<Act>();
        acts.AddRange((await db.Setups.AsNoTracking().OrderBy(r => r.Id).ToListAsync()).Select(Written.ActOf));
        acts.AddRange((await db.Set<SetupApprovalRow>().AsNoTracking().OrderBy(r => r.SetupId).ToListAsync()).Select(Written.ActOf));
        acts.AddRange((await db.RegisterKeys.AsNoTracking().OrderBy(r => r.MadeAt).ToListAsync()).Select(Written.ActOf));
        acts.AddRange((await db.Machines.AsNoTracking().OrderBy(r => r.PairedAt).ToListAsync()).Select(Written.ActOf));
        acts.AddRange((await db.Aside.AsNoTracking().OrderBy(r => r.Id).ToListAsync()).Select(Written.ActOf));
        acts.AddRange((await db.Gaps.AsNoTracking().OrderBy(r => r.Id).ToListAsync()).Select(Written.ActOf));
        acts.AddRange((await db.Entries.AsNoTracking().Include(r => r.Postings).OrderBy(r => r.At).ToListAsync()).Select(Written.ActOf));
        acts.AddRange((await db.Set<ApprovalRow>().AsNoTracking().OrderBy(r => r.At).ToListAsync()).Select(Written.ActOf));
        acts.AddRange((await db.Excuses.AsNoTracking().OrderBy(r => r.At).ToListAsync()).Select(Written.ActOf));
        acts.AddRange((await db.Closes.AsNoTracking().OrderBy(r => r.Number).ToListAsync()).Select(Written.ActOf));
        acts.AddRange((await db.LateTickets.AsNoTracking().OrderBy(r => r.Ticket).ToListAsync()).Select(Written.ActOf));
        acts.AddRange((await db.Seen.AsNoTracking().OrderBy(r => r.At).ToListAsync()).Select(Written.ActOf));
        acts.AddRange((await db.MachineReadings.AsNoTracking().OrderBy(r => r.Id).ToListAsync()).Select(Written.ActOf));
        acts.AddRange((await db.Settlements.AsNoTracking().OrderBy(r => r.At).ToListAsync()).Select(Written.ActOf));
        acts.AddRange((await db.SettlementSteps.AsNoTracking().OrderBy(r => r.At).ThenBy(r => r.Number).ToListAsync())
            .Select(Written.ActOf));
        acts.AddRange((await db.Mappings.AsNoTracking().OrderBy(r => r.Id).ToListAsync()).Select(Written.ActOf));
        acts.AddRange((await db.Pairings.AsNoTracking().OrderBy(r => r.Number).ToListAsync()).Select(Written.ActOf));
        acts.AddRange((await db.Answers.AsNoTracking().OrderBy(r => r.Number).ToListAsync()).Select(Written.ActOf));
        acts.AddRange((await db.SignOffs.AsNoTracking().OrderBy(r => r.Number).ToListAsync()).Select(Written.ActOf));
        acts.AddRange((await db.Reopenings.AsNoTracking().OrderBy(r => r.Number).ToListAsync()).Select(Written.ActOf));
        acts.AddRange((await db.CarryChanges.AsNoTracking().OrderBy(r => r.Number).ToListAsync()).Select(Written.ActOf));
        acts.AddRange((await db.Attachments.AsNoTracking().OrderBy(r => r.At).ToListAsync()).Select(Written.ActOf));
        acts.AddRange((await db.SafeMovements.AsNoTracking().OrderBy(r => r.At).ToListAsync()).Select(Written.ActOf));
        acts.AddRange((await db.Deposits.AsNoTracking().OrderBy(r => r.Number).ToListAsync()).Select(Written.ActOf));
        acts.AddRange((await db.HandOvers.AsNoTracking().OrderBy(r => r.At).ToListAsync()).Select(Written.ActOf));
        acts.AddRange((await db.Unsealings.AsNoTracking().OrderBy(r => r.At).ToListAsync()).Select(Written.ActOf));
        acts.AddRange((await db.BankStatements.AsNoTracking().OrderBy(r => r.At).ToListAsync()).Select(Written.ActOf));
        acts.AddRange(await BankLines(db));
        acts.AddRange((await db.MailServers.AsNoTracking().OrderBy(r => r.Number).ToListAsync()).Select(Written.ActOf));
        acts.AddRange((await db.BankDecisions.AsNoTracking().OrderBy(r => r.Number).ToListAsync()).Select(Written.ActOf));
        acts.AddRange((await db.StatementWithdrawals.AsNoTracking().OrderBy(r => r.At).ToListAsync()).Select(Written.ActOf));
        acts.AddRange((await db.BankLineDays.AsNoTracking().OrderBy(r => r.Key).ToListAsync()).Select(Written.ActOf));
        acts.AddRange((await db.Corrections.AsNoTracking().OrderBy(r => r.Close).ToListAsync()).Select(Written.ActOf));
        acts.AddRange((await db.HeldFiles.AsNoTracking().OrderBy(r => r.At).ToListAsync()).Select(Written.ActOf));
        acts.AddRange((await db.HeldAgreements.AsNoTracking().OrderBy(r => r.Number).ToListAsync()).Select(Written.ActOf));
        acts.AddRange((await db.HeldEnds.AsNoTracking().OrderBy(r => r.At).ToListAsync()).Select(Written.ActOf));
        acts.AddRange((await db.FileChanges.AsNoTracking().OrderBy(r => r.Number).ToListAsync()).Select(Written.ActOf));
        acts.AddRange((await db.ChangeOrders.AsNoTracking().OrderBy(r => r.Number).ToListAsync()).Select(Written.ActOf));
        return acts;
    }

    /// <summary>How rows that may change stand now, as the last line of each says it.</summary>
    public static async Task<IReadOnlyList<(string Of, string Content)>> States(StoreContext db) =>
    [
        .. (await db.Users.AsNoTracking().OrderBy(p => p.PersonId).ToListAsync()).Select(Written.StateOfPerson),
        .. (await db.RegisterKeys.AsNoTracking().Where(k => k.RevokedAt != null || k.RevokedBy != null).ToListAsync())
            .Select(Written.StateOfKey),
        .. (await db.Machines.AsNoTracking().Where(m => m.EndedAt != null || m.EndedBy != null).ToListAsync())
            .Select(Written.StateOfMachine),
        .. (await db.Aside.AsNoTracking().Where(a => a.Decision != null).ToListAsync())
            .Select(a => Written.StateOfAside(a.Id, a.Decision!, a.Reason, a.DecidedBy, a.DecidedAt)),
        .. (await db.Days.AsNoTracking().OrderBy(d => d.Date).ToListAsync()).Select(Written.StateOfDay),
    ];

    /// <summary>Lines went into the trail one by one, later as one act of their statement: each as it was written.</summary>
    private static async Task<IEnumerable<Act>> BankLines(StoreContext db)
    {
        var together = (await db.Trail.Where(t => t.Of.StartsWith(Written.LinesOf)).Select(t => t.Of.Substring(Written.LinesOf.Length))
            .ToListAsync()).ToHashSet(StringComparer.Ordinal);
        var statements = (await db.BankLines.AsNoTracking().OrderBy(r => r.Statement).ThenBy(r => r.Place).ToListAsync())
            .GroupBy(r => r.Statement);
        return statements.SelectMany(s => together.Contains(s.Key) ? [Written.ActOf(s.Key, s)] : s.Select(Written.ActOf));
    }
}
