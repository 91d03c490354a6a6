using Fondo.Core.Entries;
using Fondo.Core.Matching;

namespace Fondo.Core.Leads;

/// <summary>Items that nothing on the other side answers: each is a lead of its cause.</summary>
internal sealed class OpenItems : ILeadSearch
{
    public IEnumerable<Explanation> Search(LeadCase @case)
    {
        var today = @case.Result.OpenItems.Where(o => o.Item.CarriedFrom is null).ToList();
        foreach (var open in today.Where(o => !ConcernsTheBatch(o)))
        {
            var amount = open.Side == Side.Batch ? open.Item.Amount : -open.Item.Amount;
            yield return new(open.Cause, [new Posting(open.Item.Cell, amount)], [open.Item.Key], Says(open, @case), Weights.Of(open.Cause));
        }

        // A batch that is missing, or was closed early, is one event for all its tenders.
        foreach (var batch in today.Where(ConcernsTheBatch).GroupBy(o => (o.Cause, o.Item.Cell, Terminal: o.Item.Terminal!.Value)))
        {
            var amount = batch.Sum(o => o.Item.Amount);
            yield return new(batch.Key.Cause, [new Posting(batch.Key.Cell, -amount)], [.. batch.Select(o => o.Item.Key), batch.Key.Terminal.Value],
                batch.Key.Cause == "batch-absent"
                    ? $"Terminal {batch.Key.Terminal} has no batch today: {Number(batch.Count())} for {@case.Say(amount)} not settled."
                    : $"Of terminal {batch.Key.Terminal}, {Number(batch.Count())} for {@case.Say(amount)} came after its last batch was closed; the next one should have them.",
                Weights.Of(batch.Key.Cause))
            {
                Uses = [.. batch.Select(o => o.Item.Key)],
            };
        }
    }

    private static bool ConcernsTheBatch(OpenItem open) => open.Cause is "batch-absent" or "after-cutoff";

    private static string Number(int tenders) => tenders == 1 ? "one tender" : $"{tenders} tenders";

    private static string Says(OpenItem open, LeadCase @case)
    {
        var what = $"{open.Item.Key} ({@case.Say(open.Item.Amount)}, {@case.Say(open.Item.At)})";
        return open.Cause switch
        {
            "missing-from-batch" => $"{what} was approved and is in no batch.",
            "charged-twice" => $"{what} is a second charge of the same card and amount.",
            "void-not-sent" => $"{what} was voided at the register and settled all the same.",
            "reversal-not-sent" => $"{what} was taken back at the register and settled all the same.",
            "declined-but-settled" => $"{what} was declined at the register and settled all the same.",
            _ => $"{what} was settled, and no ticket has it.",
        };
    }
}
