using System.Text.Json.Nodes;
using Fondo.Files.Reading;
using Fondo.Files.Text;

namespace Fondo.Files.Mapping;

/// <summary>Mappings as JSON, as they are kept, exported and given to the headless run.</summary>
public static class MappingText
{
    private const int LongestName = 40, MostLinesSkipped = 100;

    public static string Write(Mapping m) => new JsonObject
    {
        ["fondo"] = 1,
        ["mapping"] = m.Name,
        ["files"] = m.Files,
        ["kind"] = m.Kind.Written(),
        ["layout"] = m.Layout.Written(),
        ["encoding"] = m.Encoding,
        ["separator"] = m.Separator == '\t' ? "tab" : m.Separator.ToString(),
        ["skipLines"] = m.SkipLines,
        ["header"] = m.HasHeader,
        ["decimalMark"] = m.DecimalMark.ToString(),
        ["dates"] = m.Dates.Written(),
        ["timeZone"] = m.TimeZone,
        ["signs"] = m.Signs.Written(),
        ["sheet"] = m.Sheet,
        ["whole"] = m.Whole.Written(),
        ["change"] = m.Change.Written(),
        ["tip"] = m.Tip.Written(),
        ["voided"] = m.Voided.Written(),
        ["longNumbers"] = new JsonArray([.. m.LongNumbers.Select(f => System.Text.Json.Nodes.JsonValue.Create(f))]),
        ["columns"] = Object(m.Columns),
        ["fixed"] = Object(m.Fixed),
        ["words"] = new JsonObject(m.Words.OrderBy(w => w.Key, StringComparer.Ordinal)
            .Select(w => KeyValuePair.Create<string, JsonNode?>(w.Key, Object(w.Value)))),
        ["totals"] = new JsonArray([.. m.Totals.Select(t => System.Text.Json.Nodes.JsonValue.Create(t))]),
        ["voids"] = new JsonArray([.. m.Voids.Select(t => System.Text.Json.Nodes.JsonValue.Create(t))]),
    }.ToJsonString(new() { WriteIndented = true, Encoder = System.Text.Encodings.Web.JavaScriptEncoder.UnsafeRelaxedJsonEscaping });

    /// <summary>The mapping; or what is wrong with it.</summary>
    public static (Mapping? Mapping, IReadOnlyList<Finding> Findings) Read(string file, string json)
    {
        var findings = new Findings();
        Mapping? mapping = null;
        using var stream = new MemoryStream(JsonFile.Bytes(json));
        JsonFile.ReadDocument(file, stream, findings, (root, place) =>
        {
            if (place.IsObject(root))
            {
                mapping = Read(new JsonFields(root, place, Currency.Of("USD")));
            }
        });
        return (findings.Any ? null : mapping, findings.All);
    }

    /// <summary>What is wrong with a mapping that was typed, as sentences by field; empty where it can be used.</summary>
    public static IEnumerable<(string Field, string Sentence)> Objections(Mapping m)
    {
        if (m.Name.Length is 0 or > LongestName || !Limits.IsId(m.Name))
        {
            yield return ("name", "Type a short name of letters and digits, like heron-terminal.");
        }

        if (m.Files.Trim().Length is 0 or > 60 || m.Files.Trim('*', '?', '.').Length == 0 || DayFiles.All.Contains(m.Files))
        {
            yield return ("files",
                "Type a part of the file names it reads, like heron*.csv. A mapping for all files would take everything.");
        }

        if (!TimeZoneInfo.TryFindSystemTimeZoneById(m.TimeZone, out _))
        {
            yield return ("timeZone", "Say whose times these are: a time zone like America/New_York, or UTC.");
        }

        foreach (var column in m.Columns.GroupBy(c => c.Value, StringComparer.OrdinalIgnoreCase).Where(g => g.Count() > 1))
        {
            var fields = column.Select(c => MappedFields.Says(c.Key)).Order(StringComparer.Ordinal);
            yield return (column.First().Key, $"The column {column.Key} cannot be both {string.Join(" and ", fields)}.");
        }

        foreach (var needed in MappedFields.Needed(m.Kind, m.Layout)
            .Where(n => !n.Any(f => m.Columns.ContainsKey(f) || m.Fixed.ContainsKey(f))))
        {
            yield return (needed[0], $"Choose the column for the {string.Join(", or the ", needed.Select(MappedFields.Says))}.");
        }
    }

    private static Mapping Read(JsonFields f)
    {
        if (f.Integer("fondo") != 1)
        {
            f.Fault("fondo", null, "expected 1, the version of these files");
        }

        var kind = f.Choice<MappedKind>("kind");
        var mapping = new Mapping(
            f.Text("mapping"), f.Text("files"), kind, f.Choice<MappedLayout>("layout", MappedLayout.Tender),
            Of(f, "encoding", Mapping.Utf8, Mapping.Encodings),
            Of(f, "separator", ",", [.. Mapping.Separators.Select(s => s == '\t' ? "tab" : s.ToString())]) is var s && s == "tab"
                ? '\t'
                : s[0],
            f.Integer("skipLines", 0, MostLinesSkipped), f.OptionalFlag("header") ?? true, Of(f, "decimalMark", ".", [".", ","])[0],
            f.Choice<DateOrder>("dates"), f.OptionalText("timeZone") ?? "", f.Choice<MappedSigns>("signs", MappedSigns.None),
            Object(f, "columns", MappedFields.Of(kind)), Object(f, "fixed", MappedFields.Of(kind)),
            f.Names("words").ToImmutableDictionary(w => w, w => Object(f.Object("words")!, w, [])),
            f.IsThere("totals") ? [.. f.Texts("totals")] : Mapping.UsualTotals,
            f.IsThere("voids") ? [.. f.Texts("voids")] : Mapping.UsualVoids)
        {
            // A mapping of before these were asked reads as it did.
            Sheet = f.OptionalText("sheet") ?? "",
            Whole = f.Choice<WholeAmounts>("whole", WholeAmounts.Units),
            Change = f.Choice<PartOfAmount>("change", PartOfAmount.Inside),
            Tip = f.Choice<PartOfAmount>("tip", PartOfAmount.Inside),
            Voided = f.Choice<VoidedIs>("voided", VoidedIs.Ticket),
            LongNumbers = f.IsThere("longNumbers") ? [.. f.Texts("longNumbers")] : [],
        };
        if (mapping.LongNumbers.FirstOrDefault(l => !LongNumbers.Fields.Contains(l)) is { } other)
        {
            f.Fault("longNumbers", other, $"expected some of {string.Join(" ", LongNumbers.Fields)}");
        }

        foreach (var (field, sentence) in f.Faulty ? [] : Objections(mapping))
        {
            f.Fault(field, null, sentence);
        }

        return mapping;
    }

    private static string Of(JsonFields f, string name, string otherwise, ImmutableArray<string> known)
    {
        var text = f.OptionalText(name) ?? otherwise;
        if (known.Contains(text))
        {
            return text;
        }

        f.Fault(name, text, $"expected one of {string.Join(" ", known)}");
        return otherwise;
    }

    /// <param name="known">The names that may stand there; empty: any.</param>
    private static ImmutableDictionary<string, string> Object(JsonFields f, string name, ImmutableArray<string> known)
    {
        var members = ImmutableDictionary.CreateBuilder<string, string>();
        if (f.Object(name) is { } inner)
        {
            foreach (var member in f.Names(name))
            {
                if (known.Length > 0 && !known.Contains(member))
                {
                    f.Fault(name, member, $"expected one of {string.Join(" ", known)}");
                }
                else if (inner.OptionalText(member) is { } text)
                {
                    members[member] = text;
                }
            }
        }

        return members.ToImmutable();
    }

    private static JsonObject Object(ImmutableDictionary<string, string> members) =>
        new(members.OrderBy(m => m.Key, StringComparer.Ordinal).Select(m => KeyValuePair.Create<string, JsonNode?>(m.Key, m.Value)));
}
