using System.Text.Json.Nodes;
using Fondo.Files.Text;

namespace Fondo.Files.Reading;

/// <summary>A set-up as text in the shape of day.json, for any trading day.</summary>
public static class SetupText
{
    /// <summary>The same set-up for another trading day.</summary>
    public static string For(string json, DateOnly day)
    {
        var root = JsonNode.Parse(json)!.AsObject();
        root["tradingDay"] = new TradingDay(day).ToString();
        return root.ToJsonString();
    }

    /// <summary>What the text says; or the findings.</summary>
    public static (Setup? Setup, IReadOnlyList<Finding> Findings) Read(string json)
    {
        var findings = new Findings();
        Setup? setup = null;
        using var stream = new MemoryStream(JsonFile.Bytes(json));
        JsonFile.ReadDocument(DayFiles.Setup, stream, findings, (root, place) => setup = SetupReader.Read(root, place, findings));
        return (findings.Any ? null : setup, findings.All);
    }
}
