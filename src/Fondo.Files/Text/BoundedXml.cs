using System.Xml;
using System.Xml.Linq;

namespace Fondo.Files.Text;

/// <summary>Reads XML from outside: no document type, nothing fetched, and nothing is built of it before its depth, attributes and texts
/// were found to be within bounds.</summary>
public static class BoundedXml
{
    /// <param name="content">Read twice where it can be sought; else copied.</param>
    /// <exception cref="XmlException">It is not well formed.</exception>
    /// <exception cref="TooLargeXmlException">It is nested deeper, or has more or longer parts, than any statement has.</exception>
    public static XDocument Load(Stream content)
    {
        using var copy = content.CanSeek ? null : Copied(content);
        var source = copy ?? content;
        var start = source.Position;
        using (var reader = Reader(source))
        {
            while (reader.Read())
            {
                var line = ((IXmlLineInfo)reader).LineNumber;
                if (reader.Depth > Limits.DeepestXml)
                {
                    throw new TooLargeXmlException("it is nested deeper than a statement is", line);
                }

                if (reader.AttributeCount > Limits.MostAttributes)
                {
                    throw new TooLargeXmlException("an element has more attributes than a statement has", line);
                }

                if (reader.HasValue && reader.Value.Length > Limits.LongestXmlText)
                {
                    throw new TooLargeXmlException("a text in it is longer than a statement has", line);
                }
            }
        }

        source.Position = start;
        using var second = Reader(source);
        return XDocument.Load(second, LoadOptions.SetLineInfo);
    }

    private static XmlReader Reader(Stream source) =>
        XmlReader.Create(source, new XmlReaderSettings
        {
            DtdProcessing = DtdProcessing.Prohibit,
            XmlResolver = null,
            MaxCharactersInDocument = Limits.LongestXml,
            CloseInput = false
        });

    private static MemoryStream Copied(Stream content)
    {
        var copy = new MemoryStream();
        content.CopyTo(copy);
        copy.Position = 0;
        return copy;
    }
}

/// <summary>XML that goes beyond what any statement has.</summary>
public sealed class TooLargeXmlException(string message, int line) : XmlException(message, null, line, 0)
{
    /// <summary>What it goes beyond, without its place.</summary>
    public string Says { get; } = message;
}
