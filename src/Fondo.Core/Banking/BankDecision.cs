using Fondo.Core.Journal;

namespace Fondo.Core.Banking;

/// <summary>What a person decided about a line of the bank.</summary>
public enum BankDecisionKind
{
    /// <summary>It pays this deposit, funding, change order or claim.</summary>
    Match,

    /// <summary>It pays this deposit or funding, and nothing more will come for it: what is missing is a difference.</summary>
    Last,

    /// <summary>It pays nothing that is open, until a person decides otherwise.</summary>
    Part,

    /// <summary>The decision is withdrawn: the rules decide again.</summary>
    Release,

    /// <summary>Nothing more will come for this deposit or funding: what is missing is a difference.</summary>
    NothingMore,

    /// <summary>It is expected again.</summary>
    ExpectAgain,
}

/// <summary>What a line of the bank may pay.</summary>
public enum BankTargetKind
{
    Deposit,
    Funding,
    ChangeOrder,
    Claim,
}

/// <summary>One deposit, funding, change order or claim.</summary>
/// <param name="Key">The number of the deposit or order; the key of the funding or claim.</param>
public readonly record struct BankTarget(BankTargetKind Kind, string Key)
{
    public static BankTarget Of(Custody.Deposit deposit) => new(BankTargetKind.Deposit, deposit.Name);

    public static BankTarget Of(Funding funding) => new(BankTargetKind.Funding, funding.Key);

    public static BankTarget Of(Custody.OpenOrder order) =>
        new(BankTargetKind.ChangeOrder, order.Number.ToString(System.Globalization.CultureInfo.InvariantCulture));

    public static BankTarget Of(OpenClaim claim) => new(BankTargetKind.Claim, claim.Key);

    public override string ToString() => $"{Kind.Written()}:{Key}";

    public static BankTarget? Parse(string? text) =>
        text?.Split(':', 2) is [var kind, { Length: > 0 } key] && WrittenNames.Read<BankTargetKind>(kind) is { } known
            ? new(known, key)
            : null;
}

/// <summary>A person's decision on one line of the bank, or on what is expected from it; the last one on either holds, and no rule
/// overrides it.</summary>
/// <param name="Line">The key of the line; empty for a decision on what is expected.</param>
/// <param name="Target">What the line pays, or what is expected; null where a line pays nothing, or the rules decide.</param>
public sealed record BankDecision(Guid Id, BankDecisionKind Kind, string Line, BankTarget? Target, string Reason, PersonId By,
    DateTimeOffset At)
{
    /// <summary>What persons said that nothing more comes for.</summary>
    public static IEnumerable<BankTarget> EndedBy(IEnumerable<BankDecision> decisions) =>
        decisions.Where(d => d.Line.Length == 0 && d.Target is not null).GroupBy(d => d.Target!.Value)
            .Where(g => g.Last().Kind == BankDecisionKind.NothingMore).Select(g => g.Key);
}
