using System.Text.Json.Nodes;

namespace Fondo.Files.Reading;

/// <summary>Where two set-ups in the shape of day.json differ, whatever day they are for.</summary>
public static class SetupComparison
{
    /// <summary>So many differences are named.</summary>
    private const int Most = 12;

    /// <summary>Each as "where: what the offered one says instead of what holds"; empty where they say the same. Members of a list are
    /// known by their id.</summary>
    /// <exception cref="System.Text.Json.JsonException">One of them is no JSON.</exception>
    public static ImmutableArray<string> Of(string holds, string offered)
    {
        var (before, after) = (Flat(holds), Flat(offered));
        var differences = before.Keys.Union(after.Keys).Order(StringComparer.Ordinal)
            .Where(p => before.GetValueOrDefault(p) != after.GetValueOrDefault(p))
            .Select(p => $"{p}: {after.GetValueOrDefault(p, "nothing")} instead of {before.GetValueOrDefault(p, "nothing")}").ToList();
        return differences.Count <= Most ? [.. differences] : [.. differences.Take(Most), $"and {differences.Count - Most} more"];
    }

    private static Dictionary<string, string> Flat(string json)
    {
        var flat = new Dictionary<string, string>(StringComparer.Ordinal);
        var root = JsonNode.Parse(json)!.AsObject();
        root.Remove("tradingDay");
        Walk("", root);
        return flat;

        void Walk(string path, JsonNode? node)
        {
            switch (node)
            {
                case JsonObject members:
                    foreach (var (name, value) in members)
                    {
                        Walk(path.Length == 0 ? name : $"{path}.{name}", value);
                    }

                    break;
                case JsonArray list when list.All(m => m is JsonObject && m["id"] is JsonValue):
                    foreach (var member in list)
                    {
                        Walk($"{path} {member!["id"]}", member);
                    }

                    break;
                case null:
                    break;
                default:
                    flat[path] = node is JsonArray plain ? string.Join(", ", plain.Select(m => m?.ToJsonString())) : node.ToString();
                    break;
            }
        }
    }
}
