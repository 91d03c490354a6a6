using System.Globalization;

namespace Fondo.Web.SetUp;

/// <summary>Ids for what a person only named: none that is there already.</summary>
public sealed class MadeIds
{
    private const int Longest = 20;

    private readonly HashSet<string> _taken;

    private MadeIds(IEnumerable<string> taken) => _taken = [.. taken];

    /// <param name="typed">Those that are there; empty ones are none.</param>
    public static MadeIds After(IEnumerable<string?> typed) => new(typed.OfType<string>().Select(t => t.Trim()).Where(t => t.Length > 0));

    /// <param name="list">The list of day.json that the id is for.</param>
    /// <param name="of">The kind of a register, the name of anything else.</param>
    public string Make(string list, string of)
    {
        var id = list switch
        {
            "registers" => Numbered(of switch { "self" => "S", "desk" => "D", "online" => "O", _ => "L" }, "0"),
            "people" => Numbered("p", "00"),
            _ => Spelled(of),
        };
        _taken.Add(id);
        return id;
    }

    private string Numbered(string prefix, string format) => Enumerable.Range(1, int.MaxValue - 1)
        .Select(n => prefix + n.ToString(format, CultureInfo.InvariantCulture)).First(id => !_taken.Contains(id));

    private string Spelled(string name)
    {
        var letters = string.Concat(name.ToLowerInvariant().Select(c => char.IsAsciiLetterOrDigit(c) ? c : '-'));
        var spelled = string.Join('-', letters.Split('-', StringSplitOptions.RemoveEmptyEntries));
        spelled = spelled.Length == 0 ? "item" : spelled[..Math.Min(Longest, spelled.Length)].Trim('-');
        return !_taken.Contains(spelled) ? spelled : Numbered($"{spelled}-", "0");
    }
}
