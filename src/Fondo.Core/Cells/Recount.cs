namespace Fondo.Core.Cells;

/// <summary>Whether something is to be counted once more (rules §8).</summary>
public static class Recount
{
    /// <summary>One recount is asked for, still blind, when the first count is off by more than the tolerance.</summary>
    /// <param name="attempts">How many counts were handed in.</param>
    public static bool IsAsked(int attempts, bool isOff) => attempts == 1 && isOff;

    /// <summary>A further attempt is a correction, which a supervisor makes and gives a reason for.</summary>
    public static bool IsCorrection(int attempts, bool isOff) => attempts > 0 && !IsAsked(attempts, isOff);
}
