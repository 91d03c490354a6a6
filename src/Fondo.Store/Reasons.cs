using Fondo.Files.Text;

namespace Fondo.Store;

/// <summary>What people write as a reason is kept; a full card number must never be.</summary>
internal static class Reasons
{
    /// <summary>Longer than this nobody reads it.</summary>
    private const int Most = 500;

    public static string? Objection(string? reason) =>
        CardNumbers.Contains(reason) ? "The reason contains a full card number. It was not saved. Type the last four digits at most."
        : reason?.Length > Most ? $"The reason is longer than {Most} characters."
        : null;

    /// <summary>The same where there has to be one.</summary>
    public static string? Needed(string? reason) =>
        string.IsNullOrWhiteSpace(reason) ? "Give a reason that someone will understand a year from now." : Objection(reason);
}
