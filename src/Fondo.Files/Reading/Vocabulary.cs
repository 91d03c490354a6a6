using System.Collections.Frozen;

namespace Fondo.Files.Reading;

/// <summary>The names that day.json gives: registers, terminals, tenders. Anything else in a file is refused.</summary>
internal sealed class Vocabulary(Setup setup)
{
    private readonly RecentByHash<Article> _articles = new();
    private readonly RecentByHash<TicketLine> _lines = new();
    private readonly RecentByHash<CardUse> _uses = new();
    private readonly FrozenDictionary<string, Register> _registers = setup.Registers.ToFrozenDictionary(r => r.Id.Value);
    private readonly FrozenSet<string> _terminals = setup.Terminals.Select(t => t.Terminal.Value).ToFrozenSet();
    private readonly FrozenDictionary<string, TenderKind> _tenders = setup.Tenders.ToFrozenDictionary(t => t.Id.Value);

    public Setup Setup => setup;

    /// <summary>The article as it was known last: a day sells the same ones over and over.</summary>
    public Article Article(string sku, string name, decimal taxRate, bool benefitEligible, string? account)
    {
        var hash = sku.GetHashCode(StringComparison.Ordinal);
        if (_articles.At(hash) is { } known && known.Sku == sku && known.Name == name && known.TaxRate == taxRate
            && known.BenefitEligible == benefitEligible && known.Account == account)
        {
            return known;
        }

        var article = new Article(sku, name, taxRate, benefitEligible, account);
        _articles.Keep(hash, article);
        return article;
    }

    /// <summary>The equal line that was read before, so that it is kept once.</summary>
    public TicketLine Line(TicketLine line)
    {
        var hash = line.GetHashCode();
        if (_lines.At(hash) is { } known && known.Quantity.Scale == line.Quantity.Scale && known == line) // 1.0 is 1, and written otherwise
        {
            return known;
        }

        _lines.Keep(hash, line);
        return line;
    }

    /// <summary>What a terminal said of a card; null where nothing says that one ran.</summary>
    public CardSlip? Slip(TerminalId? terminal, string? brand, string? lastFour, Code approval, Code reference, string? entry) =>
        terminal is not null || brand is not null || lastFour is not null || approval.IsThere || reference.IsThere || entry is not null
            ? new(Use(terminal, brand, entry), lastFour, approval, reference)
            : null;

    /// <summary>How a card was run, as it was known last.</summary>
    private CardUse Use(TerminalId? terminal, string? brand, string? entry)
    {
        var hash = CardUse.HashOf(terminal, brand, entry);
        if (_uses.At(hash) is { } known && known.Terminal == terminal && known.Brand == brand && known.Entry == entry)
        {
            return known;
        }

        var use = new CardUse(terminal, brand, entry);
        _uses.Keep(hash, use);
        return use;
    }

    public Register? FindRegister(string id) => _registers.GetValueOrDefault(id);

    public bool HasTerminal(string id) => _terminals.Contains(id);

    public bool HasTender(string id) => _tenders.ContainsKey(id);

    public Register? Register(Fields f, string name)
    {
        var id = f.Text(name);
        if (_registers.TryGetValue(id, out var register))
        {
            return register;
        }

        if (id.Length > 0)
        {
            f.Fault(name, id, "the set-up names no such register");
        }

        return null;
    }

    public TerminalId? Terminal(Fields f, string name)
    {
        var id = f.OptionalText(name);
        if (id is not null && !_terminals.Contains(id))
        {
            f.Fault(name, id, "the set-up names no such terminal");
        }

        return id is null ? null : new TerminalId(id);
    }

    public TerminalId RequiredTerminal(Fields f, string name)
    {
        var id = f.Text(name);
        if (id.Length > 0 && !_terminals.Contains(id))
        {
            f.Fault(name, id, "the set-up names no such terminal");
        }

        return new(id);
    }

    public TenderId Tender(Fields f, string name, ProofKind? proof = null)
    {
        var id = f.Text(name);
        if (id.Length > 0 && !_tenders.ContainsKey(id))
        {
            f.Fault(name, id, "the catalogue has no such tender");
        }
        else if (proof is { } kind && id.Length > 0 && _tenders[id].Proof != kind)
        {
            f.Fault(name, id, $"expected a tender that is proved by {kind.ToString().ToLowerInvariant()}");
        }

        return new(id);
    }
}
