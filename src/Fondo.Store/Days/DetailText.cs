using System.Globalization;
using System.Text.Json.Nodes;
using Fondo.Core.Amounts;
using Fondo.Core.Entries;
using Fondo.Core.Proof;

namespace Fondo.Store.Days;

/// <summary>What an entry of its kind says besides, as it is kept.</summary>
internal static class DetailText
{
    public static string? Write(EntryDetail? detail) => detail switch
    {
        null => null,
        EntryDetail.Moved moved => new JsonObject { ["moved"] = moved.What.Written(), ["bag"] = moved.Bag }.ToJsonString(),
        EntryDetail.Recounted recounted => new JsonObject
        {
            ["count"] = recounted.Count,
            ["found"] = new JsonArray([.. recounted.Found.Select(p => new JsonArray(p.Denomination.Minor, p.Number))]),
        }.ToJsonString(),
        EntryDetail.Awaited awaited => new JsonObject
        {
            ["proof"] = awaited.Proof.Written(),
            ["owner"] = awaited.Owner.Value,
            ["deadline"] = Text(awaited.Deadline)
        }.ToJsonString(),
        EntryDetail.Owed owed => new JsonObject
        {
            ["party"] = owed.Party.Written(),
            ["toStore"] = owed.IsOwedToStore,
            ["owner"] = owed.Owner.Value,
            ["deadline"] = Text(owed.Deadline)
        }.ToJsonString(),
        _ => throw new ArgumentOutOfRangeException(nameof(detail)),
    };

    public static EntryDetail? Read(EntryKind kind, string? text)
    {
        if (text is null || JsonNode.Parse(text) is not JsonObject o)
        {
            return null;
        }

        return kind switch
        {
            EntryKind.Record => new EntryDetail.Moved(Word<MovementKind>(o["moved"]), (string?)o["bag"]),
            EntryKind.Recount => new EntryDetail.Recounted((string)o["count"]!,
                [.. o["found"]!.AsArray().Select(p => new Pieces(new Money((long)p![0]!), (int)p[1]!))]),
            EntryKind.Carry => new EntryDetail.Awaited(new((string)o["owner"]!), Time(o["deadline"]), Word<AwaitedProof>(o["proof"])),
            EntryKind.Claim =>
                new EntryDetail.Owed(Word<ClaimParty>(o["party"]), (bool)o["toStore"]!, new((string)o["owner"]!), Time(o["deadline"])),
            _ => null,
        };
    }

    private static T Word<T>(JsonNode? node)
        where T : struct, Enum => WrittenNames.Read<T>((string?)node)!.Value;

    private static string Text(DateTimeOffset at) => at.ToString("O", CultureInfo.InvariantCulture);

    private static DateTimeOffset Time(JsonNode? node) => DateTimeOffset.Parse((string)node!, CultureInfo.InvariantCulture);
}
