using System.Text;
using Fondo.Files.Text;

namespace Fondo.Files.Reading;

/// <summary>Reads JSON documents, and refuses full card numbers wherever they stand.</summary>
internal static class JsonFile
{
    internal static ReadOnlySpan<byte> Bom => [0xEF, 0xBB, 0xBF];

    /// <summary>Calls <paramref name="take"/> with the root of the document.</summary>
    public static void ReadDocument(string file, Stream stream, Findings findings, Action<JsonValue, JsonPlace> take)
    {
        using var memory = new MemoryStream();
        var (buffer, read) = (new byte[1 << 16], 0);
        while ((read = stream.Read(buffer)) > 0)
        {
            if (memory.Length + read > Limits.LargestDocument)
            {
                findings.Add(file, 1, null, null, "this document is larger than 64 MB");
                return;
            }

            memory.Write(buffer, 0, read);
        }

        var bytes = new ArraySegment<byte>(memory.GetBuffer(), 0, (int)memory.Length);
        var (text, place) = (new JsonText(), new JsonPlace(file, findings));
        if (TryParse(bytes.AsSpan().StartsWith(Bom) ? bytes[3..] : bytes, 1, text, place))
        {
            take(text.Root, place);
        }
    }

    /// <summary>Whether the text is JSON without a full card number; reported when it is not.</summary>
    public static bool TryParse(ArraySegment<byte> bytes, int line, JsonText text, JsonPlace place)
    {
        place.Aim(line, bytes);
        if (!text.TryParse(bytes, out var fault, out var at))
        {
            place.Findings.Add(place.File, place.LineAt(at), null, null, fault);
            return false;
        }

        return !text.MayHoldCardNumber || !ReportsCardNumber(text.Root, "", place);
    }

    private static bool ReportsCardNumber(JsonValue value, string path, JsonPlace place)
    {
        if (value.IsObject)
        {
            foreach (var (name, member) in value.Members())
            {
                var holds = CardNumbers.Contains(name) ? Report(member, "(withheld)", place)
                    : name != "sku" && ReportsCardNumber(member, path.Length == 0 ? name : $"{path}.{name}", place);
                if (holds)
                {
                    return true;
                }
            }
        }
        else if (value.IsArray)
        {
            var number = 0;
            foreach (var element in value.Elements())
            {
                number++;
                if (ReportsCardNumber(element, $"{path}[{number}]", place))
                {
                    return true;
                }
            }
        }
        else if ((value.IsString || value.IsNumber) && CardNumbers.Contains(value.Text))
        {
            return Report(value, path, place);
        }

        return false;
    }

    private static bool Report(JsonValue value, string path, JsonPlace place)
    {
        place.Report(value, path.Length == 0 ? "the value" : path, null, CardNumberRule.Sentence);
        return true;
    }

    public static byte[] Bytes(string text) => Encoding.UTF8.GetBytes(text);
}
