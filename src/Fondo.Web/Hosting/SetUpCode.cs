using System.Collections.Concurrent;
using System.Globalization;
using System.Security.Cryptography;

namespace Fondo.Web.Hosting;

/// <summary>The one-time code that proves the person at the set-up page also sees the console. Wrong ones count where they come from:
/// nobody elsewhere on the network is kept out by them.</summary>
internal sealed class SetUpCode
{
    private const int MostTries = 20, MostAddresses = 10_000;

    private readonly ConcurrentDictionary<string, int> _wrong = [];

    public string Value { get; } = RandomNumberGenerator.GetInt32(100_000_000).ToString("0000 0000", CultureInfo.InvariantCulture);

    /// <summary>Why this code opens nothing; null when it does.</summary>
    /// <param name="address">Where it was typed.</param>
    public string? Objection(string? typed, string address)
    {
        if (_wrong.GetValueOrDefault(address) >= MostTries)
        {
            return "Too many wrong codes from here. Use another machine, or start Fondo again for a new code.";
        }

        if (string.Equals(typed?.Replace(" ", "", StringComparison.Ordinal), Value.Replace(" ", "", StringComparison.Ordinal),
            StringComparison.Ordinal))
        {
            return null;
        }

        if (_wrong.Count < MostAddresses)
        {
            _wrong.AddOrUpdate(address, 1, (_, before) => before + 1);
        }

        return "This code is wrong. Type the code that the console shows.";
    }
}
