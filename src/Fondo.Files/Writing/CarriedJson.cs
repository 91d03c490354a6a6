using System.Globalization;
using System.Text.Json.Nodes;

namespace Fondo.Files.Writing;

/// <summary>An item that a day carries, in the shape of carried.json: what it was when it came in, and what became of it since.</summary>
public static class CarriedJson
{
    /// <summary>The member that holds what came in.</summary>
    public const string Event = "event", Row = "row";

    /// <param name="came">The ticket as it came in.</param>
    public static string OfTender(CarriedTender item, string came) => Of(item.Day, item.Owned, item.RightUntil, item.Place, Event, came);

    /// <param name="came">The settled row as it came in.</param>
    public static string OfRow(CarriedRow item, string came) => Of(item.Day, item.Owned, item.RightUntil, null, Row, came);

    /// <param name="came">The hold as it came in.</param>
    public static string OfHold(CarriedHold item, string came) => Of(item.Day, item.Owned, null, null, Event, came);

    /// <summary>What came in, of an item that was carried before.</summary>
    public static string Member(string carried, string member) => JsonNode.Parse(carried)![member]!.ToJsonString();

    private static string Of(TradingDay day, Ownership? owned, DateTimeOffset? rightUntil, int? place, string member, string came)
    {
        var item = new JsonObject { ["day"] = day.ToString() };
        if (owned is not null)
        {
            (item["owner"], item["until"]) = (owned.Owner.Value, Text(owned.Deadline));
        }

        if (rightUntil is { } right)
        {
            item["rightUntil"] = Text(right);
        }

        if (place is { } number)
        {
            item["tender"] = number;
        }

        item[member] = JsonNode.Parse(came);
        return item.ToJsonString();
    }

    private static string Text(DateTimeOffset at) => at.ToString("yyyy-MM-ddTHH:mm:sszzz", CultureInfo.InvariantCulture);
}
