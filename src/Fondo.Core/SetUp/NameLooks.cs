using System.Text;

namespace Fondo.Core.SetUp;

/// <summary>Why a person cannot have a name.</summary>
public abstract record NameObjection
{
    private NameObjection()
    {
    }

    public sealed record MixedAlphabets : NameObjection;

    public sealed record NoLetters : NameObjection;

    public sealed record LooksLike(string Other) : NameObjection;
}

/// <summary>Whether two names look alike to whoever reads them in a list: folded by case, accents, invisible signs, and letters of other
/// scripts that look like Latin ones
/// (the idea of Unicode Technical Standard 39, its tables from memory and only in part).</summary>
public static class NameLooks
{
    private const string Lookalikes =
        "\u0430a\u0435e\u043Eo\u0440p\u0441c\u0445x\u0443y\u0456i\u0458j\u0455s\u043Ak\u043Cm\u043Dh\u0442t\u0432b\u03B1a\u03BFo\u03C1p\u03BDv\u03B9i\u03BAk\u03C5u\u03C4t\u0131i";

    /// <summary>A letter, and behind it the same with accents (Latin-1 Supplement and Latin Extended-A of Unicode).</summary>
    private static readonly string[] _accented =
    [
        "aàáâãäåāăą", "cçćĉċč", "dďđð", "eèéêëēĕėęě", "gĝğġģ", "hĥħ", "iìíîïĩīĭįı", "jĵ", "kķ", "lĺļľŀł", "nñńņň", "oòóôõöøōŏő", "rŕŗř",
        "sśŝşš", "tţťŧ", "uùúûüũūŭůűų", "wŵ", "yýÿŷ", "zźżž",
    ];

    /// <summary>What is wrong with a name beside those that are there; null when nothing is.</summary>
    public static NameObjection? Objection(string name, IEnumerable<string> others)
    {
        if (ScriptsOf(name) > 1)
        {
            return new NameObjection.MixedAlphabets();
        }

        var folded = Folded(name);
        return folded.Length == 0 ? new NameObjection.NoLetters()
            : others.FirstOrDefault(o => Folded(o) == folded) is { } other ? new NameObjection.LooksLike(other)
            : null;
    }

    /// <summary>Equal for names that look alike.</summary>
    public static string Folded(string name)
    {
        var text = new StringBuilder();
        foreach (var c in name.ToLowerInvariant().Where(char.IsLetterOrDigit))
        {
            text.Append(Lookalikes.IndexOf(c, StringComparison.Ordinal) is >= 0 and var at && at % 2 == 0 ? Lookalikes[at + 1] : Plain(c));
        }

        // One and ell, nought and o, read alike in many faces.
        return text.Replace('1', 'l').Replace('0', 'o').Replace('i', 'l').ToString();
    }

    /// <summary>A Latin letter without its accent.</summary>
    private static char Plain(char c)
    {
        foreach (var letters in _accented)
        {
            if (letters.AsSpan(1).Contains(c))
            {
                return letters[0];
            }
        }

        return c;
    }

    private static int ScriptsOf(string name) =>
        name.Where(char.IsLetter).Select(c => (int)c switch
        {
            < 0x0250 => 1,
            >= 0x0370 and < 0x0400 => 2,
            >= 0x0400 and < 0x0530 => 3,
            _ => 4
        }).Distinct().Count();
}
