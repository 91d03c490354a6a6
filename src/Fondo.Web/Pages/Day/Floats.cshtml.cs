using System.Collections.Immutable;
using System.Globalization;
using Fondo.Core.Amounts;
using Fondo.Core.Cash;
using Fondo.Core.Days;
using Fondo.Core.Journal;
using Fondo.Core.Proof;
using Fondo.Core.SetUp;
using Fondo.Store;
using Fondo.Store.Days;
using Fondo.Web.Hosting;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace Fondo.Web.Pages.Day;

/// <summary>Tomorrow's floats, all registers together out of what there is, and what change to buy so that they get what they should
/// have.</summary>
[Authorize(Policies.Supervise)]
public sealed class FloatsModel(DayStore days, Floats floats) : DayPage(days)
{
    /// <summary>Floats of so many days should be there before the next change comes.</summary>
    internal const int DaysAhead = 2;

    protected override string Place => "safe";

    public IReadOnlyList<DrawerSession> Drawers { get; private set; } = [];

    public ImmutableArray<Pieces> There { get; private set; } = [];

    /// <summary>By drawer and denomination in minor units, as typed.</summary>
    public Dictionary<DrawerId, Dictionary<long, string>> Typed { get; private set; } = [];

    public FloatPlan? Plan { get; private set; }

    /// <summary>Whether the floats are written down as they stand here.</summary>
    public bool IsKept { get; private set; }

    public IReadOnlyList<Objection> Objections { get; private set; } = [];

    public Guid Form { get; private set; } = Guid.NewGuid();

    public ImmutableArray<ChangeLine> Change => ChangeOrder.Of(There, Drawers.Count * DaysAhead, Setup.Denominations);

    public IEnumerable<Denomination> Kinds => Setup.Denominations.Where(d => d.Kept > 0 || There.Any(p => p.Denomination == d.Worth));

    public int NumberOf(Denomination kind) => There.Where(p => p.Denomination == kind.Worth).Sum(p => p.Number);

    public Money TargetOf(DrawerSession drawer) => Setup.Find(drawer.Register)!.Float;

    public static string FieldOf(DrawerId drawer, Denomination kind) =>
        string.Create(CultureInfo.InvariantCulture, $"{drawer}-p{kind.Worth.Minor}");

    public string? ObjectionAt(string field) => Objections.FirstOrDefault(o => o.Field == field)?.Sentence;

    /// <param name="again">Chosen afresh, though floats are written down.</param>
    public void OnGet(bool again)
    {
        Load();
        IsKept = !again && Drawers.Count > 0 && Drawers.All(d => Floats.Kept(View, d.Drawer) is not null);
        if (IsKept || Drawers.Count == 0)
        {
            Typed = Drawers.ToDictionary(d => d.Drawer, d => Texts(Floats.Kept(View, d.Drawer)!.Pieces));
            return;
        }

        Plan = FloatsTogether.Of(There, [.. Drawers.Select(d => (d.Register, TargetOf(d)))], Setup.Denominations);
        Typed = Drawers.Zip(Plan.Floats).ToDictionary(p => p.First.Drawer, p => Texts(p.Second.Pieces));
    }

    [Does(ActKind.LeaveFloat)]
    public async Task<IActionResult> OnPost(Guid form)
    {
        Load();
        Typed = Drawers.ToDictionary(d => d.Drawer,
            d => Kinds.Select(k => (k.Worth.Minor, Text: PiecesSheet.Short(Request.Form[FieldOf(d.Drawer, k)])))
                .Where(k => k.Text.Length > 0).ToDictionary(k => k.Minor, k => k.Text));
        var typed = Typed.ToDictionary(t => t.Key, t => (IReadOnlyDictionary<long, string>)t.Value);
        Objections = (await floats.KeepTogether(Date, form, typed, MySelf)).Objections;
        if (Objections.Count == 0)
        {
            Notice = "The floats are saved.";
            return Redirect($"/{Setup.TradingDay}/floats");
        }

        Form = form;
        return Page();
    }

    private void Load() => (Drawers, There) = (Floats.LastCounted(View), Floats.Pool(View));

    private static Dictionary<long, string> Texts(IEnumerable<Pieces> pieces) =>
        pieces.ToDictionary(p => p.Denomination.Minor, p => p.Number.ToString(CultureInfo.InvariantCulture));
}
