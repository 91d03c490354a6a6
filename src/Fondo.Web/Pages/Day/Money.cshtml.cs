using Fondo.Core.Amounts;
using Fondo.Core.Banking;
using Fondo.Core.Entries;
using Fondo.Core.SetUp;
using Fondo.Store.Days;
using Fondo.Web.Hosting;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace Fondo.Web.Pages.Day;

/// <summary>Where the store's money is that is not at the bank yet, place by place, by age.</summary>
[Authorize(Policies.Read)]
public sealed class MoneyModel(DayStore days, Resolving resolving) : DayPage(days)
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
        MoneyPlace.Bag => "In unopened bags",
        MoneyPlace.Checks => "Checks in the safe",
        MoneyPlace.SealedDeposit => "Sealed deposits in the safe",
        MoneyPlace.DepositOnTheWay => "Deposits in transit",
        MoneyPlace.Processor => "With processors",
        MoneyPlace.Claim => "Claims",
        MoneyPlace.Change => "Change in transit",
        _ => "With customers and others",
    };

    /// <summary>The claims whose end can be written down here.</summary>
    public IEnumerable<OpenClaim> Claims => Items.Select(i => i.Claim).OfType<OpenClaim>();

    /// <summary>What was typed for a claim, and what is wrong with it.</summary>
    public (Guid Claim, string Reason, string Sentence)? Refused { get; private set; }

    /// <summary>Ends a claim that no line of the bank will pay.</summary>
    /// <param name="how">paid: at a drawer; else it is given up.</param>
    [Does(ActKind.EndClaim)]
    public async Task<IActionResult> OnPostEnd(Guid form, Guid claim, string? how, string? reason)
    {
        OnGet();
        var open = Claims.FirstOrDefault(c => c.Id == claim);
        var isPaid = how == "paid";
        var outcome = open is null && View.Find(form) is null ? Fondo.Store.Outcome.Refused("This claim was already ended.")
            : await resolving.Add(Date, form,
                [new(isPaid ? EntryKind.Record : EntryKind.Accept, [], isPaid ? open?.PaidAtADrawer : null, reason?.Trim() ?? "",
                    [claim.ToString("D")])], MySelf);
        if (outcome.IsDone)
        {
            return Redirect($"/{Setup.TradingDay}/money");
        }

        Refused = (claim, reason ?? "", outcome.Objection!);
        return Page();
    }

    /// <summary>Whether an end of it waits for a second person.</summary>
    public bool Waits(OpenClaim claim) => View.Entries.Any(e => !e.Holds && !e.IsWithdrawn(View.Entries) && e.Evidence.Contains(claim.Key));

    public void OnGet() => Items = MoneyItem.Of(View.Overview, View.Money, View.Entries);
}
