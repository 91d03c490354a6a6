using Fondo.Core.Amounts;
using Fondo.Core.Cash;
using Fondo.Core.Cells;
using Fondo.Core.Checks;
using Fondo.Core.Closing;
using Fondo.Core.Days;
using Fondo.Core.Entries;
using Fondo.Core.Journal;
using Fondo.Core.Leads;
using Fondo.Core.Matching;
using Fondo.Core.Proof;
using Fondo.Core.Reconciling;
using Fondo.Core.SetUp;
using Fondo.Core.Sheets;

namespace Fondo.Files.Reading;

/// <summary>Reads what shows that a tender is really there: settled rows, batch totals, book lines, counts.</summary>
internal static class ProofReader
{
    public static readonly string[] RowColumns =
        ["terminal", "batch", "seq", "at", "type", "amount", "tip", "cashback", "brand", "card", "auth", "rrn", "entry", "benefit"];

    public static readonly string[] TotalColumns =
        ["terminal", "batch", "closed", "sales_count", "sales_amount", "refunds_count", "refunds_amount"];

    public static readonly string[] LedgerColumns = ["tender", "seq", "at", "register", "type", "amount", "ref"];

    private static readonly Dictionary<string, Direction> _directions = new() { ["sale"] = Direction.Sale, ["refund"] = Direction.Refund };

    private static readonly Dictionary<string, Benefit> _benefits = new() { [""] = Benefit.None, ["food"] = Benefit.Food, ["cash"] = Benefit.Cash };

    private static readonly Dictionary<string, CountKind> _countKinds = new()
    {
        ["opening"] = CountKind.Opening,
        ["closing"] = CountKind.Closing,
        ["spot"] = CountKind.Spot,
        ["drop"] = CountKind.Drop,
        ["safe"] = CountKind.Safe,
        ["kept"] = CountKind.Kept,
    };

    public static BatchRow Row(Fields f, Vocabulary words)
    {
        var terminal = words.RequiredTerminal(f, "terminal");
        return new(
            new(terminal, f.Text("batch"), f.Text("seq", recurs: false)), f.Time("at"), f.Choice("type", _directions), f.Size("amount"), f.AmountOrZero("tip"), f.AmountOrZero("cashback"),
            new CardSlip(terminal, f.OptionalText("brand"), EventReader.LastFour(f, "card"), f.OptionalText("auth", recurs: false), f.OptionalText("rrn", recurs: false), f.OptionalText("entry")),
            f.Choice("benefit", _benefits, ""));
    }

    public static BatchTotal Total(Fields f, Vocabulary words) => new(
        words.RequiredTerminal(f, "terminal"), f.Text("batch"), f.Time("closed"), f.Integer("sales_count"), f.Size("sales_amount"),
        f.Integer("refunds_count"), f.Size("refunds_amount"));

    public static LedgerRow Ledger(Fields f, Vocabulary words) => new(
        words.Tender(f, "tender", ProofKind.Ledger), f.Text("seq"), f.Time("at"), words.Register(f, "register")?.Id ?? default,
        f.Choice("type", _directions), f.Size("amount"), f.OptionalText("ref"));

    public static Count Count(JsonFields f, Vocabulary words)
    {
        var kind = f.Choice("kind", _countKinds);
        var drawer = f.OptionalText("drawer");
        if (drawer is null && kind is CountKind.Opening or CountKind.Closing or CountKind.Spot or CountKind.Kept)
        {
            f.Fault("drawer", null, "expected the drawer that was counted");
        }

        var bag = f.OptionalText("bag");
        if (bag is null && kind == CountKind.Drop)
        {
            f.Fault("bag", null, "expected the bag that was opened");
        }

        var count = new Count(
            f.Text("id"), kind, drawer is null ? null : new DrawerId(drawer), bag,
            f.OptionalText("by") is { } by ? new PersonId(by) : null,
            f.OptionalText("witness") is { } witness ? new PersonId(witness) : null,
            f.Time("at"), f.Integer("attempt", 1, 1000), Pieces(f, words.Setup.Currency), Checks(f), Stubs(f, words));
        return count;
    }

    private static ImmutableArray<Pieces> Pieces(JsonFields f, Currency currency)
    {
        var pieces = ImmutableArray.CreateBuilder<Pieces>();
        if (f.Object("cash") is { } cash)
        {
            foreach (var name in f.Names("cash"))
            {
                if (!currency.TryParse(name, out var denomination) || denomination.Sign <= 0)
                {
                    f.Fault("cash", name, $"expected a denomination as {currency.AmountShape}");
                }
                else if (cash.Integer(name, most: 10_000_000) is var number && number > 0)
                {
                    pieces.Add(new(denomination, number));
                }
            }

            if (cash.Faulty)
            {
                f.MarkFaulty();
            }
        }

        pieces.Sort((a, b) => b.Denomination.CompareTo(a.Denomination));
        return pieces.ToImmutable();
    }

    private static ImmutableArray<CountedCheck> Checks(JsonFields f)
    {
        var checks = ImmutableArray.CreateBuilder<CountedCheck>();
        foreach (var check in f.Objects("checks"))
        {
            checks.Add(new(check.OptionalText("number") ?? "", check.Size("amount")));
            if (check.Faulty)
            {
                f.MarkFaulty();
            }
        }

        return checks.ToImmutable();
    }

    private static ImmutableArray<CountedStub> Stubs(JsonFields f, Vocabulary words)
    {
        var stubs = ImmutableArray.CreateBuilder<CountedStub>();
        if (f.Object("stubs") is { } inner)
        {
            foreach (var name in f.Names("stubs"))
            {
                if (words.Setup.Find(new TenderId(name)) is not { Proof: ProofKind.Count })
                {
                    f.Fault("stubs", name, "expected a tender that is proved by count");
                }
                else
                {
                    stubs.Add(new(new(name), inner.Size(name)));
                }
            }

            if (inner.Faulty)
            {
                f.MarkFaulty();
            }
        }

        return stubs.ToImmutable();
    }
}
