namespace Fondo.Cli;

/// <summary>What every command answers to words it does not understand: exit status 2.</summary>
internal static class Usage
{
    public const int Refused = 2;

    public static int Fail(TextWriter error, string sentence)
    {
        error.WriteLine($"fondo: {sentence}");
        return Refused;
    }
}
