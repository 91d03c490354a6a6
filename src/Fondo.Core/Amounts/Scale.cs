namespace Fondo.Core.Amounts;

/// <summary>What a weight says of a number of pieces.</summary>
public enum Weighing
{
    Sure,

    /// <summary>Less than the container weighs.</summary>
    LighterThanTare,

    /// <summary>The scale cannot tell this number of pieces from the next one: the row goes back to the hand.</summary>
    Between,
}

/// <param name="Pieces">Of <see cref="Weighing.Between"/> the least that it may be.</param>
/// <param name="Most">The most that it may be.</param>
public readonly record struct Weighed(Weighing Says, long Pieces, long Most);

/// <summary>The store's scale: how finely it reads, and what the container on it weighs; both in grams.</summary>
public sealed record Scale(decimal Division, decimal Tare)
{
    /// <summary>Half a gram, and a container that the scale leaves out by itself.</summary>
    public static readonly Scale Standard = new(0.5m, 0);

    /// <summary>Pieces = round(net weight ÷ unit weight). A reading may be off by half a division to either side: where that would make
    /// another number of pieces of it,
    /// the scale cannot tell (rules §8).</summary>
    /// <param name="gross">Grams, with the container.</param>
    /// <param name="unit">Grams of one piece, above nothing.</param>
    public Weighed Weigh(decimal gross, decimal unit)
    {
        var net = gross - Tare;
        if (net < 0)
        {
            return new(Weighing.LighterThanTare, 0, 0);
        }

        // A reading that just touches the half belongs to the number that it is read as.
        var (one, other) =
            (Nearest(Math.Max(0, net - (Division / 2)), unit, isHalfUp: true), Nearest(net + (Division / 2), unit, isHalfUp: false));
        return one == other ? new(Weighing.Sure, one, one) : new(Weighing.Between, Math.Min(one, other), Math.Max(one, other));
    }

    private static long Nearest(decimal grams, decimal unit, bool isHalfUp)
    {
        var whole = Math.Floor(grams / unit);
        var rest = (grams - (whole * unit)) * 2;
        return (long)(rest > unit || (rest == unit && isHalfUp) ? whole + 1 : whole);
    }
}
