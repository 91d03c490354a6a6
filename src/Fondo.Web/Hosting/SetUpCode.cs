using System.Globalization;
using System.Security.Cryptography;

namespace Fondo.Web.Hosting;

/// <summary>The one-time code that proves the person at the set-up page also sees the console.</summary>
internal sealed class SetUpCode
{
    public string Value { get; } = RandomNumberGenerator.GetInt32(100_000_000).ToString("0000 0000", CultureInfo.InvariantCulture);

    public bool Fits(string? typed) => string.Equals(typed?.Replace(" ", "", StringComparison.Ordinal), Value.Replace(" ", "", StringComparison.Ordinal), StringComparison.Ordinal);
}
