using Fondo.Files.Text;

namespace Fondo.Files.Reading;

/// <summary>Reads what shows that a tender is really there: settled rows, batch totals, book lines, counts.</summary>
internal static class ProofReader
{
    public static readonly string[] RowColumns =
        ["terminal", "batch", "seq", "at", "type", "amount", "tip", "cashback", "brand", "card", "auth", "rrn", "entry", "benefit"];

    public static readonly string[] TotalColumns =
        ["terminal", "batch", "closed", "sales_count", "sales_amount", "refunds_count", "refunds_amount"];

    public static readonly string[] LedgerColumns = ["tender", "seq", "at", "register", "type", "amount", "ref"];

    public static readonly string[] PrintedColumns =
        ["terminal", "at", "by", "brand", "benefit", "sales_count", "sales_amount", "refunds_count", "refunds_amount"];

    public static PrintedLine Printed(Fields f, Vocabulary words) => new(
        words.RequiredTerminal(f, "terminal"), f.Time("at"), f.OptionalId("by") is { } by ? new PersonId(by) : null,
        f.OptionalText("brand"), f.Choice<Benefit>("benefit", Benefit.None),
        f.Integer("sales_count"), f.Size("sales_amount"), f.Integer("refunds_count"), f.Size("refunds_amount"));

    public static BatchRow Row(Fields f, Vocabulary words)
    {
        var terminal = words.RequiredTerminal(f, "terminal");
        return new(
            new(terminal, f.Id("batch"), Strings.CodeOf(f.Id("seq", recurs: false))), f.Time("at"), f.Choice<Direction>("type"),
            f.Size("amount"), f.AmountOrZero("tip"), f.AmountOrZero("cashback"),
            words.Slip(terminal, f.OptionalText("brand"), EventReader.LastFour(f, "card"), f.OptionalCode("auth"), f.OptionalCode("rrn"),
                f.OptionalText("entry"))!,
            f.Choice<Benefit>("benefit", Benefit.None));
    }

    public static BatchTotal Total(Fields f, Vocabulary words) => new(
        words.RequiredTerminal(f, "terminal"), f.Id("batch"), f.Time("closed"), f.Integer("sales_count"), f.Size("sales_amount"),
        f.Integer("refunds_count"), f.Size("refunds_amount"));

    public static LedgerRow Ledger(Fields f, Vocabulary words) => new(
        words.Tender(f, "tender", ProofKind.Ledger), f.Id("seq", recurs: false), f.Time("at"), words.Register(f, "register")?.Id ?? default,
        f.Choice<Direction>("type"), f.Size("amount"), f.OptionalText("ref"));

    public static Count Count(JsonFields f, Vocabulary words)
    {
        var kind = f.Choice<CountKind>("kind");
        var drawer = f.OptionalId("drawer");
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
            f.Id("id", recurs: false), kind, drawer is null ? null : new DrawerId(drawer), bag,
            f.OptionalId("by") is { } by ? new PersonId(by) : null,
            f.OptionalId("witness") is { } witness ? new PersonId(witness) : null,
            f.Time("at"), f.Integer("attempt", 1, 1000), Pieces(f, words.Setup.Currency), Checks(f), Stubs(f, words));
        return count with { IsBlind = f.OptionalFlag("blind") ?? true, How = How(f, words.Setup.Currency) };
    }

    private static ImmutableArray<CountedRow> How(JsonFields f, Currency currency)
    {
        var rows = ImmutableArray.CreateBuilder<CountedRow>();
        if (f.Object("how") is not { } how)
        {
            return [];
        }

        foreach (var name in f.Names("how"))
        {
            if (!currency.TryParse(name, out var denomination) || denomination.Sign <= 0)
            {
                f.Fault("how", name, $"expected a denomination as {currency.Shape()}");
            }
            else if (how.Object(name) is { } row)
            {
                ImmutableArray<CountedPart> parts = [.. row.Objects("parts").Select(Part)];
                var instead = row.Object("instead") is { } said
                    ? new Overruled(said.Text("machine"), said.Integer("pieces", most: Limits.Pieces - 1),
                        said.OptionalText("reason") ?? "")
                    : null;
                rows.Add(new(denomination, parts, instead));
                if (row.Faulty)
                {
                    f.MarkFaulty();
                }
            }
        }

        rows.Sort((a, b) => b.Denomination.CompareTo(a.Denomination));
        return rows.ToImmutable();

        static CountedPart Part(JsonFields part) =>
            new(part.Choice<Means>("by"), part.Text("said"),
                part.Integer("pieces", most: Limits.Pieces - 1) * (part.OptionalFlag("less") == true ? -1 : 1));
    }

    private static ImmutableArray<Pieces> Pieces(JsonFields f, Currency currency)
    {
        var (pieces, worth) = (ImmutableArray.CreateBuilder<Pieces>(), 0m);
        if (f.Object("cash") is { } cash)
        {
            foreach (var name in f.Names("cash"))
            {
                if (!currency.TryParse(name, out var denomination) || denomination.Sign <= 0)
                {
                    f.Fault("cash", name, $"expected a denomination as {currency.Shape()}");
                }
                else if (cash.Integer(name, most: Limits.Pieces - 1) is var number && number > 0)
                {
                    pieces.Add(new(denomination, number));
                    worth += (decimal)denomination.Minor * number;
                }
            }

            if (cash.Faulty)
            {
                f.MarkFaulty();
            }
        }

        if (worth >= (decimal)Limits.WholeUnits * currency.Unit)
        {
            f.Fault("cash", null, $"expected pieces worth less than {Limits.WholeUnits} in all");
        }

        pieces.Sort((a, b) => b.Denomination.CompareTo(a.Denomination));
        return pieces.ToImmutable();
    }

    private static ImmutableArray<CountedCheck> Checks(JsonFields f)
    {
        var checks = ImmutableArray.CreateBuilder<CountedCheck>();
        foreach (var check in f.Objects("checks"))
        {
            checks.Add(new(check.OptionalText("number") ?? "", check.Size("amount"), Routing(check)));
            if (check.Faulty)
            {
                f.MarkFaulty();
            }
        }

        return checks.ToImmutable();
    }

    private static string? Routing(JsonFields check)
    {
        var routing = check.OptionalText("routing");
        if (routing is not null && !RoutingNumber.IsValid(routing))
        {
            check.Fault("routing", routing, "expected a routing number: nine digits whose check digit fits");
        }

        return routing;
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
