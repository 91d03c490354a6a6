using Fondo.Core.Closing;
using SkiaSharp;

namespace Fondo.Web.Closing;

/// <summary>A close document as a PDF of A4 pages, with its fonts in it.</summary>
public static class ClosePdf
{
    private const float Width = 595, Height = 842, Edge = 42, Line = 11.5f, Small = 7.6f;

    private static readonly Lazy<SKTypeface> _text = new(() => Face("archivo.ttf")), _strong = new(() => Face("archivo-semibold.ttf")),
        _voice = new(() => Face("source-serif-semibold.ttf"));

    private static readonly SKColor _ink = new(0x1d, 0x27, 0x33), _faint = new(0x94, 0x8b, 0x74);

    /// <param name="hash">Of the frozen text, at the foot of each page.</param>
    public static byte[] Of(CloseDocument doc, string hash) => Of(
        new SKDocumentPdfMetadata
        {
            Title = $"{doc.Store}: close {doc.Number}",
            Author = doc.ClosedBy,
            Creation = doc.ClosedAt.UtcDateTime,
            Producer = "Fondo"
        },
        $"{doc.Store}: close number {doc.Number}", CloseTables.Heading(doc), CloseTables.Of(doc),
        $"{doc.Store}, close {doc.Number} of {doc.TradingDay}", $"frozen under {hash}",
        [
            doc.Trail is { } trail ? $"The audit trail was at line {trail.Number}, {trail.Hash}." : "",
            "Supervisor ______________________________        Witness ______________________________"
        ]);

    /// <summary>Tables under a title, page by page.</summary>
    /// <param name="foot">At the foot of each page, with its number.</param>
    /// <param name="last">Sentences at the end; empty ones are left out.</param>
    public static byte[] Of(SKDocumentPdfMetadata about, string title, string heading, IEnumerable<CloseTable> tables, string name,
        string foot, IReadOnlyList<string> last)
    {
        using var stream = new MemoryStream();
        using (var pdf = SKDocument.CreatePdf(stream, about))
        {
            var page = new Page(pdf, name, foot);
            page.Write(title, _voice.Value, 19, 26);
            page.Write(heading, _text.Value, 9.5f, 20);
            foreach (var table in tables)
            {
                Write(page, table);
            }

            foreach (var says in last.Where(l => l.Length > 0))
            {
                page.Room(40);
                page.Write(says, _text.Value, says.Contains("____", StringComparison.Ordinal) ? 9.5f : Small,
                    says.Contains("____", StringComparison.Ordinal) ? 40 : 22);
            }

            page.End();
            pdf.Close();
        }

        return stream.ToArray();
    }

    private static void Write(Page page, CloseTable table)
    {
        page.Room(56);
        page.Write(table.Title, _voice.Value, 12, 24);
        var all = (float)table.Columns.Sum(c => c.Share);
        var widths = table.Columns.Select(c => (Width - (2 * Edge)) * c.Share / all).ToArray();
        Row(page, table, widths, [.. table.Columns.Select(c => c.Name)], _strong.Value);
        foreach (var row in table.Rows)
        {
            Row(page, table, widths, [.. row.Select(v => v.Text)], _text.Value);
        }
    }

    private static void Row(Page page, CloseTable table, float[] widths, IReadOnlyList<string> texts, SKTypeface face)
    {
        using var font = new SKFont(face, Small);
        var lines = texts.Select((t, i) => Broken(t, font, widths[i] - 6)).ToArray();
        var height = (lines.Max(l => l.Count) * (Line - 2)) + 4;
        page.Room(height);
        var x = Edge;
        for (var i = 0; i < lines.Length; i++)
        {
            var y = page.Y + Line - 2;
            foreach (var line in lines[i])
            {
                page.Put(line, font, table.Columns[i].IsNumber ? x + widths[i] - 6 - font.MeasureText(line) : x, y);
                y += Line - 2;
            }

            x += widths[i];
        }

        page.Rule(height);
    }

    /// <summary>A text in lines that fit, broken at its spaces; a word that is too long is broken where it must be.</summary>
    private static List<string> Broken(string text, SKFont font, float width)
    {
        var (lines, line) = (new List<string>(), "");
        foreach (var whole in text.ReplaceLineEndings(" ").Split(' '))
        {
            var word = whole;
            while (font.MeasureText(word) > width && word.Length > 1)
            {
                var fits = Math.Max(1, (int)font.BreakText(word, width));
                if (line.Length > 0)
                {
                    lines.Add(line);
                    line = "";
                }

                lines.Add(word[..fits]);
                word = word[fits..];
            }

            var longer = line.Length == 0 ? word : $"{line} {word}";
            if (font.MeasureText(longer) > width && line.Length > 0)
            {
                lines.Add(line);
                longer = word;
            }

            line = longer;
        }

        lines.Add(line);
        return lines;
    }

    private static SKTypeface Face(string name)
    {
        using var stream = typeof(ClosePdf).Assembly.GetManifestResourceStream(name)!;
        return SKTypeface.FromStream(stream);
    }

    /// <summary>Pages one after the other, and how far down the current one is written.</summary>
    private sealed class Page(SKDocument pdf, string name, string foot)
    {
        private SKCanvas? _canvas;
        private int _number;

        public float Y { get; private set; }

        /// <summary>Begins a new page where there is not so much room left.</summary>
        public void Room(float height)
        {
            if (_canvas is null || Y + height > Height - Edge)
            {
                End();
                (_canvas, Y) = (pdf.BeginPage(Width, Height), Edge);
                _number++;
                using var font = new SKFont(_text.Value, 6.5f);
                Put($"{name} · page {_number}{(foot.Length > 0 ? $" · {foot}" : "")}", font, Edge, Height - 22);
            }
        }

        public void Write(string text, SKTypeface face, float size, float height)
        {
            using var font = new SKFont(face, size);
            foreach (var line in Broken(text, font, Width - (2 * Edge)))
            {
                Room(height);
                Put(line, font, Edge, Y + height - 6);
                Y += height;
            }
        }

        public void Put(string text, SKFont font, float x, float y)
        {
            using var paint = new SKPaint { Color = _ink, IsAntialias = true };
            _canvas!.DrawText(text, x, y, font, paint);
        }

        /// <summary>A thin line below what was written.</summary>
        public void Rule(float height)
        {
            Y += height;
            using var paint = new SKPaint { Color = _faint, StrokeWidth = 0.3f };
            _canvas!.DrawLine(Edge, Y, Width - Edge, Y, paint);
        }

        public void End()
        {
            if (_canvas is not null)
            {
                pdf.EndPage();
                _canvas = null;
            }
        }
    }
}
