using Fondo.Core.Closing;

namespace Fondo.Wording;

/// <summary>What a close document says otherwise than the records.</summary>
public static class DifferenceText
{
    public static string Says(this CloseDifference difference) =>
        $"{difference.What}: frozen as {OrNothing(difference.Was)}, by the records {OrNothing(difference.Is)}";

    private static string OrNothing(string text) => text.Length == 0 ? "nothing" : text;
}
