namespace Fondo.Core.Matching;

/// <summary>What says that tenders and rows belong together, in the order in which the rules apply (rules §5).</summary>
public enum MatchRule
{
    Reference,
    Approval,
    Proximity,
    OtherTerminal,
    AmountDiffers,
    Direction,
    Group,

    /// <summary>A person said so.</summary>
    ByHand,
}
