using System.Text;
using Fondo.Files.Text;

namespace Fondo.Files.Reading;

/// <summary>Reads JSON documents and JSON lines, and refuses full card numbers wherever they stand.</summary>
internal static class JsonFile
{
    private const int LongestLine = 16 << 20;

    private static ReadOnlySpan<byte> Bom => [0xEF, 0xBB, 0xBF];

    /// <summary>Calls <paramref name="take"/> with the root of the document.</summary>
    public static void ReadDocument(string file, Stream stream, Findings findings, Action<JsonValue, JsonPlace> take)
    {
        using var memory = new MemoryStream();
        stream.CopyTo(memory);
        var bytes = new ReadOnlyMemory<byte>(memory.GetBuffer(), 0, (int)memory.Length);
        Parse(file, 1, bytes.Span.StartsWith(Bom) ? bytes[3..] : bytes, new JsonText(), findings, take);
    }

    /// <summary>Calls <paramref name="take"/> with every line that is not blank.</summary>
    public static void ReadLines(string file, Stream stream, Findings findings, Action<int, JsonValue, JsonPlace> take)
    {
        var text = new JsonText();
        var buffer = new byte[1 << 16];
        var (held, line, first) = (0, 0, true);
        while (!findings.IsFull)
        {
            var read = stream.Read(buffer, held, buffer.Length - held);
            var end = held + read;
            var start = 0;
            int length;
            while (!findings.IsFull && (length = buffer.AsSpan(start, end - start).IndexOf((byte)'\n')) >= 0)
            {
                Line(buffer.AsMemory(start, length));
                start += length + 1;
            }

            held = end - start;
            if (read == 0)
            {
                if (held > 0 && !findings.IsFull)
                {
                    Line(buffer.AsMemory(start, held));
                }

                return;
            }

            buffer.AsSpan(start, held).CopyTo(buffer);
            if (held == buffer.Length)
            {
                if (held >= LongestLine)
                {
                    findings.Add(file, line + 1, null, null, "this line is longer than 16 MB");
                    return;
                }

                Array.Resize(ref buffer, held * 2);
            }
        }

        void Line(ReadOnlyMemory<byte> bytes)
        {
            line++;
            if (first && bytes.Span.StartsWith(Bom))
            {
                bytes = bytes[3..];
            }

            first = false;
            if (bytes.Span.TrimEnd(" \t\r"u8).Length > 0)
            {
                Parse(file, line, bytes, text, findings, (value, place) => take(line, value, place));
            }
        }
    }

    public static void Parse(string file, int line, ReadOnlyMemory<byte> bytes, JsonText text, Findings findings, Action<JsonValue, JsonPlace> take)
    {
        var place = new JsonPlace(file, line, bytes, findings);
        if (!text.TryParse(bytes, out var fault, out var at))
        {
            findings.Add(file, line + bytes.Span[..at].Count((byte)'\n'), null, null, fault);
        }
        else if (!MayHoldCardNumber(bytes.Span) || !ReportsCardNumber(text.Root, "", place))
        {
            take(text.Root, place);
        }
    }

    /// <summary>A quick look: without thirteen digits in a row (spaces and hyphens between), and without escapes, there is no card number.</summary>
    private static bool MayHoldCardNumber(ReadOnlySpan<byte> text)
    {
        var digits = 0;
        foreach (var b in text)
        {
            if (b is >= (byte)'0' and <= (byte)'9')
            {
                if (++digits >= 13)
                {
                    return true;
                }
            }
            else if (b == '\\')
            {
                return true;
            }
            else if (b is not ((byte)' ' or (byte)'-'))
            {
                digits = 0;
            }
        }

        return false;
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

    public static ReadOnlyMemory<byte> Bytes(string text) => Encoding.UTF8.GetBytes(text);
}
