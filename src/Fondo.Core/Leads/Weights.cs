namespace Fondo.Core.Leads;

/// <summary>How much more likely an explanation is than a difference that nothing in the data explains (docs/leads.md).</summary>
internal static class Weights
{
    /// <summary>A code names the transaction; only a wrong record of it could make this wrong.</summary>
    public const double NamedByReference = 2000, NamedByApproval = 1000;

    /// <summary>Terminal, card, amount and time agree, without a code.</summary>
    public const double ByCircumstance = 60;

    /// <summary>Two facts that do not agree with one another, and the difference to the cent.</summary>
    public const double Likely = 400;

    /// <summary>Both sides are off by the same amount, and a ticket of that amount is there.</summary>
    public const double Swap = 1200;

    public const double Plausible = 12, Weak = 1, Faint = 0.2;

    /// <summary>A whole row of a count one line off, or its value for its pieces: few differences have that form.</summary>
    public const double SlipOfALine = 40;

    /// <summary>The difference is that of two neighbouring notes, and a ticket was paid with the one.</summary>
    public const double WrongNote = 25;

    /// <summary>How much more often a ticket is never paid than money is simply gone; divided by the tickets expected at one cent.</summary>
    public const double UnvoidedPrior = 0.6;

    /// <summary>What each further fault in one drawer makes less likely.</summary>
    public const double Another = 0.02;

    /// <summary>What a small rest within the tolerance makes less likely.</summary>
    public const double WithinTolerance = 0.3;

    /// <summary>Nothing in the data explains it.</summary>
    public const double Unexplained = 1;

    /// <summary>An open item of this cause.</summary>
    public static double Of(string cause) => cause switch
    {
        "not-in-journal" or "missing-from-batch" => 100,
        _ => 400,
    };
}
