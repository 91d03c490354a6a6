using Fondo.Core.Custody;
using Fondo.Core.SetUp;

namespace Fondo.Core.Banking;

/// <summary>What is to be matched on one day: the bank's lines, and everything that they may pay.</summary>
/// <param name="Lines">Those that are looked at on the day.</param>
/// <param name="Deposits">On their way.</param>
/// <param name="Fundings">Owed by processors.</param>
/// <param name="Fees">Billed apart, and not paid.</param>
public sealed record BankWork(ImmutableArray<BankLine> Lines, ImmutableArray<OpenDeposit> Deposits, ImmutableArray<Funding> Fundings,
    ImmutableArray<OwedFee> Fees)
{
    /// <summary>Change that is not paid yet.</summary>
    public ImmutableArray<OpenOrder> Orders { get; init; } = [];

    /// <summary>Deposits that the bank credited in the weeks before, and may take back.</summary>
    public ImmutableArray<Deposit> Credited { get; init; } = [];

    /// <summary>What somebody owes or is owed since an earlier day, and what was carried and awaits a line.</summary>
    public ImmutableArray<OpenClaim> Claims { get; init; } = [];

    /// <summary>The keys of lines that an entry explains already.</summary>
    public IReadOnlySet<string> Explained { get; init; } = new HashSet<string>();

    /// <summary>What persons decided, in its order.</summary>
    public ImmutableArray<BankDecision> Decisions { get; init; } = [];

    /// <summary>With lines that pay several things in the pieces of which each pays one, where their details say so.</summary>
    public BankWork Split(Setup setup) => this with { Lines = [.. Lines.SelectMany(l => Pieces(l, setup))] };

    private IEnumerable<BankLine> Pieces(BankLine line, Setup setup)
    {
        var details = line.Details.Length < 2 || line.Details.Sum(d => d.Amount) != line.Amount ? BagsOf(line) : line.Details;
        var named = details.GroupBy(d => Named(BankText.Of(d.Text), setup), StringComparer.Ordinal).ToList();
        return named.Count(g => g.Key.Length > 0) < 2 ? [line]
            : named.Select((g, n) => line with
            {
                Key = string.Create(System.Globalization.CultureInfo.InvariantCulture, $"{line.Key}.{n + 1}"),
                Amount = g.Sum(d => d.Amount),
                Text = string.Join(" · ", g.Select(d => d.Text).Distinct()),
                Details = [],
                Number = null,
            });
    }

    /// <summary>A line without details that names several bags and comes to exactly what is on its way in them; else nothing.</summary>
    private ImmutableArray<BankDetail> BagsOf(BankLine line)
    {
        var text = BankText.Of(line.Text);
        var bags = line.Amount.Sign > 0 ? Deposits.Where(d => text.Names(BankText.Of(d.Deposit.Bag))).ToList() : [];
        return bags.Sum(b => b.Outstanding) == line.Amount ? [.. bags.Select(b => new BankDetail(b.Outstanding, b.Deposit.Bag))] : [];
    }

    private string Named(BankText text, Setup setup) =>
        Deposits.Select(d => d.Deposit.Bag).FirstOrDefault(b => text.Names(BankText.Of(b)))
        ?? setup.Processors.FirstOrDefault(p => text.Names(BankText.Of(p.Reference)))?.Reference ?? "";
}
