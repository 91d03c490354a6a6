using System.Globalization;
using Fondo.Core.Journal;
using Fondo.Store.Model;

namespace Fondo.Store.Intake;

/// <summary>Writes down what one searches events and their tenders by.</summary>
/// <param name="events">The table of events, and <paramref name="tenders"/> the one of tenders.</param>
internal sealed class IndexWriter(StoreContext db, string events, string tenders) : IDisposable
{
    public const string EventColumns = "Id, Day, Key, Number, Register, Drawer, Cashier, At, Kind, Amount, Original",
        TenderColumns = "Id, Type, Amount, LastFour, Approval, Name, Number";

    private readonly InsertStatement _events = new(db, events, EventColumns.Split(", ")),
        _tenders = new(db, tenders, TenderColumns.Split(", "));

    /// <param name="record">The number of the event's record.</param>
    public void Write(long record, DateOnly day, JournalEvent e)
    {
        var (amount, original) = (EventAmount.Of(e), EventOriginal.Of(e));
        _events.Run(
            record, day.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture), e.Id.Value, EventNumber.Of(e.Id.Code)?.Number,
            e.Register.Value, e.Drawer?.Value, e.Head.Cashier?.Value,
            e.At.UtcTicks, e.Kind.Written(), amount?.Minor, original?.Value);
        if (e is not Ticket ticket)
        {
            return;
        }

        for (var place = 1; place <= ticket.Tenders.Length; place++)
        {
            var tender = ticket.Tenders[place - 1];
            _tenders.Run(
                (record * TenderRow.PlacesOfATicket) + place, tender.Type.Value, tender.Amount.Minor,
                tender.Card?.LastFour ?? tender.Reference, tender.Card?.Approval,
                tender.Name?.ToLowerInvariant(), tender.Number);
        }
    }

    public void Dispose()
    {
        _events.Dispose();
        _tenders.Dispose();
    }
}
