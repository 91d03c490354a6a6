using Fondo.Files.Text;

namespace Fondo.Store;

/// <summary>What people write as a reason is kept; a full card number must never be.</summary>
internal static class Reasons
{
    public static string? Objection(string? reason) =>
        CardNumbers.Contains(reason) ? "The reason holds a full card number. It was not saved; write the last four digits at most." : null;
}
