using Fondo.Core.Cash;
using Fondo.Files.Text;

namespace Fondo.Files.Reading;

/// <summary>Reads what a scale or a counting machine says: one JSON object (docs/formats.md).</summary>
public static class MachineReadings
{
    /// <summary>No machine has more kinds of piece than this.</summary>
    private const int MostRows = 64;

    /// <summary>The reading; or what is wrong with it.</summary>
    public static (MachineReading? Reading, IReadOnlyList<Finding> Findings) Read(string file, Stream stream, Setup setup)
    {
        var findings = new Findings();
        MachineReading? reading = null;
        JsonFile.ReadDocument(file, stream, findings, (root, place) =>
        {
            if (place.IsObject(root))
            {
                reading = Read(new JsonFields(root, place, setup.Currency), setup);
            }
        });
        return (findings.Any ? null : reading, findings.All);
    }

    private static MachineReading Read(JsonFields f, Setup setup)
    {
        if (f.Integer("fondo") != 1)
        {
            f.Fault("fondo", null, "expected 1, the version of this shape");
        }

        var (drawer, bag, isSafe) = (f.OptionalId("drawer"), f.OptionalText("bag"), f.OptionalFlag("safe") == true);
        if ((drawer is null ? 0 : 1) + (bag is null ? 0 : 1) + (isSafe ? 1 : 0) != 1)
        {
            f.Fault("drawer", drawer, "expected one of drawer, bag, or safe: true");
        }

        var target = drawer is not null ? CountTarget.Of(new DrawerId(drawer))
            : bag is not null ? CountTarget.OfBag(bag)
            : CountTarget.Safe;
        var rows = new List<MachineRow>();
        f.Each("rows", required: true, MostRows, rows, row => Row(row, setup));
        foreach (var twice in rows.GroupBy(r => r.Denomination).Where(g => g.Count() > 1))
        {
            f.Fault("rows", setup.Currency.Format(twice.Key), "this denomination is given twice");
        }

        return new(f.Id("device"), f.Id("reading", recurs: false), f.Time("at"), target, [.. rows]);
    }

    private static MachineRow Row(JsonFields f, Setup setup)
    {
        var worth = f.Amount("denomination");
        if (setup.Denominations.All(d => d.Worth != worth))
        {
            f.Fault("denomination", f.OptionalText("denomination"), "expected a note or coin of the set-up");
        }

        var grams = SetupReader.Grams(f, "grams");
        if (grams is not null == f.IsThere("pieces"))
        {
            f.Fault("pieces", null, "expected pieces, or grams");
        }

        return new(worth, grams is null ? f.Integer("pieces", 0, CountSheet.MostPieces) : null, grams);
    }
}
