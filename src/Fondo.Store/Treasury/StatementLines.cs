using System.Globalization;
using Fondo.Store.Intake;
using Fondo.Store.Model;

namespace Fondo.Store.Treasury;

/// <summary>Appends the lines of a statement, all as one act of the trail: a statement of a year has thousands.</summary>
internal static class StatementLines
{
    /// <param name="statement">Saved already, in the transaction that is under way.</param>
    /// <param name="lines">In the order of the statement, under keys that are free.</param>
    public static async Task Append(StoreContext db, string statement, IReadOnlyList<BankLineRow> lines)
    {
        if (lines.Count == 0)
        {
            return;
        }

        using (var insert = new InsertStatement(db, "BankLines", "Key", "Statement", "Place", "Day", "Waits", "Booked", "Amount", "Text",
            "Items", "IsReversal", "Details"))
        {
            foreach (var l in lines)
            {
                insert.Run(l.Key, l.Statement, l.Place, Date(l.Day), l.Waits ? 1 : 0, Date(l.Booked), l.Amount, l.Text, l.Items,
                    l.IsReversal ? 1 : 0, l.Details);
            }
        }

        await db.Note(BankLineRow.Added(statement, lines));
    }

    private static string Date(DateOnly day) => day.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture);
}
