using Fondo.Core.Amounts;
using Fondo.Core.Banking;
using Fondo.Store.Days;
using Fondo.Web.Hosting;
using Microsoft.AspNetCore.Authorization;

namespace Fondo.Web.Pages.Day;

/// <summary>Where the store's money is that is not at the bank yet, place by place, by how long it has been there.</summary>
[Authorize(Policies.Read)]
public sealed class MoneyModel(DayStore days) : DayPage(days)
{
    protected override string Place => "safe";

    public IReadOnlyList<MoneyItem> Items { get; private set; } = [];

    public IEnumerable<IGrouping<MoneyPlace, MoneyItem>> Places => Items.GroupBy(i => i.Place).OrderBy(g => g.Key);

    public IReadOnlyList<MoneyItem> Late => [.. Items.Where(i => i.Due < Date).OrderBy(i => i.Due)];

    public int AgeOf(MoneyItem item) => Date.DayNumber - item.Since.DayNumber;

    /// <summary>In the order of ages: today, up to three days, up to a week, longer.</summary>
    public Money[] ByAge(IEnumerable<MoneyItem> items)
    {
        var ages = new Money[4];
        foreach (var item in items)
        {
            ages[AgeOf(item) switch { <= 0 => 0, <= 3 => 1, <= 7 => 2, _ => 3 }] += item.Amount;
        }

        return ages;
    }

    public static string NameOf(MoneyPlace place) => place switch
    {
        MoneyPlace.Drawer => "In drawers",
        MoneyPlace.Safe => "In the safe",
        MoneyPlace.Bag => "In bags that nobody opened",
        MoneyPlace.Checks => "Checks in the safe",
        MoneyPlace.SealedDeposit => "Sealed deposits in the safe",
        MoneyPlace.DepositOnTheWay => "Deposits on their way to the bank",
        MoneyPlace.Processor => "With processors",
        _ => "With customers and others",
    };

    public void OnGet() => Items = MoneyItem.Of(View.Overview, View.Money, View.Entries);
}
