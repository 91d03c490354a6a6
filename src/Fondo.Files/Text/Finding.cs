namespace Fondo.Files.Text;

/// <summary>What is wrong with one place of a file.</summary>
/// <param name="Line">From 1; 0 when the file as a whole is meant.</param>
/// <param name="Column">The column or member, where one is meant.</param>
/// <param name="Value">What stands there; never a full card number.</param>
/// <param name="Expected">What should stand there, or what is so, as the rest of a sentence.</param>
public sealed record Finding(string File, int Line, string? Column, string? Value, string Expected)
{
    private const int LongestShown = 60;

    /// <summary>The sentence without its place.</summary>
    public string Message =>
        Column is null ? Expected : Value is null ? $"{Column}: {Expected}" : $"{Column} is {Shown(Value)}; {Expected}";

    public override string ToString() => Line > 0 ? $"{File}:{Line}: {Message}" : $"{File}: {Message}";

    private static string Shown(string value)
    {
        var text = value.Length > LongestShown ? value[..LongestShown] + "…" : value;
        return $"\"{string.Concat(text.Select(c => char.IsControl(c) ? '·' : c))}\"";
    }
}

/// <summary>Gathers findings; the first hundred are kept, so that a broken file is told whole but not without end.</summary>
public sealed class Findings
{
    public const int Most = 100;

    private readonly List<Finding> _all = [];

    public IReadOnlyList<Finding> All => _all;

    public bool Any => _all.Count > 0;

    public bool IsFull => _all.Count >= Most;

    public void Clear() => _all.Clear();

    public void AddAll(Findings others) => _all.AddRange(others._all.Take(Most - _all.Count));

    public void Add(string file, int line, string? column, string? value, string expected)
    {
        if (!IsFull)
        {
            _all.Add(new(file, line, column, CardNumbers.Contains(value) ? "(withheld)" : value, expected));
        }
    }
}
