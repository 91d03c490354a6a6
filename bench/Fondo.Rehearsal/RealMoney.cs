namespace Fondo.Rehearsal;

/// <summary>A card that a terminal settled, or will.</summary>
/// <param name="Day">The trading day into whose files it goes; null while no batch has it.</param>
public sealed record CardRow(string Terminal, string Register, string Tender, long Amount, DateTimeOffset At, string Approval,
    string Reference)
{
    public string Brand => Tender switch { "debit" => "debit", "ebt-food" => "ebt", _ => "heron" };

    /// <summary>Who pays for it.</summary>
    public string Processor => Tender == "ebt-food" ? "benefits" : "cards";

    public string Batch { get; set; } = "";

    public int Sequence { get; set; }
}

/// <summary>A sealed bag on its way to the bank.</summary>
public sealed record SealedBag(int Number, string Bag, long Cash, long Checks)
{
    public long Credited { get; set; }

    public long Outstanding => Cash + Checks - Credited;
}

/// <summary>What a register and its proof should say of one tender on one day, by hand from the rules.</summary>
public sealed class ExpectedCell
{
    public long Expected { get; set; }

    public long? Proof { get; set; }
}

/// <summary>The shop's real money: where every note, check, card and claim is. Written from the rules alone.</summary>
public sealed class RealMoney
{
    /// <summary>Cash in drawers, by register: what is really there.</summary>
    public Dictionary<string, long> Drawers { get; } = [];

    public long Safe { get; set; }

    /// <summary>Bags of drops that nobody opened yet.</summary>
    public Dictionary<string, long> Bags { get; } = [];

    /// <summary>Bags whose drop nobody recorded: while they are not opened, no book can know of them.</summary>
    public HashSet<string> Unrecorded { get; } = [];

    public List<(string Number, long Amount)> DrawerChecks(string drawer) =>
        _drawerChecks.TryGetValue(drawer, out var list) ? list : _drawerChecks[drawer] = [];

    private readonly Dictionary<string, List<(string Number, long Amount)>> _drawerChecks = [];

    /// <summary>Checks in the safe.</summary>
    public List<(string Number, long Amount)> Checks { get; } = [];

    /// <summary>Deposits that the bank has not credited whole.</summary>
    public List<SealedBag> Deposits { get; } = [];

    /// <summary>What each processor owes, by the trading day into which its rows came: gross, and the fee that it keeps.</summary>
    public Dictionary<(string Processor, DateOnly Day), (long Gross, long Fee)> Owed { get; } = [];

    /// <summary>Everything that the bank ever booked.</summary>
    public long Bank { get; set; }

    /// <summary>Change orders: paid and not delivered.</summary>
    public long ChangeOnItsWay { get; set; }

    /// <summary>What the safe held before the first float went out of it.</summary>
    public long Opening { get; set; }

    /// <summary>Goods sold without tax, tax, fees and rounding of all tickets that count.</summary>
    public long Goods { get; set; }

    public long Tax { get; set; }

    public long Fees { get; set; }

    public long Rounding { get; set; }

    public long PaidOut { get; set; }

    /// <summary>What tickets came to on accounts of customers, gift cards, layaways and discounts, by account; debits are
    /// positive.</summary>
    public Dictionary<string, long> Accounts { get; } = [];

    /// <summary>What tickets took, by tender, without change.</summary>
    public Dictionary<string, long> Taken { get; } = [];

    /// <summary>What is left of each invoice, layaway and gift card, by account and number; debits are positive.</summary>
    public Dictionary<(string Account, string Number), long> Items { get; } = [];

    public void Post(string account, string number, long amount)
    {
        Items[(account, number)] = Items.GetValueOrDefault((account, number)) + amount;
        Post(account, amount);
    }

    public void Post(string account, long amount) => Accounts[account] = Accounts.GetValueOrDefault(account) + amount;

    /// <summary>Cash of the house that anybody can know of: drawers, safe, bags.</summary>
    public long Cash => Safe + Drawers.Values.Sum() + Known.Values.Sum();

    /// <summary>The bags that somebody recorded.</summary>
    public Dictionary<string, long> Known => Bags.Where(b => !Unrecorded.Contains(b.Key)).ToDictionary();

    /// <summary>The cells of the days, by register, drawer and tender as the close writes them.</summary>
    public Dictionary<DateOnly, Dictionary<(string Register, string? Drawer, string Tender), ExpectedCell>> Cells { get; } = [];

    public ExpectedCell Cell(DateOnly day, string register, string? drawer, string tender)
    {
        var cells = Cells.TryGetValue(day, out var known) ? known : Cells[day] = [];
        return cells.TryGetValue((register, drawer, tender), out var cell) ? cell : cells[(register, drawer, tender)] = new();
    }
}
