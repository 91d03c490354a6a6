namespace Fondo.Core;

/// <summary>The stated ranges of everything that is read from outside (docs/formats.md). Within them no arithmetic of the core can
/// overflow.</summary>
public static class Limits
{
    /// <summary>Characters of an id.</summary>
    public const int LongestId = 64;

    /// <summary>Tenders of a ticket, and its lines.</summary>
    public const int MostTenders = 99, MostLines = 2_000;

    /// <summary>Members of one JSON object, columns of a CSV file.</summary>
    public const int MostMembers = 64;

    /// <summary>Amounts are below this many whole units of the currency.</summary>
    public const long WholeUnits = 1_000_000_000;

    /// <summary>Pieces of one denomination in one count are below this.</summary>
    public const int Pieces = 1_000_000;

    /// <summary>Quantities and weights are below this.</summary>
    public const decimal Quantity = 1_000_000;

    /// <summary>A price programme's rate: at a higher one a cash price says nothing about the listed price.</summary>
    public const decimal MostProgrammeRate = 0.99m;

    /// <summary>Years of times and dates.</summary>
    public const int FirstYear = 2000, LastYear = 2099;

    /// <summary>Bytes of a line of a journal, or of a row.</summary>
    public const int LongestLine = 16 << 20;

    /// <summary>Bytes of a JSON document: a set-up, counts, carried items.</summary>
    public const int LargestDocument = 64 << 20;

    /// <summary>How deep JSON and XML are nested at most, and the attributes of an XML element.</summary>
    public const int DeepestJson = 32, DeepestXml = 64, MostAttributes = 32;

    /// <summary>Characters of a text in XML, and of a whole XML document.</summary>
    public const int LongestXmlText = 64 << 10, LongestXml = 256 << 20;

    /// <summary>Bytes of an upload, and of what a zip unpacks to.</summary>
    public const long LargestUpload = 512L << 20;

    /// <summary>Files in a zip.</summary>
    public const int MostFiles = 10_000;

    /// <summary>What an id is made of, for a sentence.</summary>
    public const string IdShape = "1 to 64 letters, digits, and . _ : -";

    /// <summary>Whether the text can be an id of ASCII alone, as most are.</summary>
    public static bool IsId(ReadOnlySpan<byte> ascii)
    {
        if (ascii.Length is 0 or > LongestId)
        {
            return false;
        }

        foreach (var c in ascii)
        {
            if (!char.IsAsciiLetterOrDigit((char)c) && c is not ((byte)'.' or (byte)'_' or (byte)':' or (byte)'-'))
            {
                return false;
            }
        }

        return true;
    }

    /// <summary>Whether the text can be an id.</summary>
    public static bool IsId(ReadOnlySpan<char> text)
    {
        if (text.Length is 0 or > LongestId)
        {
            return false;
        }

        foreach (var c in text)
        {
            if (!char.IsLetterOrDigit(c) && c is not ('.' or '_' or ':' or '-'))
            {
                return false;
            }
        }

        return true;
    }
}
