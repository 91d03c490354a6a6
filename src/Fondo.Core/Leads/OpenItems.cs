using Fondo.Core.Entries;
using Fondo.Core.Matching;

namespace Fondo.Core.Leads;

/// <summary>Items that nothing on the other side answers: each is a lead of its cause.</summary>
internal sealed class OpenItems : ILeadSearch
{
    public IEnumerable<Explanation> Search(LeadCase @case)
    {
        foreach (var open in @case.Result.OpenItems.Where(o => o.Item.CarriedFrom is null))
        {
            var amount = open.Side == Side.Batch ? open.Item.Amount : -open.Item.Amount;
            yield return new(open.Cause, [new Posting(open.Item.Cell, amount)], [open.Item.Key], Says(open, @case), Weights.Of(open.Cause));
        }
    }

    private static string Says(OpenItem open, LeadCase @case)
    {
        var what = $"{open.Item.Key} ({@case.Say(open.Item.Amount)}, {@case.Say(open.Item.At)})";
        return open.Cause switch
        {
            "after-cutoff" => $"{what} was taken after the last batch of its terminal was closed; it should be in the next one.",
            "batch-absent" => $"{what} was run on a terminal that has no batch today.",
            "missing-from-batch" => $"{what} was approved and is in no batch.",
            "charged-twice" => $"{what} is a second charge of the same card and amount.",
            "void-not-sent" => $"{what} was voided at the register and settled all the same.",
            "reversal-not-sent" => $"{what} was taken back at the register and settled all the same.",
            "declined-but-settled" => $"{what} was declined at the register and settled all the same.",
            _ => $"{what} was settled, and no ticket has it.",
        };
    }
}
