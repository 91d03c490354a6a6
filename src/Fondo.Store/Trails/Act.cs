using System.Buffers;
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
    [ThreadStatic]
    private static ArrayBufferWriter<byte>? _whole;

    public static string Of(params ReadOnlySpan<object?> texts)
    {
        using var hash = IncrementalHash.CreateHash(HashAlgorithmName.SHA256);
        Add(hash, texts);
        return Convert.ToHexStringLower(hash.GetHashAndReset());
    }

    public static void Add(IncrementalHash hash, params ReadOnlySpan<object?> texts)
    {
        // Put together first: a million records are hashed in one piece each.
        var whole = _whole ??= new();
        whole.ResetWrittenCount();
        foreach (var text in texts)
        {
            // "-" stands for nothing there, which is something else than an empty text.
            var written = text switch
            {
                null => null,
                string known => known,
                DateOnly day => day.ToString("O", CultureInfo.InvariantCulture),
                _ => Convert.ToString(text, CultureInfo.InvariantCulture)!,
            };
            Encoding.UTF8.GetBytes(written is null
                ? "-;"
                : string.Create(CultureInfo.InvariantCulture, $"{Encoding.UTF8.GetByteCount(written)};"), whole);
            Encoding.UTF8.GetBytes(written ?? "", whole);
        }

        hash.AppendData(whole.WrittenSpan);
    }
}
