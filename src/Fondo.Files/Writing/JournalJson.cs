using System.Text.Json.Nodes;
using Fondo.Files.Text;

namespace Fondo.Files.Writing;

/// <summary>Events that are made in the store, in the shape of journal.jsonl.</summary>
public static class JournalJson
{
    /// <summary>A drawer session that is begun.</summary>
    public static string Open(string id, RegisterId register, string drawer, PersonId cashier, DateTimeOffset at, Money @float,
        Currency currency) => new JsonObject
        {
            ["id"] = id,
            ["register"] = register.Value,
            ["drawer"] = drawer,
            ["cashier"] = cashier.Value,
            ["at"] = IsoTime.Format(at),
            ["kind"] = EventKind.Open.Written(),
            ["amount"] = currency.Format(@float),
        }.ToJsonString();
}
