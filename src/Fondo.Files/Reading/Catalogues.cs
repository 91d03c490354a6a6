namespace Fondo.Files.Reading;

/// <summary>Reads the lists of day.json that add to what is standard, or take its place: tenders, denominations, accounts.</summary>
internal static class Catalogues
{
    public static ImmutableArray<TenderKind> Tenders(JsonFields fields) =>
        Over(TenderKind.Standard, fields, "tenders", t => t.Id.Value, (f, id, standard) =>
    {
        var (tolerance, proof) = (SetupReader.NotNegative(f, "tolerance"), f.Choice<ProofKind>("proof", standard?.Proof));
        if (standard is not null && proof != standard.Proof)
        {
            f.Fault("proof", proof.Written(),
                $"{id} is always proved by {standard.Proof.Written()}: a tender with another proof has an id of its own");
        }

        var name = f.OptionalText("name") ?? standard?.Name ?? id;
        return new TenderKind(
            new(id), name, proof, f.OptionalFlag("change") ?? standard?.GivesChange ?? false,
            f.OptionalText("account") ?? standard?.Account ?? $"Assets:{name}")
        {
            MayRepeat = f.OptionalFlag("twice") ?? true,
            Tolerance = tolerance,
        };
    });

    public static ImmutableArray<AccountUse> Accounts(JsonFields fields) =>
        Over(AccountUse.Standard, fields, "accounts", a => a.Id, (f, id, standard) =>
        new AccountUse(id, f.OptionalText("name") ?? standard?.Name ?? id, f.Text("account")));

    /// <summary>Who pays for what was settled, with what each of them keeps.</summary>
    public static ImmutableArray<Processor> Processors(JsonFields fields, ImmutableArray<TenderKind> tenders)
    {
        const int mostDays = 60;
        var fees = fields.Objects("cardFees")
            .Select(f => (Processor: f.Id("processor"),
                Fee: new CardFee(f.OptionalText("brand") ?? "", f.Number("rate", 1, 0),
                    SetupReader.NotNegative(f, "perItem") ?? Money.Zero))).ToLookup(f => f.Processor, f => f.Fee);
        var all = Over(Processor.Standard, fields, "processors", p => p.Id, (f, id, standard) =>
        {
            var own = SetupReader.Listed(f, "tenders", t => new TenderId(t), t => tenders.Any(k => k.Id == t && k.Proof == ProofKind.Batch),
                "expected tenders that settled batches prove");
            return new Processor(
                id, f.OptionalText("name") ?? standard?.Name ?? id, f.OptionalText("reference") ?? "",
                own.IsEmpty ? standard?.Tenders ?? [] : own,
                f.Integer("days", standard?.Days ?? 2, mostDays), f.OptionalFlag("net") ?? true, []);
        });
        foreach (var twice in all.SelectMany(p => p.Tenders.Select(t => (Tender: t, p.Id))).GroupBy(t => t.Tender)
            .Where(g => g.Count() > 1))
        {
            fields.Fault("processors", twice.Key.Value, $"{string.Join(" and ", twice.Select(t => t.Id))} both pay for it; expected one");
        }

        foreach (var unknown in fees.Where(f => all.All(p => p.Id != f.Key)))
        {
            fields.Fault("cardFees", unknown.Key, "expected a processor that day.json names");
        }

        return [.. all.Select(p => p with { Fees = [.. fees[p.Id]] })];
    }

    /// <summary>What day.json lists, largest first; what is usual in the currency where it lists nothing.</summary>
    public static ImmutableArray<Denomination> Denominations(JsonFields fields, Currency currency)
    {
        var listed = fields.Objects("denominations").Select(Denomination).ToList();
        SetupReader.Unique(listed, d => currency.Format(d.Worth), fields, "denominations");
        return listed.Count == 0 ? Core.Amounts.Denominations.Of(currency) : [.. listed.OrderByDescending(d => d.Worth)];
    }

    private static Denomination Denomination(JsonFields f)
    {
        const int mostPieces = 10_000;
        var worth = f.Amount("worth");
        if (worth.Sign <= 0)
        {
            f.Fault("worth", f.OptionalText("worth"), "expected an amount above 0");
        }

        var grams = f.Number("grams", Limits.Quantity, 0);
        var pack = f.Integer("pack", 0, mostPieces);
        return new(worth, f.OptionalFlag("note") ?? false, pack > 0 ? pack : null, grams > 0 ? grams : null,
            f.Integer("keep", 0, mostPieces));
    }

    /// <summary>The standard list, with what day.json says of its items, and further ones after it.</summary>
    private static ImmutableArray<T> Over<T>(ImmutableArray<T> standard, JsonFields fields, string name, Func<T, string> idOf,
        Func<JsonFields, string, T?, T> read)
        where T : class
    {
        var all = standard.ToList();
        foreach (var f in fields.Objects(name))
        {
            var id = f.Id("id");
            var at = all.FindIndex(t => idOf(t) == id);
            var item = read(f, id, at >= 0 ? all[at] : null);
            if (at >= 0)
            {
                all[at] = item;
            }
            else
            {
                all.Add(item);
            }
        }

        return [.. all];
    }
}
