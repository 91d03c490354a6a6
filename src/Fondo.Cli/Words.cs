namespace Fondo.Cli;

/// <summary>Words behind a command: <c>--name VALUE</c>, each at most once.</summary>
internal static class Words
{
    /// <summary>The values by name; null when a word makes no sense.</summary>
    public static Dictionary<string, string>? Of(IReadOnlyList<string> args, params ReadOnlySpan<string> names)
    {
        var values = new Dictionary<string, string>();
        for (var i = 0; i < args.Count; i += 2)
        {
            if (!names.Contains(args[i]) || i + 1 == args.Count || !values.TryAdd(args[i], args[i + 1]))
            {
                return null;
            }
        }

        return values;
    }
}
