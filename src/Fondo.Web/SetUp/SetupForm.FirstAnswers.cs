using System.Globalization;
using System.Text.Json.Nodes;
using Fondo.Core.Amounts;
using Fondo.Core.Cash;
using Fondo.Core.Journal;
using Fondo.Core.Proof;
using Fondo.Core.SetUp;

namespace Fondo.Web.SetUp;

/// <summary>What is answered to the first questions.</summary>
public sealed partial class SetupForm
{
    private const int MostOfAKind = 60;

    private static readonly (string Kind, string Name)[] _registerKinds =
        [("lane", "Lane"), ("self", "Self-service"), ("desk", "Desk"), ("online", "Online")];

    /// <summary>The country that the shop seems to be in; null where it is none that Fondo knows the customs of.</summary>
    public Country? Country => Core.SetUp.Country.All
        .FirstOrDefault(c => c.Currency == Text("currency") && c.TimeZones.Contains(Text("timeZone")));

    /// <summary>What a drawer of the first register with one begins with.</summary>
    public Money UsualFloat => Drawers.Select(r => Currency.TryParse((string?)r["float"] ?? "", out var worth) ? worth : Money.Zero)
        .FirstOrDefault();

    /// <summary>As the store writes it.</summary>
    public string Says(Money amount) => Currency.Typed(amount);

    /// <summary>The smallest coin, as it is typed.</summary>
    public string SmallestCoin => PolicyAmount("cashRounding");

    public int CountOf(string kind) => List("registers").Count(r => (string?)r["kind"] == kind);

    /// <summary>The pieces of a float, with none of what a drawer does not hold: those that the store keeps where they come to that worth,
    /// else a proposal.</summary>
    public IReadOnlyList<Pieces> FloatPieces(Money worth)
    {
        var kinds = Counted().ToList();
        var kept = kinds.Sum(d => d.Worth * d.Kept) == worth
            ? kinds.ToDictionary(d => d.Worth, d => d.Kept)
            : FloatProposal.For(worth, [.. kinds]).ToDictionary(p => p.Denomination, p => p.Number);
        return [.. kinds.Select(d => new Pieces(d.Worth, kept.GetValueOrDefault(d.Worth)))];
    }

    /// <summary>Each register with the number of the terminal that stands there.</summary>
    public IEnumerable<(string Id, string Name, string Terminal)> Places => List("registers").Select(r =>
        ((string)r["id"]!, (string?)r["name"] ?? (string)r["id"]!, (string?)FirstTerminal((string)r["id"]!)?["id"] ?? ""));

    /// <summary>When the terminals settle by themselves; empty where somebody settles them.</summary>
    public string SettlesAt => (string?)List("terminals").FirstOrDefault(t => t["settlesAt"] is not null)?["settlesAt"] ?? "";

    /// <summary>Whether some register takes that tender. A new store takes what is usual in its country.</summary>
    public bool Takes(string tender)
    {
        var lists = List("registers").Select(r => r["tenders"] as JsonArray).ToList();
        return lists.Any(l => l is null)
            ? Country is not { TakesBenefits: false } || !Benefits.Contains(tender)
            : lists.Any(l => l!.Any(t => (string?)t == tender));
    }

    /// <summary>Those who are in the set-up.</summary>
    public IEnumerable<(string Name, string Role)> Staff =>
        List("people").Select(p => ((string?)p["name"] ?? (string)p["id"]!, (string?)p["role"] ?? ""));

    /// <summary>Adds people who are not there yet.</summary>
    public void Add(IEnumerable<Person> people) => Put("people",
    [
        .. List("people"),
        .. people.Where(p => List("people").All(o => (string?)o["id"] != p.Id.Value)).Select(p => new JsonObject
        {
            ["id"] = p.Id.Value, ["name"] = p.Name, ["role"] = p.Role.ToString().ToLowerInvariant(),
        }),
    ]);

    /// <summary>Ids that people have in journals and counts.</summary>
    public IEnumerable<string> PersonIds => List("people").Select(p => (string)p["id"]!);

    internal void AnswerShop(IFormCollection form)
    {
        _objections.Clear();
        ReadTexts(form, "store");
        if (Core.SetUp.Country.Find(form["country"]) is not { } chosen || chosen == Country)
        {
            return;
        }

        _root["timeZone"] = chosen.TimeZones[0];
        Set(_root, "decimalMark", chosen.DecimalMark == Core.Amounts.Currency.Comma ? "," : null);
        TakeCurrency(chosen.Currency, chosen);
        foreach (var register in List("registers"))
        {
            Set(register, "tenders", null); // other tenders are usual there
        }
    }

    internal void AnswerMoney(IFormCollection form)
    {
        _objections.Clear();
        var was = Text("currency");
        ReadDecimalMark(form);
        ReadTexts(form, "timeZone");
        ReadTimes(form, "dayEndsAt");
        var currency = form["currency"].ToString().Trim().ToUpperInvariant();
        if (!Core.Amounts.Currency.IsCode(currency))
        {
            _objections.Add(new("currency", "A currency is three letters, like USD or EUR."));
        }
        else if (currency != was)
        {
            TakeCurrency(currency, Core.SetUp.Country.All.FirstOrDefault(c => c.Currency == currency));
        }
        else
        {
            ReadPolicyAmounts(form, "cashRounding");
        }
    }

    internal void AnswerRegisters(IFormCollection form)
    {
        _objections.Clear();
        var wanted = new Dictionary<string, int>();
        foreach (var (kind, _) in _registerKinds)
        {
            var text = form[kind].ToString().Trim();
            wanted[kind] = text.Length == 0 ? 0 : int.TryParse(text, NumberStyles.None, CultureInfo.InvariantCulture, out var n) ? n : -1;
            if (wanted[kind] is < 0 or > MostOfAKind)
            {
                _objections.Add(new(kind, $"Type a number from 0 to {MostOfAKind}."));
            }
        }

        if (_objections.Count == 0 && wanted.Values.Sum() == 0)
        {
            _objections.Add(new("lane", "A shop needs at least one register."));
        }

        if (_objections.Count == 0)
        {
            MakeRegisters(wanted);
        }
    }

    internal void AnswerFloat(IFormCollection form)
    {
        _objections.Clear();
        if (TypedAmount.Read(form["float"].ToString(), Currency) is not { Sign: >= 0 } worth)
        {
            _objections.Add(new("float", $"Amounts look like {Currency.Typed(new(200 * Currency.Unit))}."));
            return;
        }

        foreach (var register in Drawers)
        {
            register["float"] = Currency.Format(worth);
        }

        var kinds = new List<Denomination>();
        foreach (var kind in Counted())
        {
            var name = PieceField(kind.Worth);
            var text = form[name].ToString().Trim();
            var number = text.Length == 0 ? 0 : int.TryParse(text, NumberStyles.None, CultureInfo.InvariantCulture, out var n) ? n : -1;
            if (number is < 0 or > 10_000)
            {
                _objections.Add(new(name, "Type how many, like 20."));
            }

            kinds.Add(kind with { Kept = Math.Max(0, number) });
        }

        Keep(kinds);
    }

    /// <summary>The field of how many pieces of that worth.</summary>
    public static string PieceField(Money worth) => string.Create(CultureInfo.InvariantCulture, $"pieces-{worth.Minor}");

    internal void AnswerCards(IFormCollection form)
    {
        _objections.Clear();
        var terminals = List("terminals");
        foreach (var id in List("registers").Select(r => (string)r["id"]!))
        {
            var number = form[$"terminal-{id}"].ToString().Trim();
            var there = FirstTerminal(id);
            if (number.Length == 0)
            {
                terminals.Remove(there!);
            }
            else if (there is null)
            {
                terminals.Add(new() { ["id"] = number, ["register"] = id });
            }
            else
            {
                there["id"] = number;
            }
        }

        var hour = form["settlesAt"].ToString().Trim();
        foreach (var terminal in terminals)
        {
            Set(terminal, "settlesAt", hour.Length > 0 ? Time(hour, "settlesAt") : null);
        }

        if (terminals.GroupBy(t => (string?)t["id"]).FirstOrDefault(g => g.Count() > 1) is { } twice)
        {
            _objections.Add(new($"terminal-{(string)twice.Last()["register"]!}", $"{twice.Key} stands at another register already."));
        }

        Put("terminals", terminals);
    }

    internal void AnswerTenders(IFormCollection form)
    {
        _objections.Clear();
        var all = RowsOf(SetupTable.Tenders).ToList();
        var takes = all.Where(t => form["takes"].Contains((string)t["id"]!)).ToList();
        if (takes.Count == 0)
        {
            _objections.Add(new("takes", "Tick at least one."));
            return;
        }

        foreach (var register in List("registers"))
        {
            // Nobody hands cash or a check to a web page.
            var own = (string?)register["kind"] == "online" ? [.. takes.Where(t => (string?)t["proof"] != "count")] : takes;
            Set(register, "tenders", own.Count == 0 || own.Count == all.Count ? null
                : new JsonArray([.. own.Select(t => JsonValue.Create((string)t["id"]!))]));
        }

        ReadProgramme(form);
    }

    internal void AnswerRules(IFormCollection form)
    {
        _objections.Clear();
        ReadPolicyAmounts(form, "cashTolerance", "approvalAbove");
        ReadTimes(form, "settledBy");
        ReadWitness(form);
    }

    internal void AnswerBank(IFormCollection form)
    {
        _objections.Clear();
        ReadPolicyAmounts(form, "safeFund");
        ReadHolidays(form);
        var accounts = List("bankAccounts");
        var number = form["number"].ToString().Trim();
        if (number.Length == 0)
        {
            accounts = [.. accounts.Skip(1)];
        }
        else if (accounts is [var first, ..])
        {
            first["number"] = number;
        }
        else
        {
            accounts.Add(new() { ["number"] = number });
        }

        Put("bankAccounts", accounts);
    }

    /// <summary>The number of the store's first account at the bank.</summary>
    public string BankNumber => (string?)List("bankAccounts").FirstOrDefault()?["number"] ?? "";

    private static readonly string[] Benefits =
        [TenderId.EbtFood.Value, TenderId.EbtCash.Value, TenderId.Wic.Value, TenderId.Voucher.Value];

    private List<JsonObject> List(string name) => [.. (_root[name]?.AsArray() ?? []).Select(r => r!.AsObject())];

    private void Put(string name, List<JsonObject> rows) =>
        Set(_root, name, rows.Count == 0 ? null : new JsonArray([.. rows.Select(r => r.Parent is null ? r : r.DeepClone())]));

    private IEnumerable<JsonObject> Drawers => List("registers").Where(r => (string?)r["kind"] != "online");

    private JsonObject? FirstTerminal(string register) =>
        List("terminals").FirstOrDefault(t => (string?)t["register"] == register && t["until"] is null);

    /// <summary>What is counted here: nothing is smaller than the smallest coin.</summary>
    private IEnumerable<Denomination> Counted()
    {
        var smallest = Currency.TryParse(Policy("cashRounding"), out var coin) ? coin : new(1);
        return List(Denominations) is { Count: > 0 } ? RowsOf(SetupTable.Denominations).Select(Kind)
            : Core.Amounts.Denominations.Of(Currency).Where(d => d.Worth >= smallest);

        Denomination Kind(JsonObject row) => new(Currency.TryParse((string?)row["worth"] ?? "", out var worth) ? worth : new(1),
            (bool?)row["note"] ?? false, (int?)row["pack"], decimal.TryParse((string?)row["grams"], NumberStyles.AllowDecimalPoint,
                CultureInfo.InvariantCulture, out var grams) ? grams : null, (int?)row["keep"] ?? 0);
    }

    /// <summary>Writes what is counted, where that is not what is usual.</summary>
    private void Keep(List<Denomination> kinds)
    {
        var usual = Core.Amounts.Denominations.Of(Currency);
        Put(Denominations, kinds.All(k => usual.Contains(k)) && usual.Where(u => !kinds.Contains(u)).All(u => u.Worth < kinds[^1].Worth)
            ? []
            : [.. kinds.Select(k => SetupTable.Row(k, Currency))]);
    }

    /// <summary>Another currency has other notes and coins, and other floats.</summary>
    private void TakeCurrency(string code, Country? country)
    {
        (_root["currency"], var currency) = (code, Core.Amounts.Currency.Of(code));
        Set(_root, Denominations, null);
        Set(PolicyRoot, "cashRounding", currency.Format(new(country?.SmallestCoin ?? 1)));
        var unit = country is null ? currency.Unit : Math.Max(1, country.Float / 200);
        Set(PolicyRoot, "cashTolerance", currency.Format(new(unit * 2)));
        Set(PolicyRoot, "approvalAbove", currency.Format(new(unit * 20)));
        Set(PolicyRoot, "safeFund", null);
        foreach (var register in Drawers)
        {
            register["float"] = currency.Format(new(country?.Float ?? 0));
            Set(register, "dropAbove", null);
        }

        foreach (var tender in List("tenders"))
        {
            Set(tender, "tolerance", null);
        }
    }

    private void MakeRegisters(Dictionary<string, int> wanted)
    {
        var (old, worth) = (List("registers"), Currency.Format(UsualFloat));
        var ids = MadeIds.After(old.Select(r => (string?)r["id"]));
        List<JsonObject> registers = [];
        foreach (var (kind, name) in _registerKinds)
        {
            var there = old.Where(r => (string?)r["kind"] == kind).Take(wanted[kind]).ToList();
            registers.AddRange(there);
            for (var n = there.Count + 1; n <= wanted[kind]; n++)
            {
                var register = new JsonObject
                {
                    ["id"] = ids.Make("registers", kind),
                    ["name"] = wanted[kind] == 1 && kind is not "lane" ? name : string.Create(CultureInfo.InvariantCulture, $"{name} {n}"),
                    ["kind"] = kind,
                };
                if (kind != "online")
                {
                    register["float"] = worth;
                }

                registers.Add(register);
            }
        }

        Put("registers", registers);
        var known = List("registers").Select(r => (string)r["id"]!).ToList();
        var terminals = List("terminals").Where(t => known.Contains((string)t["register"]!)).ToList();
        foreach (var register in known.Except(terminals.Select(t => (string)t["register"]!)).ToList())
        {
            terminals.Add(new() { ["id"] = FreeTerminal(terminals), ["register"] = register });
        }

        Put("terminals", terminals);
        foreach (var person in List("people").Where(p => p["registers"] is JsonArray))
        {
            var opens = person["registers"]!.AsArray().Select(r => (string)r!).Intersect(known).ToList();
            Set(person, "registers", opens.Count == 0 ? null : new JsonArray([.. opens.Select(r => JsonValue.Create(r))]));
        }
    }

    private static string FreeTerminal(List<JsonObject> terminals) => Enumerable.Range(1, int.MaxValue - 1)
        .Select(n => string.Create(CultureInfo.InvariantCulture, $"T-{n:00}")).First(id => terminals.All(t => (string?)t["id"] != id));
}
