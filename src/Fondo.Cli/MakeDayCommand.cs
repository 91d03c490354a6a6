using System.Globalization;
using Fondo.Standins.Days;

namespace Fondo.Cli;

/// <summary><c>make-day --seed N --out DIR [--registers N] [--tickets N | --tenders N] [--faults N] [--settled SHARE]</c>: writes a
/// generated day of the demo store as a day folder. The same seed, the same files.</summary>
public static class MakeDayCommand
{
    private const string Expected =
        "make-day --seed N --out DIR [--registers N] [--tickets N | --tenders N] [--faults N] [--settled SHARE]";

    private const int MostFaults = 2000;

    public static int Run(string[] args, TextWriter output, TextWriter error)
    {
        if (Words.Of(args, _known) is not { } options || !options.TryGetValue("--seed", out var seed)
            || !options.TryGetValue("--out", out var folder) || !TryNumber(seed, 0, int.MaxValue, out var number))
        {
            return Usage.Fail(error, Expected);
        }

        (int Registers, int Tickets)? grown = null;
        var faults = 0;
        if (options.TryGetValue("--faults", out var planted) && !TryNumber(planted, 1, MostFaults, out faults))
        {
            return Usage.Fail(error, Expected + ", with 1 to 2000 faults");
        }

        double? settled = null;
        if (options.TryGetValue("--settled", out var typed))
        {
            if (!double.TryParse(typed, NumberStyles.AllowDecimalPoint, CultureInfo.InvariantCulture, out var share) || share > 1)
            {
                return Usage.Fail(error, Expected + ", with a share of cards from 0 to 1");
            }

            settled = share;
        }

        if (options.Count > 2)
        {
            var tenders = options.ContainsKey("--tenders");
            if ((tenders && options.ContainsKey("--tickets"))
                || !TryNumber(options.GetValueOrDefault("--registers", faults > 0 ? "10" : "40"), 2, 90, out var registers)
                || !TryNumber(options.GetValueOrDefault(tenders ? "--tenders" : "--tickets", "900"), 100, 4_000_000, out var many))
            {
                return Usage.Fail(error, Expected + ", with 2 to 90 registers and 100 to 4000000 tickets or tenders");
            }

            grown = (registers, tenders ? (int)(many / DayMaker.TendersOfATicket) : many);
        }

        try
        {
            var made = grown is not { } g ? DayMaker.Make(number)
                : faults > 0 ? DayMaker.MakeFaulty(number, g.Registers, g.Tickets, faults, overlap: true, settled: settled)
                : DayMaker.Make(number, g.Registers, g.Tickets, settled: settled);
            made.WriteTo(folder);
            if (made.Truth() is { } truth)
            {
                File.WriteAllText(folder.TrimEnd('/') + ".truth.json", truth.ToJsonString(new() { WriteIndented = true }) + "\n");
            }

            output.WriteLine($"{folder}: {made.Tickets} tickets, {made.Tenders} tenders, {made.Troubles.Count} troubles");
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            return Usage.Fail(error, $"{folder} cannot be written: {e.Message}");
        }

        return 0;
    }

    private static readonly string[] _known = ["--seed", "--out", "--registers", "--tickets", "--tenders", "--faults", "--settled"];

    private static bool TryNumber(string text, int least, int most, out int number) =>
        int.TryParse(text, NumberStyles.None, CultureInfo.InvariantCulture, out number) && number >= least && number <= most;
}
