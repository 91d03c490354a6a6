using System.Text.Encodings.Web;
using System.Text.Json;
using Fondo.Core.Closing;
using Fondo.Core.SetUp;
using Fondo.Store.Model;
using Fondo.Store.Trails;
using Microsoft.EntityFrameworkCore;

namespace Fondo.Store.Days;

/// <summary>Excuses what may be excused, and closes the day.</summary>
public sealed class ClosingDesk(StoreContext db, DayStore days, DayLock guard, LateTickets late, TimeProvider clock)
{
    private static readonly JsonSerializerOptions _readable = new() { WriteIndented = true, Encoder = JavaScriptEncoder.UnsafeRelaxedJsonEscaping };

    public Task<Outcome> Excuse(DateOnly day, GateId gate, string item, string reason, Person by) => guard.Write(day, async () =>
    {
        var view = (await days.View(day))!;
        if (string.IsNullOrWhiteSpace(reason))
        {
            return Outcome.Refused("Give a reason: it is read a year from now.");
        }

        if (Reasons.Objection(reason) is { } withheld)
        {
            return Outcome.Refused(withheld);
        }

        if (!by.May(Right.Supervise))
        {
            return Outcome.Refused("Only a supervisor or a manager excuses what is left.");
        }

        if (view.Gates.All(g => g.Id != gate || g.Left.All(i => i.Key != item)) && view.Excuses.Any(e => e.Gate == gate && e.Item == item))
        {
            return Outcome.Done;
        }

        if (view.Gates.SelectMany(g => g.Left.Where(i => g.Id == gate && i.Key == item)).FirstOrDefault() is not { CanBeExcused: true } left)
        {
            return Outcome.Refused("This is not something that can be excused.");
        }

        db.Excuses.Add(new() { Day = day, Gate = gate, Item = item, Seen = left.Sentence, Reason = reason.Trim(), By = by.Id.Value, At = clock.GetUtcNow() });
        return Outcome.Done;
    });

    /// <summary>Freezes the day when every gate is green. A second close is refused with a sentence, whoever comes second.</summary>
    public Task<Outcome> Close(DateOnly day, Person by) => guard.Write(day, async () =>
    {
        if (!by.May(Right.Supervise))
        {
            return Outcome.Refused("Only a supervisor or a manager closes the day.");
        }

        var view = (await days.View(day))!;
        if (view.Gates.FirstOrDefault(g => !g.IsGreen) is { } gate)
        {
            return Outcome.Refused($"The day cannot close yet. {gate.Left[0].Sentence}");
        }

        await Freeze(view, by);
        return Outcome.Done;
    });

    /// <summary>Freezes the day as it stands, numbers it and chains it to the close before. Within the day's lock; its gates are asked before.</summary>
    public async Task Freeze(DayView view, Person by)
    {
        var last = await db.Closes.AsNoTracking().OrderByDescending(c => c.Number).FirstOrDefaultAsync();
        var number = (last?.Number ?? 0) + 1;
        var names = await db.Users.AsNoTracking().ToDictionaryAsync(p => p.PersonId, p => p.Name);
        var at = TimeZoneInfo.ConvertTime(clock.GetUtcNow(), view.Setup.TimeZone);
        var document = CloseDocument.Of(
            number, view.Reconciliation, [.. view.Entries], [.. view.Excuses], by.Name, at, id => names.GetValueOrDefault(id.Value) ?? view.Setup.NameOf(id));
        var (line, hash) = await TrailWriter.Head(db);
        var content = JsonSerializer.Serialize(document with { Trail = new(line, hash) }, _readable);
        var previous = last?.Hash ?? "";
        db.Closes.Add(new() { Number = number, Day = view.Setup.TradingDay.Date, Content = content, PreviousHash = previous, Hash = CloseChain.HashOf(number, previous, content), At = at });
        await db.SaveChangesAsync();
        await late.Fix(view.Day, by.Id.Value);
    }

    public static CloseDocument Read(FrozenClose close) => JsonSerializer.Deserialize<CloseDocument>(close.Content)!;
}
