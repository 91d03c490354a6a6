using System.Text.RegularExpressions;

namespace Fondo.Words;

/// <summary>The sentences on a page: what stands between its tags, what its attributes say, and the texts in its code.</summary>
internal static partial class PageSentences
{
    public static IEnumerable<(int Line, string Says)> In(string page)
    {
        var found = Between().Matches(page).Select(m => m.Groups["says"]).Concat(Attributes().Matches(page).Select(m => m.Groups["says"]))
            .Concat(Texts().Matches(page).Select(m => m.Groups["says"]));
        return found.Where(g => g.Length > 0).OrderBy(g => g.Index)
            .Select(g => (page.AsSpan(0, g.Index).Count('\n') + 1, Spaces().Replace(g.Value, " ").Trim())).Where(s => Sentence.Is(s.Item2));
    }

    [GeneratedRegex(@">(?<says>[^<>]{8,})<")]
    private static partial Regex Between();

    [GeneratedRegex(@"(?:aria-label|title|placeholder|data-says)=""(?<says>[^""]+)""")]
    private static partial Regex Attributes();

    [GeneratedRegex(@"\$?""(?<says>(?:[^""\\]|\\.)*)""")]
    private static partial Regex Texts();

    [GeneratedRegex(@"\s+")]
    private static partial Regex Spaces();
}
