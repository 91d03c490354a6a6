using System.Security.Cryptography;
using System.Xml.Linq;
using Microsoft.AspNetCore.DataProtection.XmlEncryption;

namespace Fondo.Web.Hosting;

/// <summary>The secret with which the application's keys are encrypted on the disk: from a file that the system hands over, else from one
/// in the data folder.</summary>
internal sealed class KeySecret
{
    private const int Bytes = 32;

    private readonly byte[] _secret;

    public KeySecret(RunOptions options)
    {
        var file = options.Secret ?? Path.Combine(options.DataFolder, "secret");
        if (!File.Exists(file) && options.Secret is null)
        {
            File.WriteAllText(file, Convert.ToHexString(RandomNumberGenerator.GetBytes(Bytes)));
            PrivateFiles.Close(file);
        }

        Text = File.ReadAllText(file).Trim();
        _secret = SHA256.HashData(System.Text.Encoding.UTF8.GetBytes(Text));
    }

    public string Text { get; }

    public byte[] Encrypt(byte[] plain)
    {
        var (nonce, tag, cipher) = (RandomNumberGenerator.GetBytes(12), new byte[16], new byte[plain.Length]);
        using var aes = new AesGcm(_secret, tag.Length);
        aes.Encrypt(nonce, plain, cipher, tag);
        return [.. nonce, .. tag, .. cipher];
    }

    /// <exception cref="CryptographicException">It was encrypted with another secret.</exception>
    public byte[] Decrypt(byte[] locked)
    {
        var plain = new byte[locked.Length - 28];
        using var aes = new AesGcm(_secret, 16);
        aes.Decrypt(locked.AsSpan(0, 12), locked.AsSpan(28), locked.AsSpan(12, 16), plain);
        return plain;
    }
}

/// <summary>Encrypts the keys of cookies and forms on the disk.</summary>
internal sealed class KeyEncryptor(KeySecret secret) : IXmlEncryptor
{
    public EncryptedXmlInfo Encrypt(XElement plaintextElement) => new(
        new XElement("sealed",
            Convert.ToBase64String(
                secret.Encrypt(System.Text.Encoding.UTF8.GetBytes(plaintextElement.ToString(SaveOptions.DisableFormatting))))),
        typeof(KeyDecryptor));
}

/// <summary>Decrypts what <see cref="KeyEncryptor"/> encrypted.</summary>
internal sealed class KeyDecryptor(IServiceProvider services) : IXmlDecryptor
{
    public XElement Decrypt(XElement encryptedElement) =>
        XElement.Parse(System.Text.Encoding.UTF8.GetString(services.GetRequiredService<KeySecret>()
            .Decrypt(Convert.FromBase64String(encryptedElement.Value))));
}
