using Fondo.Core.Cells;
using Fondo.Core.Days;
using Fondo.Core.Entries;
using Fondo.Core.Journal;
using Fondo.Core.Proof;

namespace Fondo.Core.Leads;

/// <summary><c>float-differs</c>: the opening count, or the standard float, differs from the float that was declared.</summary>
internal sealed class Floats : ILeadSearch
{
    public IEnumerable<Explanation> Search(LeadCase @case)
    {
        foreach (var open in @case.Day.Journal.OfType<SessionOpen>().Where(o => o.Drawer is not null))
        {
            var cell = new CellKey.Takings(open.Register, open.Drawer, TenderId.Cash);
            var counted = @case.Day.Counts.Where(c => c.Kind == CountKind.Opening && c.Drawer == open.Drawer).MaxBy(c => (c.Attempt, c.Id));
            if (counted is not null && counted.Cash != open.Float)
            {
                yield return new(LeadKind.FloatDiffers, [new Posting(cell, counted.Cash - open.Float)], [counted.Id, open.Id.Value],
                    new LeadFact.OpeningCountDiffers(counted.Cash, open.Float), Odds.Fact,
                    new LeadRemedy.Record(MovementKind.Float), isFact: true);
            }
            else if (@case.Day.Setup.Find(open.Register) is { } register && register.Float != open.Float)
            {
                yield return new(LeadKind.FloatDiffers, [new Posting(cell, register.Float - open.Float)], [open.Id.Value],
                    new LeadFact.StandardFloatDiffers(register.Float, open.Float),
                    counted is null ? Odds.StandardFloat : Odds.StandardFloatAgainstCount, new LeadRemedy.Record(MovementKind.Float));
            }
        }
    }
}
