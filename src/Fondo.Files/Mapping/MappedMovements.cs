using System.Globalization;
using System.Text.Json.Nodes;

namespace Fondo.Files.Mapping;

/// <summary>A row of a flat journal that is no part of a ticket: a session that opens or closes, cash that comes or goes, a drawer opened
/// without a ticket.</summary>
internal sealed record Movement(MappedRow Row, DateTimeOffset At, EventKind Kind, Money Amount);

/// <summary>Makes events of such rows.</summary>
internal static class MappedMovements
{
    public static Movement? Read(MappedRow row, EventKind kind, MappedMaking making)
    {
        var hasAmount = kind is not (EventKind.Close or EventKind.NoSale);
        var (at, amount) = (making.At(row), hasAmount ? making.Amount(row, MappedFields.Amount, isNeeded: true) : Money.Zero);
        if (row.IsVoid)
        {
            making.Fault(row, MappedFields.Status, row[MappedFields.Status], $"expected no void: a voided {kind.Written()} is not one");
        }

        return at is { } moment && amount is { } signed ? new(row, moment, kind, signed.Abs()) : null;
    }

    /// <summary>The events. One without a number of its own is known by its register, kind and second, so that the same file again has the
    /// same keys.</summary>
    public static IEnumerable<(Movement Movement, JsonObject Json)> Json(IEnumerable<Movement> movements, MappedMaking making)
    {
        var seen = new Dictionary<string, int>();
        foreach (var movement in movements)
        {
            var id = IdOf(movement, making);
            seen[id] = seen.GetValueOrDefault(id) + 1;
            var json = MappedJournal.Head(MappedMaking.Id(seen[id] > 1 ? $"{id}.{seen[id]}" : id), movement.Row, movement.At,
                movement.Kind, making);
            if (movement.Kind is not (EventKind.Close or EventKind.NoSale))
            {
                json["amount"] = making.Setup.Currency.Format(movement.Amount);
            }

            var (field, reason) = (movement.Kind == EventKind.Drop ? "bag" : "reason", movement.Row[MappedFields.Reason]);
            if (movement.Kind is EventKind.Drop or EventKind.PaidIn or EventKind.PaidOut && reason.Length > 0)
            {
                json[field] = reason;
            }

            yield return (movement, json);
        }
    }

    /// <summary>What became of its row, in words.</summary>
    public static string Says(Movement movement, JsonObject json) =>
        $"{movement.Kind.Written()}{((string?)json["amount"] is { } amount ? $" of {amount}" : "")} at {(string?)json["register"]}, "
            + movement.At.ToString("d MMM HH:mm", CultureInfo.InvariantCulture);

    private static string IdOf(Movement m, MappedMaking making) => m.Row[MappedFields.Ticket].Length > 0
        ? $"{MappedJournal.IdOf(m.Row, making)}.{m.Kind.Written()}"
        : string.Create(CultureInfo.InvariantCulture, $"{making.RegisterIdOf(m.Row)}-{m.Kind.Written()}-{m.At:yyMMdd}T{m.At:HHmmss}");
}
