using System.Security.Cryptography;
using System.Text;

namespace Fondo.Core.Closing;

/// <summary>A close as it was frozen: its number, its content and the hash that chains it to the one before (rules §12).</summary>
/// <param name="Content">The close document, as the text that was hashed.</param>
/// <param name="PreviousHash">Empty for the first close.</param>
public sealed record FrozenClose(int Number, string Content, string PreviousHash, string Hash);

public static class CloseChain
{
    /// <summary>SHA-256 over number, previous hash and content; lower-case hexadecimal.</summary>
    public static string HashOf(int number, string previousHash, string content) =>
        Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes($"{number}\n{previousHash}\n{content}")));

    /// <summary>The number of the first close that does not fit the chain; null when all do.</summary>
    public static int? FirstBroken(IEnumerable<FrozenClose> closes)
    {
        var previous = "";
        var next = 1;
        foreach (var close in closes.OrderBy(c => c.Number))
        {
            if (close.Number != next || close.PreviousHash != previous || close.Hash != HashOf(close.Number, previous, close.Content))
            {
                return close.Number;
            }

            previous = close.Hash;
            next++;
        }

        return null;
    }
}
