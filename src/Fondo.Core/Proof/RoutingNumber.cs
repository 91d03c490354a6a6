namespace Fondo.Core.Proof;

/// <summary>The number on a check that names its bank.</summary>
public static class RoutingNumber
{
    private static readonly int[] _weights = [3, 7, 1];

    /// <summary>Nine digits whose sum, weighted 3, 7, 1, is divisible by ten (ABA, from memory).</summary>
    public static bool IsValid(string? text) =>
        text is { Length: 9 } && text.All(char.IsAsciiDigit) && text.Select((c, i) => (c - '0') * _weights[i % 3]).Sum() % 10 == 0;
}
