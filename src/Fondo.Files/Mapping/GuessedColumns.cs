using System.Text.RegularExpressions;

namespace Fondo.Files.Mapping;

/// <summary>What the columns of a file are held to be: by their names, else by what is in them.</summary>
internal sealed partial class GuessedColumns
{
    /// <summary>A column of more words than this names no brands.</summary>
    private const int MostBrands = 12;

    private readonly Dictionary<string, string> _fields;
    private readonly List<IReadOnlyList<string>> _rows;
    private readonly List<string> _names;
    private readonly Setup _setup;

    public GuessedColumns(IReadOnlyList<string> header, bool hasNames, List<IReadOnlyList<string>> rows, Setup setup)
    {
        (_names, _rows, _setup) = ([.. header.Select(h => h.Trim())], rows, setup);
        var isStatement = hasNames && header.Any(h => h.Contains("balance", StringComparison.OrdinalIgnoreCase))
            && !header.Any(h => h.Contains("terminal", StringComparison.OrdinalIgnoreCase));
        var kind = isStatement ? MappedKind.Statement
            : hasNames && ColumnNames.AreOfTotals(header) ? MappedKind.Totals
            : MappedKind.Batches;
        _fields = hasNames ? ColumnNames.Fields(header, kind) : [];
        if (!isStatement)
        {
            FromContents();
            TimesInDates();
        }

        Kind = kind != MappedKind.Batches ? kind
            : Has(MappedFields.Ticket) && Has(MappedFields.Register) && Has(MappedFields.Tender) ? MappedKind.Journal
            : IsLedger ? MappedKind.Ledger
            : MappedKind.Batches;
        if (Kind == MappedKind.Ledger && (NameOf(MappedFields.Card) ?? NameOf(MappedFields.Rrn)) is { } reference)
        {
            _fields[MappedFields.Ref] = reference;
        }

        if (Kind == MappedKind.Batches)
        {
            AmountWithTip();
        }

        foreach (var other in _fields.Keys.Where(k => !MappedFields.Of(Kind).Contains(k)).ToList())
        {
            _fields.Remove(other);
        }
    }

    public MappedKind Kind { get; }

    /// <summary>Whether every payment is of a tender that the store keeps its own books of, and none is a ticket's or a
    /// terminal's.</summary>
    private bool IsLedger => Has(MappedFields.Tender) && Has(MappedFields.Amount)
        && !Has(MappedFields.Ticket) && !Has(MappedFields.Terminal)
        && Texts(MappedFields.Tender) is { Count: > 0 } tenders && tenders.All(t => MappedWords.TenderOf(t, _setup) is { } id
            && _setup.Find(new TenderId(id))?.Proof == ProofKind.Ledger);

    /// <summary>Whether the amount is told to have the tip in it: a total is, where it is amount and tip.</summary>
    public bool IsTipInside { get; private set; }

    public ImmutableDictionary<string, string> Fields => _fields.ToImmutableDictionary();

    public bool Has(string field) => _fields.ContainsKey(field);

    /// <summary>The name of a field's column; null where it has none.</summary>
    public string? NameOf(string field) => _fields.GetValueOrDefault(field);

    /// <summary>Everything that stands in the columns of these fields.</summary>
    public IReadOnlyList<string> Texts(params string[] fields) => [.. fields.Where(Has).SelectMany(f => Column(_fields[f]))];

    /// <summary>Whatever is an amount of money.</summary>
    public IReadOnlyList<string> Amounts => Texts(MappedFields.SalesAmount, MappedFields.Amount, MappedFields.LineAmount,
        MappedFields.Total, MappedFields.PaidIn, MappedFields.PaidOut);

    /// <summary>Whether its amounts are told to be in the smallest unit.</summary>
    public bool SaysMinor =>
        new[] { MappedFields.Amount, MappedFields.LineAmount, MappedFields.SalesAmount }
            .Any(f => NameOf(f) is { } n && ColumnNames.SaysMinor(n));

    /// <summary>By row, the texts of these fields; empty where a field has no column.</summary>
    public IEnumerable<string[]> Rows(params string[] fields)
    {
        var places = fields.Select(f => NameOf(f) is { } n ? _names.IndexOf(n) : -1).ToList();
        return _rows.Select(r => places.Select(p => p >= 0 ? r[p].Trim() : "").ToArray());
    }

    /// <summary>What the file's numbers of terminals and registers are, where each fits one alone: 3 is T-03.</summary>
    public ImmutableDictionary<string, ImmutableDictionary<string, string>> Words =>
        new[]
        {
            (Field: MappedFields.Terminal, Words: ByNumber(Texts(MappedFields.Terminal).Where(w => !MappedWords.IsTerminal(w, _setup)),
                [.. _setup.Terminals.Select(t => t.Terminal.Value).Distinct()])),
            (Field: MappedFields.Register, Words: ByNumber(
                Texts(MappedFields.Register).Where(w => MappedWords.RegisterOf(w, _setup) is null),
                [.. _setup.Registers.Select(r => r.Id.Value)])),
        }.Where(w => w.Words.Count > 0).ToImmutableDictionary(w => w.Field, w => w.Words);

    /// <summary>Each word's own id, by the number that both end with; nothing where any word has none, or not alone.</summary>
    private static ImmutableDictionary<string, string> ByNumber(IEnumerable<string> words, List<string> ids)
    {
        var meant = words.Where(w => !Mapping.UsualTotals.Contains(w.ToLowerInvariant())).Distinct()
            .Select(w => (Word: w, Ids: ids.Where(id => NumberOf(id) == NumberOf(w) && NumberOf(w) > 0).ToList())).ToList();
        return meant.TrueForAll(m => m.Ids.Count == 1) && meant.Select(m => m.Ids[0]).Distinct().Count() == meant.Count
            ? meant.ToImmutableDictionary(m => m.Word, m => m.Ids[0])
            : ImmutableDictionary<string, string>.Empty;
    }

    private IReadOnlyList<string> Column(string name) => Column(_names.IndexOf(name));

    private IReadOnlyList<string> Column(int place) => [.. _rows.Select(r => r[place].Trim()).Where(t => t.Length > 0)];

    /// <summary>What the names do not tell, the contents may.</summary>
    private void FromContents()
    {
        for (var place = 0; place < _names.Count; place++)
        {
            var name = _names[place];
            if (name.Length == 0 || _fields.ContainsValue(name) || Column(place) is not { Count: > 0 } texts)
            {
                continue;
            }

            if (FieldOf(texts) is { } field && !Has(field)
                && !(field is MappedFields.Date or MappedFields.Time && Has(MappedFields.At)))
            {
                _fields[field] = name;
            }
        }
    }

    private string? FieldOf(IReadOnlyList<string> texts)
    {
        bool All(Func<string, bool> test) => texts.All(test);
        return All(t => HasDate(t) && HasTime(t)) ? MappedFields.At
            : All(HasDate) ? MappedFields.Date
            : All(HasTime) ? MappedFields.Time
            : All(t => MaskedCard().IsMatch(t)) ? MappedFields.Card
            : All(t => MappingGuess.PointDecimals().IsMatch(t) || MappingGuess.CommaDecimals().IsMatch(t)) ? MappedFields.Amount
            : All(t => MappedWords.IsTerminal(t, _setup)) ? MappedFields.Terminal
            : All(t => MappedWords.SaysRefund(t) is not null) ? MappedFields.Type
            : All(t => MappedWords.BenefitOf(t) is not null) && texts.Any(t => MappedWords.BenefitOf(t) == "food") ? MappedFields.Benefit
            : AreBrands(texts) ? MappedFields.Brand
            : null;
    }

    /// <summary>A few words, of which one is a brand that the store's processors are paid for, or one that has a meaning.</summary>
    private bool AreBrands(IReadOnlyList<string> texts)
    {
        var words = texts.Select(t => t.ToLowerInvariant()).Distinct().ToList();
        var known = _setup.Processors.SelectMany(p => p.Fees).Select(f => f.Brand.ToLowerInvariant()).Append("debit").Append("ebt")
            .Append("wic");
        return words.Count <= MostBrands && words.TrueForAll(w => w.All(c => char.IsLetter(c) || c == ' ')) && words.Exists(known.Contains);
    }

    /// <summary>A column that is called a date, or a time, may hold both.</summary>
    private void TimesInDates()
    {
        foreach (var field in new[] { MappedFields.Date, MappedFields.Time })
        {
            if (!Has(MappedFields.At) && _fields.TryGetValue(field, out var name)
                && Column(name) is { Count: > 0 } texts && texts.All(t => HasDate(t) && HasTime(t)))
            {
                _fields.Remove(field);
                _fields[MappedFields.At] = name;
            }
        }
    }

    /// <summary>A total beside amount and tip is what was settled, where it is always the two together.</summary>
    private void AmountWithTip()
    {
        if (!_fields.TryGetValue(MappedFields.Total, out var total))
        {
            return;
        }

        if (!Has(MappedFields.Amount))
        {
            _fields[MappedFields.Amount] = total;
            return;
        }

        var mark = Amounts.Any(a => MappingGuess.CommaDecimals().IsMatch(a)) ? ',' : '.';
        Money? Read(string text) => text.Length == 0 ? Money.Zero : MappedAmount.Read(text, mark, _setup.Currency);
        var rows = Rows(MappedFields.Amount, MappedFields.Tip, MappedFields.Total).Select(r => r.Select(Read).ToArray()).ToList();
        if (Has(MappedFields.Tip) && rows.Exists(r => r[1] is { IsZero: false }) && rows.TrueForAll(r => r[0] + r[1] == r[2]))
        {
            (_fields[MappedFields.Amount], IsTipInside) = (total, true);
        }
    }

    /// <summary>The digits at the end of a text as a number; 0 where there are none, or more than a till has.</summary>
    private static int NumberOf(string text) =>
        LastDigits().Match(text) is { Success: true, Value: { Length: <= 4 } digits } ? int.Parse(digits,
            System.Globalization.CultureInfo.InvariantCulture) : 0;

    private static bool HasDate(string text) => MappingGuess.HoldsDate().IsMatch(text);

    private static bool HasTime(string text) => HoldsTime().IsMatch(text);

    [GeneratedRegex(@"(?<!\d)\d{1,2}:\d{2}|(?:^|(?<=20\d{6})[ T])([01]\d|2[0-3])[0-5]\d([0-5]\d)?$")]
    private static partial Regex HoldsTime();

    [GeneratedRegex(@"^[*xX•·\- ]{2,}\d{4}$")]
    private static partial Regex MaskedCard();

    [GeneratedRegex(@"\d+$")]
    private static partial Regex LastDigits();
}
