using Fondo.Files.Text;

namespace Fondo.Files.Reading;

/// <summary>Reads day.json.</summary>
internal static class SetupReader
{
    public static Setup? Read(JsonValue root, JsonPlace place, Findings findings)
    {
        var before = findings.All.Count;
        if (!root.IsObject)
        {
            place.Report(root, "day.json", null, "expected an object");
            return null;
        }

        var code = new JsonFields(root, place, Currency.Of("USD")).OptionalText("currency") ?? "";
        var fields = new JsonFields(root, place, Currency.Of(code));
        if (!Currency.IsCode(code))
        {
            fields.Fault("currency", code, "expected an ISO 4217 code, like USD");
        }

        var mark = fields.OptionalText("decimalMark") ?? ".";
        if (mark is not ("." or ","))
        {
            fields.Fault("decimalMark", mark, "expected . or , (what stands before the decimals of an amount)");
        }

        if (fields.Integer("fondo") != 1)
        {
            fields.Fault("fondo", null, "expected 1, the version of these files");
        }

        var store = fields.Text("store");
        if (!TradingDay.TryParse(fields.Text("tradingDay"), out var day))
        {
            fields.Fault("tradingDay", fields.OptionalText("tradingDay"), "expected a date, like 2026-11-21");
        }

        var zone = TimeZone(fields);
        if (!TimeOnly.TryParseExact(fields.OptionalText("dayEndsAt") ?? "04:00", "HH:mm", out var endsAt))
        {
            fields.Fault("dayEndsAt", fields.OptionalText("dayEndsAt"), "expected a time of day, like 04:00");
        }

        var tenders = Catalogues.Tenders(fields);
        var registers = Unique(fields.Objects("registers", required: true).Select(r => Register(r, tenders)).ToList(), r => r.Id.Value,
            fields, "registers");
        var terminals = fields.Objects("terminals").Select(t => Terminal(t, registers)).ToImmutableArray();
        var people = Unique(fields.Objects("people").Select(p => Person(p, registers)).ToList(), p => p.Id.Value, fields, "people");
        var denominations = Catalogues.Denominations(fields, Currency.Of(code));
        var accounts = Catalogues.Accounts(fields);
        var processors = Catalogues.Processors(fields, tenders);
        var holidays = Holidays(fields);
        var banks = Unique(BankAccounts(fields).ToList(), b => b.Number, fields, "bankAccounts");
        var policy = Policy(fields.Object("policy"), tenders);
        if (!fields.Objects("denominations").Any())
        {
            // What is smaller than the smallest coin is in no drawer.
            denominations = [.. denominations.Where(d => d.Worth >= policy.CashRounding)];
        }

        return findings.All.Count > before
            ? null
            : new Setup(store, day, Currency.Of(code) with { DecimalMark = mark[0] }, zone, endsAt, registers, terminals, people, tenders,
                policy)
            {
                Denominations = denominations,
                Accounts = accounts,
                Processors = processors,
                BankAccounts = banks,
                BankHolidays = holidays
            };
    }

    /// <summary>One number alone may stand under <c>bankAccount</c>.</summary>
    private static IEnumerable<BankAccount> BankAccounts(JsonFields fields) =>
        fields.OptionalText("bankAccount") is { } only ? [new(only, null, null)]
        : fields.Objects("bankAccounts").Select(b => new BankAccount(b.Text("number"), b.OptionalText("name"), b.OptionalText("account")));

    private static ImmutableArray<DateOnly> Holidays(JsonFields fields)
    {
        List<DateOnly> days = [];
        foreach (var text in fields.IsThere("bankHolidays") ? fields.Texts("bankHolidays") : [])
        {
            if (TradingDay.TryParse(text, out var day))
            {
                days.Add(day.Date);
            }
            else
            {
                fields.Fault("bankHolidays", text, "expected dates, like 2026-12-25");
            }
        }

        return [.. days.Distinct().Order()];
    }

    private static TimeZoneInfo TimeZone(JsonFields fields)
    {
        var id = fields.Text("timeZone");
        if (TimeZoneInfo.TryFindSystemTimeZoneById(id, out var zone))
        {
            return zone;
        }

        fields.Fault("timeZone", id, "expected a time zone of the IANA database, like America/New_York");
        return TimeZoneInfo.Utc;
    }

    private static Register Register(JsonFields f, ImmutableArray<TenderKind> tenders)
    {
        var id = f.Id("id");
        var (standard, dropAbove) = (NotNegative(f, "float") ?? Money.Zero, NotNegative(f, "dropAbove"));
        return new(new(id), f.OptionalText("name") ?? id, f.Choice<RegisterKind>("kind"), standard, dropAbove)
        {
            Tenders = Listed(f, "tenders", t => new TenderId(t), t => tenders.Any(k => k.Id == t), "expected tenders of the catalogue"),
        };
    }

    private static TerminalPlace Terminal(JsonFields f, ImmutableArray<Register> registers)
    {
        var register = new RegisterId(f.Id("register"));
        if (registers.All(r => r.Id != register))
        {
            f.Fault("register", register.Value, "expected a register that day.json names");
        }

        var settlesAt = TimeOfDay(f, "settlesAt", "expected a time of day, like 15:00, or nothing where it is settled by hand");
        return new(new(f.Id("id")), register, f.OptionalTime("from"), f.OptionalTime("until"), settlesAt)
        {
            IsConnected = f.OptionalFlag("connected") ?? false
        };
    }

    private static Person Person(JsonFields f, ImmutableArray<Register> registers)
    {
        var id = f.Id("id");
        return new(new(id), f.OptionalText("name") ?? id, f.Choice<Role>("role"))
        {
            Registers = Listed(f, "registers", r => new RegisterId(r), r => registers.Any(k => k.Id == r),
                "expected registers that day.json names"),
        };
    }

    private static Policy Policy(JsonFields? f, ImmutableArray<TenderKind> tenders)
    {
        var otherwise = Core.SetUp.Policy.Default;
        if (f is null)
        {
            return otherwise;
        }

        return new(
            NotNegative(f, "cashTolerance") ?? otherwise.CashTolerance,
            NotNegative(f, "approvalAbove") ?? otherwise.ApprovalAbove,
            Programme(f.Object("priceProgramme"), tenders),
            f.Choice<BenefitTax>("ebtTax", BenefitTax.TaxableFirst),
            NotNegative(f, "cashRounding") ?? otherwise.CashRounding,
            TimeSpan.FromMinutes(f.Integer("matchMinutes", (int)otherwise.MatchWindow.TotalMinutes, 1440)),
            TimeSpan.FromHours(f.Integer("disputeHours", (int)otherwise.DisputeTime.TotalHours, 10_000)))
        {
            Witnessed = f.IsThere("witness")
                ? Listed(f, "witness", t => WrittenNames.Read<CountKind>(t) ?? CountKind.Kept,
                    k => k is not (CountKind.Kept or CountKind.Opening), "expected kinds of count: closing, spot, drop, safe")
                : otherwise.Witnessed,
            ShowsOwnResult = f.OptionalFlag("showsOwnResult") ?? otherwise.ShowsOwnResult,
            SettledBy = TimeOfDay(f, "settledBy", "expected a time of day, like 22:30, or nothing"),
            SafeFund = NotNegative(f, "safeFund"),
            Layaway = f.Choice<LayawayPosting>("layaway", LayawayPosting.Deposit),
            Scale = new(Grams(f, "scaleDivision") ?? otherwise.Scale.Division, Grams(f, "scaleTare") ?? otherwise.Scale.Tare),
        };
    }

    /// <summary>A weight below a hundred kilograms, where there is one.</summary>
    internal static decimal? Grams(JsonFields f, string name)
    {
        if (f.OptionalText(name) is not { } text)
        {
            return null;
        }

        if (decimal.TryParse(text, System.Globalization.NumberStyles.AllowDecimalPoint, System.Globalization.CultureInfo.InvariantCulture,
            out var grams) && grams < 100_000 && text.Length <= 12)
        {
            return grams;
        }

        f.Fault(name, text, "expected grams as a decimal string, like \"0.5\"");
        return null;
    }

    private static TimeOnly? TimeOfDay(JsonFields f, string name, string expected)
    {
        if (f.OptionalText(name) is not { } typed)
        {
            return null;
        }

        if (TimeOnly.TryParseExact(typed, "HH:mm", out var at))
        {
            return at;
        }

        f.Fault(name, typed, expected);
        return null;
    }

    /// <summary>An amount, where there is one.</summary>
    internal static Money? NotNegative(JsonFields f, string name)
    {
        var amount = f.OptionalAmount(name);
        if (amount is { Sign: < 0 })
        {
            f.Fault(name, f.OptionalText(name), "expected an amount that is not negative");
        }

        return amount;
    }

    private static PriceProgramme Programme(JsonFields? f, ImmutableArray<TenderKind> tenders)
    {
        if (f is null)
        {
            return PriceProgramme.None;
        }

        var kind = f.Choice<PriceProgrammeKind>("kind", PriceProgrammeKind.None);
        var rate = f.Number("rate", Limits.MostProgrammeRate, 0);
        return new(kind, rate, Listed(f, "tenders", t => new TenderId(t), t => tenders.Any(k => k.Id == t),
            "expected tenders of the catalogue"));
    }

    /// <summary>A list of ids, each of which has to be known.</summary>
    internal static ImmutableArray<T> Listed<T>(JsonFields f, string name, Func<string, T> of, Func<T, bool> isKnown, string expected)
    {
        ImmutableArray<string> texts = [.. f.Texts(name)];
        foreach (var unknown in texts.Where(t => !isKnown(of(t))))
        {
            f.Fault(name, unknown, expected);
        }

        return [.. texts.Select(of)];
    }

    internal static ImmutableArray<T> Unique<T>(List<T> items, Func<T, string> id, JsonFields fields, string name)
    {
        foreach (var twice in items.GroupBy(id).Where(g => g.Count() > 1))
        {
            fields.Fault(name, twice.Key, "this id is given twice");
        }

        return [.. items];
    }
}
