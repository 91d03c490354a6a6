using Fondo.Core.Journal;
using Fondo.Core.SetUp;

namespace Fondo.Core.Books;

/// <summary>The accounts of a set-up, each asked for by its use.</summary>
internal sealed class Uses
{
    private readonly Dictionary<string, string> _uses;
    private readonly Dictionary<TenderId, string> _tenders;
    private readonly Dictionary<string, string> _banks;

    public Uses(Setup setup)
    {
        // What the set-up does not say is posted where the standard says.
        _uses = AccountUse.Standard.Concat(setup.Accounts).GroupBy(a => a.Id).ToDictionary(g => g.Key, g => g.Last().Account);
        _banks = setup.BankAccounts.Where(b => b.Account is not null).ToDictionary(b => b.Number, b => b.Account!, StringComparer.Ordinal);
        _tenders = setup.Tenders.ToDictionary(t => t.Id, t => t.Account);
    }

    /// <summary>Where the lines of an account at the bank are posted.</summary>
    public string OfBank(string? number) => _banks.GetValueOrDefault(number ?? "") ?? this["bank"];

    public string this[string use] => _uses.GetValueOrDefault(use) ?? _uses["goods"];

    public string this[TenderId tender] => _tenders.GetValueOrDefault(tender) ?? _tenders[TenderId.Cash];
}
