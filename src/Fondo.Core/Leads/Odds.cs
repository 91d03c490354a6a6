using Fondo.Core.Matching;

namespace Fondo.Core.Leads;

/// <summary>Odds against a difference that nothing in the data explains (docs/leads.md has the derivation).</summary>
internal static class Odds
{
    /// <summary>Nothing in the data explains it.</summary>
    public const double Unexplained = 1;

    /// <summary>Pairs: a code names the transaction; only a wrong record of it could make this wrong.</summary>
    public const double NamedByReference = 2000, NamedByApproval = 1000;

    /// <summary>Pairs: a group of one card equal in sum; or terminal, card, amount and time agree without a code.</summary>
    public const double Grouped = 400, ByCircumstance = 60;

    /// <summary>What a drawer's difference gains when events account for it to the cent: about one difference in so many does so by
    /// chance.</summary>
    public const double Exact = 400, WithinTolerance = 120;

    /// <summary>Two records that contradict each other: an opening count and a declared float, a bag and its drop. It has happened; leaving
    /// it out is what needs luck.</summary>
    public const double Fact = 3, FactLeftOut = 0.03;

    /// <summary>What a ticket check found may be why: a ticket that does not add up is rare.</summary>
    public const double Finding = 2;

    /// <summary>A bag that nobody recorded: it came out of some drawer.</summary>
    public const double Bag = 1;

    /// <summary>A settled row and a cash ticket of its amount at its register and time; a check in the drawer and a cash ticket of its
    /// amount.</summary>
    public const double Swap = 3;

    /// <summary>A check that does not lie in the drawer; a card tender that is in no batch: it may have been cash.</summary>
    public const double MissingCheck = 0.5, MissingCard = 0.1;

    /// <summary>Two drawers off by the same amount; a round one comes about in many ways. The amount itself is free, so the two cells
    /// together gain from exactness once.</summary>
    public const double OtherDrawer = 0.3 / Exact, OtherDrawerRound = 2.5 / Exact;

    /// <summary>How much rarer it is that the one drawer has a slip besides.</summary>
    public const double OnOneSide = 0.7;

    /// <summary>A standard float that differs from the declared one: without a count, and against one.</summary>
    public const double StandardFloat = 2, StandardFloatAgainstCount = 0.002;

    /// <summary>A whole row of a count one line off, or its value for its pieces: few differences have that form.</summary>
    public const double SlipOfALine = 40;

    /// <summary>The same, looked at before the difference: beside what else happened to the drawer.</summary>
    public const double WholeLine = SlipOfALine / Exact;

    /// <summary>A strap or roll; a few pieces of a row one line off; so few of them that they stuck to their neighbours; a larger part of a
    /// row.</summary>
    public const double Bundle = 12, FewPieces = 6, Stuck = 1.5, PartOfARow = 0.2;

    /// <summary>The difference is that of two neighbouring notes, and a ticket was paid with the one.</summary>
    public const double WrongNote = 25;

    /// <summary>The same with two notes that are not neighbours.</summary>
    public const double FarNote = 5;

    /// <summary>Twice a recorded cash refund; and twice a cash sale, divided by the tickets expected at one cent.</summary>
    public const double TurnedRefund = 20, TurnedPrior = 0.1;

    /// <summary>How much more often a ticket is never paid than money is simply gone; divided by the tickets expected at one
    /// cent.</summary>
    public const double UnvoidedPrior = 0.6, UnvoidedLeast = 0.2, UnvoidedMost = 40;

    /// <summary>Several items that were cash at once; and how many amounts a set of them might have come to: divided by the sets
    /// tried.</summary>
    public const double Subset = 0.02, SubsetRange = 10_000;

    /// <summary>A slip that only explains what other events leave: almost any rest can be explained by some slip.</summary>
    public const double SlipOnTop = 0.6;

    /// <summary>An open item of this cause, by itself.</summary>
    public static double Of(Cause cause) => cause switch
    {
        Cause.NotInJournal or Cause.MissingFromBatch => 100,
        _ => 400,
    };
}
