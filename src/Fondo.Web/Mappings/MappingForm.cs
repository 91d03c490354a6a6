using System.Collections.Immutable;
using Fondo.Core.SetUp;
using Fondo.Files.Mapping;
using Fondo.Files.Text;

namespace Fondo.Web.Mappings;

/// <summary>A column of the shown file, and what is in it.</summary>
/// <param name="LongNumbers">Some that could be full card numbers, where its field may hold such; else empty.</param>
public sealed record ShownColumn(string Name, string Field, string Sample, string LongNumbers = "");

/// <summary>A word of the file, and what it means.</summary>
/// <param name="Means">What a person says that it means; empty: what it means by itself.</param>
/// <param name="Understood">What that is to Fondo; null where it is not understood.</param>
public sealed record ShownWord(string Field, string Word, int Times, string Means, string? Understood);

/// <summary>A mapping as a page shows it and a form gives it back.</summary>
public static class MappingForm
{
    private const int MostWords = 30, MostSamples = 3, MostColumns = 64;

    /// <summary>The fields whose words a person may have to explain.</summary>
    private static readonly ImmutableArray<string> _worded =
        [MappedFields.Type, MappedFields.Tender, MappedFields.Terminal, MappedFields.Register, MappedFields.Benefit, MappedFields.Status];

    /// <summary>Fields that may be the same on every row.</summary>
    public static ImmutableArray<string> Fixable(MappedKind kind) => [.. new[]
    {
        MappedFields.Terminal,
        MappedFields.Register,
        MappedFields.Batch,
        MappedFields.Brand,
        MappedFields.Tender,
        MappedFields.Type,
        MappedFields.Account
    }.Where(MappedFields.Of(kind).Contains)];

    /// <summary>What rows of a file become, in words.</summary>
    public static string Says(MappedKind kind) =>
        kind switch
        {
            MappedKind.Batches => "settled rows",
            MappedKind.Journal => "tickets",
            MappedKind.Ledger => "the store’s own books",
            MappedKind.Totals => "totals of batches",
            _ => "a statement of the bank"
        };

    /// <summary>What was typed, over the mapping that was there.</summary>
    public static Mapping Read(IFormCollection form)
    {
        string Text(string name) =>
            form[name].ToString().Trim() is { } text && CardNumbers.Contains(text) ? "" : form[name].ToString().Trim();
        var kind = WrittenNames.Read<MappedKind>(Text("kind")) ?? MappedKind.Batches;
        var (columns, words) =
            (ImmutableDictionary.CreateBuilder<string, string>(), new Dictionary<string, ImmutableDictionary<string, string>.Builder>());
        for (var i = 0; i < Math.Min(form["column"].Count, MostColumns); i++)
        {
            if (i < form["is"].Count && form["is"][i] is { Length: > 0 } field && MappedFields.Of(kind).Contains(field)
                && form["column"][i] is { Length: > 0 } column)
            {
                columns.TryAdd(field, column);
            }
        }

        for (var i = 0; i < Math.Min(form["word"].Count, MostWords * _worded.Length); i++)
        {
            if (i < form["wordOf"].Count && i < form["means"].Count && _worded.Contains(form["wordOf"][i]!)
                && form["means"][i]?.Trim() is { Length: > 0 } means && form["word"][i] is { Length: > 0 } word)
            {
                (words.TryGetValue(form["wordOf"][i]!, out var known)
                    ? known
                    : words[form["wordOf"][i]!] = ImmutableDictionary.CreateBuilder<string, string>())[word] = means;
            }
        }

        return new(
            Text("name"), Text("files"), kind, WrittenNames.Read<MappedLayout>(Text("layout")) ?? MappedLayout.Tender,
            Mapping.Encodings.Contains(Text("encoding")) ? Text("encoding") : Mapping.Utf8,
            form["separator"].ToString() is "tab" ? '\t'
            : form["separator"].ToString() is [var one] && Mapping.Separators.Contains(one) ? one
            : ',',
            int.TryParse(Text("skipLines"), out var skip) && skip is >= 0 and <= 100 ? skip : 0, Text("header") != "no",
            Text("decimalMark") == "," ? ',' : '.',
            WrittenNames.Read<DateOrder>(Text("dates")) ?? DateOrder.Ymd, Text("timeZone"),
            WrittenNames.Read<MappedSigns>(Text("signs")) ?? MappedSigns.None,
            columns.ToImmutable(), Fixable(kind).Where(f => Text($"fixed.{f}").Length > 0)
                .ToImmutableDictionary(f => f, f => Text($"fixed.{f}")),
            words.ToImmutableDictionary(w => w.Key, w => w.Value.ToImmutable()), Listed(Text("totals")), Listed(Text("voids")))
        {
            Sheet = Text("sheet"),
            Whole = WrittenNames.Read<WholeAmounts>(Text("whole")) ?? WholeAmounts.Asked,
            Change = WrittenNames.Read<PartOfAmount>(Text("change")) ?? PartOfAmount.Asked,
            Tip = WrittenNames.Read<PartOfAmount>(Text("tip")) ?? PartOfAmount.Asked,
            Voided = WrittenNames.Read<VoidedIs>(Text("voided")) ?? VoidedIs.Asked,
            LongNumbers =
                [.. form["long"].OfType<string>().Where(f => LongNumbers.Fields.Contains(f) && columns.ContainsKey(f)).Distinct()],
        };
    }

    /// <summary>Fields for which several columns were chosen: only one can be it.</summary>
    public static IEnumerable<(string Field, string Sentence)> Doubled(IFormCollection form) =>
        form["is"].Where(f => !string.IsNullOrEmpty(f)).GroupBy(f => f!).Where(g => g.Count() > 1)
            .Select(g => (g.Key, $"Two columns are chosen as the {MappedFields.Says(g.Key)}. Choose one."));

    /// <summary>The columns of the shown file with some of what is in them; without a file, those that the mapping names.</summary>
    public static IReadOnlyList<ShownColumn> Columns(Mapping mapping, Example? example)
    {
        string FieldOf(string column) =>
            mapping.Columns.FirstOrDefault(c => c.Value.Equals(column, StringComparison.OrdinalIgnoreCase)).Key ?? "";
        if (example is null)
        {
            return [.. mapping.Columns.OrderBy(c => MappedFields.Of(mapping.Kind).IndexOf(c.Key))
                .Select(c => new ShownColumn(c.Value, c.Key, ""))];
        }

        var source = MappedSource.Read(example.Name, example.Bytes, mapping with { Columns = ImmutableDictionary<string, string>.Empty },
            new Findings());
        string Samples(int place, bool areLong) => string.Join(" · ",
            source.Rows.Select(r => place < r.Fields.Count ? r.Fields[place].Trim() : "")
                .Where(t => t.Length > 0 && CardNumbers.Contains(t) == areLong).Distinct().Take(MostSamples));
        var width = source.Header.Count > 0 ? source.Header.Count : source.Rows.Count > 0 ? source.Rows.Max(r => r.Fields.Count) : 0;
        return
        [
            .. Enumerable.Range(0, Math.Min(width, MostColumns))
                .Select(i => (Name: source.Header.Count > 0 ? source.Header[i].Trim() : $"{i + 1}", Place: i))
                .Where(c => c.Name.Length > 0 && !CardNumbers.Contains(c.Name))
                .Select(c => new ShownColumn(c.Name, FieldOf(c.Name), Samples(c.Place, false),
                    LongNumbers.Fields.Contains(FieldOf(c.Name)) ? Samples(c.Place, true) : "")),
        ];
    }

    private static readonly string[] _eventWords = ["open", "close", "drop", "loan", "paid in", "paid out", "no sale", "tip"];

    /// <summary>What the words of each field may mean in this store.</summary>
    public static IReadOnlyDictionary<string, IReadOnlyList<(string Word, string Says)>> Meanings(MappedKind kind, Setup setup)
    {
        static (string, string) Itself(string word) => (word, "");
        return new Dictionary<string, IReadOnlyList<(string Word, string Says)>>
        {
            [MappedFields.Tender] = [.. setup.Tenders.Select(t => (t.Id.Value, t.Name)), .. kind == MappedKind.Journal
                ? [Itself("change"), Itself("tip")] : Array.Empty<(string, string)>()],
            [MappedFields.Register] = [.. setup.Registers.Select(r => (r.Id.Value, r.Name))],
            [MappedFields.Terminal] = [.. setup.Terminals.Select(t => (t.Terminal.Value, setup.NameOf(t.Register)))],
            [MappedFields.Type] = [Itself("sale"), Itself("refund"), Itself("void"), .. kind == MappedKind.Journal
                ? _eventWords.Select(Itself) : []],
            [MappedFields.Status] = [Itself("approved"), Itself("void"), Itself("declined")],
            [MappedFields.Benefit] = [("food", "food benefits"), ("cash", "cash benefits")],
        };
    }

    /// <summary>The words of the shown file that may need a meaning.</summary>
    public static IReadOnlyList<ShownWord> Words(Mapping mapping, Example? example, Setup? setup)
    {
        var seen = new List<ShownWord>();
        var rows = example is null ? [] : MappedSource.Read(example.Name, example.Bytes, mapping, new Findings()).Rows;
        foreach (var field in _worded.Where(f => MappedFields.Of(mapping.Kind).Contains(f) && mapping.Columns.ContainsKey(f)))
        {
            var meanings = mapping.Words.GetValueOrDefault(field) ?? ImmutableDictionary<string, string>.Empty;
            var counted = rows.Where(r => !r.IsTotals).Select(r => r[field]).Where(t => t.Length > 0 && !CardNumbers.Contains(t))
                .GroupBy(t => t, StringComparer.OrdinalIgnoreCase).OrderByDescending(g => g.Count()).Take(MostWords).ToList();
            ShownWord Of(string word, int times, string means) => new(field, word, times, means,
                setup is null ? word : MappedFile.MeaningOf(field, means.Length > 0 ? means : word, mapping, setup));
            seen.AddRange(counted.Select(g =>
                Of(g.Key, g.Count(), meanings.FirstOrDefault(m => m.Key.Equals(g.Key, StringComparison.OrdinalIgnoreCase)).Value ?? "")));
            seen.AddRange(meanings.Where(m => counted.All(g => !g.Key.Equals(m.Key, StringComparison.OrdinalIgnoreCase)))
                .Select(m => Of(m.Key, 0, m.Value)));
        }

        return seen;
    }

    private static ImmutableArray<string> Listed(string text) =>
        [.. text.Split(',', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries).Take(20)];
}
