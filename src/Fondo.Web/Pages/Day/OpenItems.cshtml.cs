using Fondo.Core.Amounts;
using Fondo.Core.Matching;
using Fondo.Core.Sheets;
using Fondo.Store.Days;
using Fondo.Web.Hosting;
using Fondo.Web.Text;
using Microsoft.AspNetCore.Authorization;

namespace Fondo.Web.Pages.Day;

/// <summary>Every open card item with the time that is left to put it right, the most pressing first.</summary>
[Authorize(Policies.Read)]
public sealed class OpenItemsModel(DayStore days, TimeProvider clock) : DayPage(days)
{
    protected override string Place => "resolve";

    public DateTimeOffset Now => clock.GetUtcNow();

    public IReadOnlyList<AtRisk> Items => AtRisk.In(View.Reconciliation);

    public string Headline
    {
        get
        {
            var (open, over) = (Items.Where(i => !i.IsOver(Now)).ToList(), Items.Count(i => i.IsOver(Now)));
            return Items.Count == 0 ? "No card item is open."
                : (open.Count == 0
                    ? ""
                    : $"{Amount(open.Sum(i => i.Amount))} in cards can still be corrected, the first until "
                        + $"{Say.Moment(open[0].Until, Setup)}.")
                    + (over == 0 ? "" : $" {Say.Count(over, "item")} past {(over == 1 ? "its" : "their")} time.");
        }
    }

    /// <summary>What stands where a person reads a name first.</summary>
    public string What(AtRisk risk)
    {
        var item = risk.Open.Item;
        var card = $"{item.Card.Brand}{(item.Card.LastFour is { } last ? $" ending {last}" : "")}";
        return $"{Setup.NameOf(item.Cell.Register)}, "
            + $"{Setup.NameOf(item.Cell.Tender).ToLowerInvariant()}{(card.Length > 0 ? $", {card}" : "")}: "
            + $"{(risk.Open.Side == OpenIn.Batch ? "settled" : "rung")} {Say.Moment(item.At, Setup)}";
    }

    /// <summary>The cell that it is in; the ticket of one that was carried.</summary>
    public string Href(AtRisk risk) => risk.Open.Item.CarriedFrom is null && View.Bridges.ContainsKey(risk.Open.Item.Cell)
        ? CellModel.Href(Setup.TradingDay, risk.Open.Item.Cell)
        : $"/{Setup.TradingDay}/board";
}
