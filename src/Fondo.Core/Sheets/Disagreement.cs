using Fondo.Core.Days;
using Fondo.Core.Journal;
using Fondo.Core.SetUp;

namespace Fondo.Core.Sheets;

public enum DisagreementKind
{
    /// <summary>A card was taken on a terminal that stood at another register then, or nowhere.</summary>
    TerminalElsewhere,

    /// <summary>A tender that the register does not take.</summary>
    TenderNotTaken,

    /// <summary>A tender used twice on a ticket that may be used only once.</summary>
    TenderTwice,

    /// <summary>A drawer session opened by somebody who may not open that register.</summary>
    OpenedByAnother,

    /// <summary>The register's clock went back: an event has a later number and an earlier time than the one before it.</summary>
    ClockBack,
}

/// <summary>What a register did otherwise than the set-up says, or its own clock: no money is off for it yet.</summary>
/// <param name="Tender">Null where no tender is meant.</param>
/// <param name="Before">Of a clock that went back, the event before.</param>
public sealed record Disagreement(DisagreementKind Kind, JournalEvent Event, Tender? Tender = null, JournalEvent? Before = null)
{
    /// <summary>A clock that is set by hand may well be off by this much.</summary>
    public static readonly TimeSpan ClockTolerance = TimeSpan.FromMinutes(2);

    /// <summary>All of the day, by time.</summary>
    public static ImmutableArray<Disagreement> In(Day day)
    {
        var places = day.Setup.Terminals.ToLookup(t => t.Terminal);
        var registers = day.Setup.Registers.ToDictionary(r => r.Id);
        var once = day.Setup.Tenders.Where(t => !t.MayRepeat).Select(t => t.Id).ToHashSet();
        var people = day.Setup.People.Where(p => !p.Registers.IsEmpty).ToDictionary(p => p.Id);
        return
        [
            .. day.Journal.SelectMany(e => e switch
            {
                Ticket ticket => OfTicket(ticket, registers[ticket.Register], places, once),
                SessionOpen { Head.Cashier: { } who } open when people.TryGetValue(who, out var person) && !person.MayOpen(open.Register) =>
                    [new(DisagreementKind.OpenedByAnother, open)],
                _ => [],
            }).Concat(OfClocks(day)).OrderBy(d => d.Event.At).ThenBy(d => d.Event.Id),
        ];
    }

    private static IEnumerable<Disagreement> OfTicket(Ticket ticket, Register register, ILookup<TerminalId, TerminalPlace> places,
        HashSet<TenderId> once)
    {
        foreach (var tender in ticket.Tenders.Where(t => t.Counts))
        {
            if (!register.Takes(tender.Type))
            {
                yield return new(DisagreementKind.TenderNotTaken, ticket, tender);
            }

            if (tender.Card?.Terminal is { } terminal && !places[terminal].Any(p => p.Register == ticket.Register && p.Holds(ticket.At)))
            {
                yield return new(DisagreementKind.TerminalElsewhere, ticket, tender);
            }
        }

        foreach (var twice in ticket.Tenders.Where(t => t.Counts && once.Contains(t.Type)).GroupBy(t => t.Type).Where(g => g.Skip(1).Any()))
        {
            yield return new(DisagreementKind.TenderTwice, ticket, twice.Last());
        }
    }

    /// <summary>By the numbers that each register gives its events.</summary>
    private static IEnumerable<Disagreement> OfClocks(Day day) =>
        from e in day.Journal
        let number = EventNumber.Of(e.Id.Code)
        where number is not null
        group (e, number.Value.Number) by (e.Register, number.Value.Prefix) into series
        let ordered = series.OrderBy(s => s.Number).Select(s => s.e).ToList()
        from pair in ordered.Zip(ordered.Skip(1))
        where pair.Second.At < pair.First.At - ClockTolerance
        select new Disagreement(DisagreementKind.ClockBack, pair.Second, Before: pair.First);
}
