using System.Globalization;
using System.Security.Cryptography;
using System.Text;
using Fondo.Store.Model;

namespace Fondo.Store.Trails;

/// <summary>Something that was done, as the trail will say it.</summary>
/// <param name="By">Null: whoever is here.</param>
/// <param name="Says">In words; from what to what.</param>
/// <param name="Of">Where what was written stands, a table and its keys; empty where the words are all.</param>
/// <param name="Content">SHA-256 of what was written there; empty where the words are all.</param>
public sealed record Act(TrailAct What, string? By, string On, string Says, string Of = "", string Content = "");

/// <summary>Texts as one hash, each with its length, so that nothing can move from one to the next.</summary>
internal static class Hashing
{
    public static string Of(params ReadOnlySpan<object?> texts)
    {
        using var hash = IncrementalHash.CreateHash(HashAlgorithmName.SHA256);
        Add(hash, texts);
        return Convert.ToHexStringLower(hash.GetHashAndReset());
    }

    public static void Add(IncrementalHash hash, params ReadOnlySpan<object?> texts)
    {
        foreach (var text in texts)
        {
            // "-" stands for nothing there, which is something else than an empty text.
            var bytes = text switch
            {
                null => null,
                string known => Encoding.UTF8.GetBytes(known),
                DateOnly day => Encoding.UTF8.GetBytes(day.ToString("O", CultureInfo.InvariantCulture)),
                _ => Encoding.UTF8.GetBytes(Convert.ToString(text, CultureInfo.InvariantCulture)!),
            };
            hash.AppendData(Encoding.ASCII.GetBytes(bytes is null ? "-;" : $"{bytes.Length};"));
            hash.AppendData(bytes ?? []);
        }
    }
}
