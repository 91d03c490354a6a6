using System.Collections.Immutable;
using System.Text.Encodings.Web;
using System.Text.Json;
using Fondo.Core.Books;
using Fondo.Core.Checks;
using Fondo.Core.Closing;
using Fondo.Core.Entries;
using Fondo.Core.Journal;
using Fondo.Core.SetUp;
using Fondo.Store.Model;
using Fondo.Store.Trails;
using Fondo.Store.Treasury;
using Microsoft.EntityFrameworkCore;

namespace Fondo.Store.Days;

/// <summary>A finding and what is to be done about it, as a person says it.</summary>
public sealed record ProposedAnswer(TicketFinding Finding, Remedy Remedy, string? Reason);

/// <summary>Excuses what may be excused, answers ticket checks, signs registers off, closes the day and opens it again.</summary>
public sealed class ClosingDesk(StoreContext db, DayStore days, DayLock guard, LateTickets late, CarryOver carry, CloseOrder chain,
    CustomerBook customers, Sources sources, TimeProvider clock)
{
    private static readonly JsonSerializerOptions _readable =
        new() { WriteIndented = true, Encoder = JavaScriptEncoder.UnsafeRelaxedJsonEscaping };

    private async Task<ImmutableArray<ClosedSource>> SourcesOf(DateOnly day, Dictionary<string, string> names) =>
        [.. (await sources.Of(day)).Select(s => new ClosedSource(s.Kind.Written(), s.Way.Written(),
            s.Way is SourceWay.Processor or SourceWay.Folder ? "" : names.GetValueOrDefault(s.By) ?? s.By, s.File, s.Number, s.First))];

    public Task<Outcome> Excuse(DateOnly day, GateId gate, string item, string reason, Person by) => guard.Write(day, async () =>
    {
        var view = (await days.View(day))!;
        if (Reasons.Needed(reason) is { } withheld)
        {
            return Outcome.Refused(withheld);
        }

        if (by.Refusal(ActKind.Excuse) is { } refused)
        {
            return refused;
        }

        if (view.Gates.All(g => g.Id != gate || g.Left.All(i => i.Key != item)) && view.Excuses.Any(e => e.Gate == gate && e.Item == item))
        {
            return Outcome.Done;
        }

        if (view.Gates.SelectMany(g => g.Left.Where(i => g.Id == gate && i.Key == item))
            .FirstOrDefault() is not { CanBeExcused: true } left)
        {
            return Outcome.Refused("This cannot be excused.");
        }

        db.Excuses.Add(new()
        {
            Day = day,
            Gate = gate,
            Item = item,
            Seen = left.Facts,
            Reason = reason.Trim(),
            By = by.Id.Value,
            At = clock.GetUtcNow()
        });
        return Outcome.Done;
    });

    /// <summary>Says of findings that they were seen, and what is done about them. All of them, or none.</summary>
    public Task<Outcome> Answer(DateOnly day, IReadOnlyCollection<ProposedAnswer> answers, Person by) =>
        guard.Write(day, by, ActKind.AnswerCheck, async () =>
    {
        var view = (await days.View(day))!;
        var found = view.Reconciliation.TicketFindings.ToHashSet();
        foreach (var answer in answers)
        {
            if (Reasons.Needed(answer.Reason) is { } withheld)
            {
                return Outcome.Refused(withheld);
            }

            if (!found.Contains(answer.Finding))
            {
                return Outcome.Refused(
                    $"The finding on ticket {answer.Finding.Ticket} has changed. Nothing was saved. Look at it again.");
            }
        }

        foreach (var answer in answers.Where(a =>
            !view.Decisions.Answers.Any(s => s.Finding == a.Finding && s.Remedy == a.Remedy && s.Reason == a.Reason!.Trim())))
        {
            db.Answers.Add(new()
            {
                Day = day,
                Ticket = answer.Finding.Ticket.Value,
                Code = answer.Finding.Code,
                Amount = answer.Finding.Amount.Minor,
                Remedy = answer.Remedy,
                Reason = answer.Reason!.Trim(),
                By = by.Id.Value,
                At = clock.GetUtcNow(),
            });
        }

        return Outcome.Done;
    });

    /// <summary>Signs one register off, once nothing of it is left.</summary>
    public Task<Outcome> SignOff(DateOnly day, RegisterId register, Person by) => guard.Write(day, by, ActKind.SignOff, async () =>
    {
        var view = (await days.View(day))!;
        if (view.Setup.Find(register) is null)
        {
            return Outcome.Refused("There is no such register.");
        }

        if (view.LeftOf(register).FirstOrDefault() is { } left)
        {
            return Outcome.Refused($"This register is not finished yet. {left.Says(view.Setup)}");
        }

        var figures = Core.Closing.SignOff.FiguresOf(register, view.Bridges.Values);
        if (view.SignedOff(register)?.Figures != figures)
        {
            db.SignOffs.Add(new() { Day = day, Register = register.Value, Figures = figures, By = by.Id.Value, At = clock.GetUtcNow() });
        }

        return Outcome.Done;
    });

    /// <summary>Freezes the day when every gate is green. A second close is refused with a sentence, whoever comes second.</summary>
    public Task<Outcome> Close(DateOnly day, Person by) => guard.Write(day, by, ActKind.Close, async () =>
    {
        var view = (await days.View(day))!;
        if (view.Gates.FirstOrDefault(g => !g.IsGreen) is { } gate)
        {
            return Outcome.Refused($"The day cannot close yet. {gate.Left[0].Says(view.Setup)}");
        }

        if (AccountingEntry.Of(view.Reconciliation, view.Entries, view.Money).Balance is { IsZero: false } apart)
        {
            return Outcome.Refused(
                $"The day cannot close: its accounting entry is out of balance by {view.Setup.Currency.Say(apart.Abs())}. This is an "
                    + "error in Fondo. Nothing was changed.");
        }

        await Freeze(view, by);
        return Outcome.Done;
    });

    /// <summary>Opens a closed day again: what was frozen stays readable, and the next close of the day is its next revision.</summary>
    public async Task<Outcome> Reopen(DateOnly day, string? reason, Person by)
    {
        if (!by.May(ActKind.Reopen) || !by.MayWitness(ActKind.Reopen))
        {
            return Outcome.Refused("Only a manager can reopen a closed day.");
        }

        if (Reasons.Needed(reason) is { } withheld)
        {
            return Outcome.Refused(withheld);
        }

        await using var transaction = await db.BeginWriting();
        if (await db.StandingCloses.AsNoTracking().SingleOrDefaultAsync(c => c.Day == day) is not { } close)
        {
            return Outcome.Refused("This day is already open. Nothing was changed.");
        }

        db.Reopenings.Add(new() { Number = close.Number, Day = day, Reason = reason!.Trim(), By = by.Id.Value, At = clock.GetUtcNow() });
        await db.SaveChangesAsync();
        await guard.Revise(day);
        await transaction.CommitAsync();
        return Outcome.Done;
    }

    /// <summary>Freezes the day as it stands, numbers it and chains it to the close before. Within the day's lock; its gates are asked
    /// before.</summary>
    public async Task Freeze(DayView view, Person by)
    {
        var date = view.Setup.TradingDay.Date;
        var last = await db.Closes.AsNoTracking().OrderByDescending(c => c.Number).FirstOrDefaultAsync();
        var before = await db.Closes.AsNoTracking().Where(c => c.Day == date).OrderByDescending(c => c.Number).ToListAsync();
        var number = (last?.Number ?? 0) + 1;
        var names = await db.Users.AsNoTracking().ToDictionaryAsync(p => p.PersonId, p => p.Name);
        var (corrects, follows) = (await chain.CorrectedBy(date), await chain.Before(date, null) ?? 0);
        var at = TimeZoneInfo.ConvertTime(clock.GetUtcNow(), view.Setup.TimeZone);
        var document = CloseDocument.Of(
            number, before.Count + 1, view.Overview, view.Decisions, view.Money, by.Id, at,
            new DocumentNames(view.Setup, id => names.GetValueOrDefault(id.Value) ?? view.Setup.NameOf(id)), view.Customers);
        var (line, hash) = await TrailWriter.Head(db);
        document =
            document with { ClosedBy = by.Name, Trail = new(line, hash), Corrects = corrects, Sources = await SourcesOf(date, names) };
        var content = JsonSerializer.Serialize(document, _readable);
        var previous = last?.Hash ?? "";
        db.Closes.Add(new()
        {
            Number = number,
            Day = date,
            Content = content,
            PreviousHash = previous,
            Hash = CloseChain.HashOf(number, previous, content),
            At = at,
            By = by.Id.Value,
            Corrects = corrects,
            Follows = follows
        });
        await db.SaveChangesAsync();
        customers.Write(document, date);
        await late.Fix(view.Day);
        await carry.Write(view, number, document,
            corrects is { } corrected ? await chain.Document(corrected) : before.Count == 0 ? null : Read(before[0].Content));
    }

    public static CloseDocument Read(FrozenClose close) => Read(close.Content);

    private static CloseDocument Read(string content) => JsonSerializer.Deserialize<CloseDocument>(content)!;
}
