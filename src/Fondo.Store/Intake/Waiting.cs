using Fondo.Core.Amounts;
using Fondo.Core.Cash;
using Fondo.Core.Cells;
using Fondo.Core.Checks;
using Fondo.Core.Closing;
using Fondo.Core.Days;
using Fondo.Core.Entries;
using Fondo.Core.Journal;
using Fondo.Core.Leads;
using Fondo.Core.Matching;
using Fondo.Core.Proof;
using Fondo.Core.Reconciling;
using Fondo.Core.SetUp;
using Fondo.Core.Sheets;
using Fondo.Store.Model;
using Microsoft.EntityFrameworkCore;

namespace Fondo.Store.Intake;

/// <summary>The lines that wait for a person's decision.</summary>
public sealed class Waiting(StoreContext db, JournalIntake intake, TimeProvider clock)
{
    public async Task<IReadOnlyList<AsideRow>> All() => await db.Aside.AsNoTracking().Where(a => a.Decision == null).OrderBy(a => a.Id).Take(200).ToListAsync();

    public Task<int> Count() => db.Aside.CountAsync(a => a.Decision == null);

    /// <summary>What stands there stays, and the line is left out; both are remembered with the reason.</summary>
    public Task<Outcome> LeaveOut(long id, string? reason, Person by) => Decide(id, "left out", reason, by, _ => Task.FromResult<string?>(null));

    /// <summary>The line takes the place of what is there.</summary>
    public Task<Outcome> TakeInstead(long id, string? reason, Person by) => Decide(id, "taken instead", reason, by, a => intake.TakeInstead(a, by.Id.Value, reason!.Trim()));

    /// <summary>The line is taken, now that what stood against it was mended.</summary>
    public Task<Outcome> TryAgain(long id, Person by) => Decide(id, "taken", "what stood against it was mended", by, a => intake.TryAgain(a, by.Id.Value));

    private async Task<Outcome> Decide(long id, string decision, string? reason, Person by, Func<AsideRow, Task<string?>> work)
    {
        if (string.IsNullOrWhiteSpace(reason))
        {
            return Outcome.Refused("Say why: what is decided here is kept.");
        }

        if (Reasons.Objection(reason) is { } withheld)
        {
            return Outcome.Refused(withheld);
        }

        if (await db.Aside.AsNoTracking().SingleOrDefaultAsync(a => a.Id == id) is not { Decision: null } aside)
        {
            return Outcome.Refused("This was decided already.");
        }

        if (await work(aside) is { } why)
        {
            return Outcome.Refused($"{aside.Key} still waits: {why}.");
        }

        await db.Aside.Where(a => a.Id == id).ExecuteUpdateAsync(s => s
            .SetProperty(a => a.Decision, decision).SetProperty(a => a.Reason, reason.Trim()).SetProperty(a => a.DecidedBy, by.Id.Value).SetProperty(a => a.DecidedAt, clock.GetUtcNow()));
        return Outcome.Done;
    }
}
