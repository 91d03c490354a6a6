namespace Fondo.Store.Intake;

/// <summary>A file that is read into memory as a whole, and no more of it than may be.</summary>
public static class WholeFile
{
    /// <summary>Its bytes; null where it has more than so many, and then only that much of it was read.</summary>
    public static async Task<byte[]?> Read(Stream stream, long most)
    {
        using var whole = new MemoryStream();
        var buffer = new byte[1 << 16];
        while (await stream.ReadAsync(buffer) is > 0 and var read)
        {
            if (whole.Length + read > most)
            {
                return null;
            }

            whole.Write(buffer, 0, read);
        }

        return whole.ToArray();
    }
}
