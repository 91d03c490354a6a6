namespace Fondo.Soak;

/// <summary><c>--program FILE [--hours N] [--kills N] [--seed S]</c>.</summary>
/// <param name="Program">The server as it was published.</param>
/// <param name="Kills">It ends after so many, or when the time is over.</param>
public sealed record Options(string Program, TimeSpan Time, int Kills, int Seed)
{
    public static Options? Of(string[] args)
    {
        var (program, hours, kills, seed) = ((string?)null, 0.05, int.MaxValue, 1);
        for (var i = 0; i + 1 < args.Length; i += 2)
        {
            switch (args[i])
            {
                case "--program":
                    program = args[i + 1];
                    break;
                case "--hours" when double.TryParse(args[i + 1], NumberStyles.Float, CultureInfo.InvariantCulture, out var h)
                    && h is > 0 and <= 100:
                    hours = h;
                    break;
                case "--kills" when int.TryParse(args[i + 1], out var k) && k > 0:
                    kills = k;
                    break;
                case "--seed" when int.TryParse(args[i + 1], out var s):
                    seed = s;
                    break;
                default:
                    return null;
            }
        }

        return program is null || args.Length % 2 == 1 ? null : new(program, TimeSpan.FromHours(hours), kills, seed);
    }
}
