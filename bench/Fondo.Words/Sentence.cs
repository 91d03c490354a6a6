namespace Fondo.Words;

internal static class Sentence
{
    private static readonly string[] _code =
        ["SELECT ", "INSERT ", "UPDATE ", "DELETE ", "CREATE ", "DROP ", "PRAGMA ", "=>", "==", "Model.", "@if", "@foreach", "};"];

    /// <summary>Whether a text is something to be read: three words, and no code.</summary>
    public static bool Is(string text) => text.Split(' ', StringSplitOptions.RemoveEmptyEntries).Count(w => w.Any(char.IsLetter)) >= 3
        && !Array.Exists(_code, c => text.Contains(c, StringComparison.Ordinal));
}
