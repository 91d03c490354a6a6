using System.Text;

namespace Fondo.Web.Text;

/// <summary>A text as one segment of a path, whatever is in it: a bank may write a slash into its reference, and no router gives that
/// back.</summary>
public static class PathPart
{
    private const char Mark = '~';

    public static string Of(string text)
    {
        var part = new StringBuilder(text.Length);
        var isDots = text.All(c => c == '.');
        foreach (var c in text)
        {
            // A mark, a slash and dots alone as four hexadecimal digits; the rest as every path has it.
            _ = c is Mark or '/' or '\\' || isDots
                ? part.Append(Mark).Append(((int)c).ToString("x4", System.Globalization.CultureInfo.InvariantCulture))
                : part.Append(c);
        }

        return Uri.EscapeDataString(part.ToString());
    }

    /// <param name="part">As the router gives it: unescaped.</param>
    public static string Read(string part)
    {
        if (!part.Contains(Mark))
        {
            return part;
        }

        var text = new StringBuilder(part.Length);
        for (var i = 0; i < part.Length; i++)
        {
            if (part[i] == Mark && i + 4 < part.Length
                && int.TryParse(part.AsSpan(i + 1, 4), System.Globalization.NumberStyles.AllowHexSpecifier,
                    System.Globalization.CultureInfo.InvariantCulture, out var code))
            {
                text.Append((char)code);
                i += 4;
            }
            else
            {
                text.Append(part[i]);
            }
        }

        return text.ToString();
    }
}
