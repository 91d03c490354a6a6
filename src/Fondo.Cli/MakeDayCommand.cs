using System.Globalization;
using Fondo.Standins.Days;

namespace Fondo.Cli;

/// <summary><c>make-day --seed N --out DIR [--registers N --tickets N]</c>: writes a generated day of the demo store as a day folder. The same seed, the same files.</summary>
public static class MakeDayCommand
{
    private const string Expected = "make-day --seed N --out DIR [--registers N --tickets N]";

    public static int Run(string[] args, TextWriter output, TextWriter error)
    {
        if (args is not ["--seed", var text, "--out", var folder, .. var size] || !TryNumber(text, out var seed))
        {
            return Usage.Fail(error, Expected);
        }

        (int Registers, int Tickets)? grown = null;
        if (size is ["--registers", var some, "--tickets", var many] && TryNumber(some, out var registers) && registers is > 9 and <= 90 && TryNumber(many, out var tickets) && tickets is >= 500 and <= 200_000)
        {
            grown = (registers, tickets);
        }
        else if (size.Length > 0)
        {
            return Usage.Fail(error, Expected + ", with 10 to 90 registers and 500 to 200000 tickets");
        }

        try
        {
            var made = grown is { } g ? DayMaker.Make(seed, g.Registers, g.Tickets) : DayMaker.Make(seed);
            made.WriteTo(folder);
            output.WriteLine($"{folder}: {made.Tickets} tickets, {made.Troubles.Count} troubles");
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            return Usage.Fail(error, $"{folder} cannot be written: {e.Message}");
        }

        return 0;
    }

    private static bool TryNumber(string text, out int number) => int.TryParse(text, NumberStyles.None, CultureInfo.InvariantCulture, out number);
}
