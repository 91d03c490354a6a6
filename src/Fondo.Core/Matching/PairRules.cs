using Fondo.Core.Proof;

namespace Fondo.Core.Matching;

/// <summary>The rules that pair one tender with one row (rules §5), by what must agree.</summary>
internal static class PairRules
{
    public static readonly IMatchRule Reference =
        new PairRule(MatchRule.Reference, new Agreement(i => ByReference(i, i.Direction, i.Amount)));

    public static readonly IMatchRule Approval = new PairRule(MatchRule.Approval, new Agreement(i => ByApproval(i, i.Direction, i.Amount)));

    public static readonly IMatchRule Proximity = new PairRule(MatchRule.Proximity,
        new Agreement(i => ByTerminal(i, i.Direction, i.Amount), InWindow: true, HeedsCard: true));

    public static readonly IMatchRule OtherTerminal = new PairRule(MatchRule.OtherTerminal,
        new Agreement(i => ByApprovalAlone(i, i.Direction, i.Amount), HeedsCard: true, Fits: OnOtherTerminals),
        new Agreement(i => ByCard(i, i.Direction, i.Amount), InWindow: true, Fits: OnOtherTerminals));

    public static readonly IMatchRule AmountDiffers = new PairRule(MatchRule.AmountDiffers,
        new Agreement(i => ByReference(i, i.Direction, Money.Zero)),
        new Agreement(i => ByApproval(i, i.Direction, Money.Zero)),
        new Agreement(i => ByTerminalAndCard(i, i.Direction), InWindow: true,
            Fits: (j, r) => Slips.Between(j.Amount, r.Amount) is not null));

    public static readonly IMatchRule Turned = new PairRule(MatchRule.Direction,
        new Agreement(i => ByReference(i, i.Direction, i.Amount), r => ByReference(r, Turn(r), -r.Amount)),
        new Agreement(i => ByApproval(i, i.Direction, i.Amount), r => ByApproval(r, Turn(r), -r.Amount)),
        new Agreement(i => ByTerminal(i, i.Direction, i.Amount), r => ByTerminal(r, Turn(r), -r.Amount), InWindow: true, HeedsCard: true),
        new Agreement(i => ByCard(i, i.Direction, i.Amount), r => ByCard(r, Turn(r), -r.Amount), InWindow: true, Fits: OnOtherTerminals));

    private static Agreed? ByReference(Item i, Direction direction, Money amount) =>
        i.Card.Reference is { IsThere: true } reference ? new Agreed(reference, null, direction, amount) : null;

    private static Agreed? ByApproval(Item i, Direction direction, Money amount) =>
        i.Card is { ApprovalCode: { IsThere: true } code, LastFour: { } last } ? new Agreed(code, last, direction, amount) : null;

    private static Agreed? ByApprovalAlone(Item i, Direction direction, Money amount) =>
        i.Card.ApprovalCode is { IsThere: true } code ? new Agreed(code, null, direction, amount) : null;

    private static Agreed? ByTerminal(Item i, Direction direction, Money amount) =>
        i.Terminal is { } terminal ? new Agreed(terminal.Value, null, direction, amount) : null;

    private static Agreed? ByTerminalAndCard(Item i, Direction direction) =>
        i.Terminal is { } terminal && i.Card.LastFour is { } last ? new Agreed(terminal.Value, last, direction, Money.Zero) : null;

    private static Agreed? ByCard(Item i, Direction direction, Money amount) =>
        i.Card.LastFour is { } last ? new Agreed(last, null, direction, amount) : null;

    private static bool OnOtherTerminals(Item tender, Item row) => tender.Terminal is { } a && row.Terminal is { } b && a != b;

    private static Direction Turn(Item i) => i.Direction == Direction.Sale ? Direction.Refund : Direction.Sale;
}
