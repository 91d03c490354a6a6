using Fondo.Files.Text;

namespace Fondo.Files.Reading;

/// <summary>Reads the lines of a journal that nearly all are: a sale without fault, written plainly, straight from its bytes. Whatever else
/// a line is, it says nothing and leaves it to
/// <see cref="EventReader"/>, who knows every fault. What it does read is what that one would have read; a test holds both side by
/// side.</summary>
internal sealed class PlainSales
{
    private const int None = 0;

    private readonly Strings _texts;
    private readonly Code.Shared _shared;
    private readonly KnownLines _known = new();
    private readonly List<TicketLine> _lines = [];
    private readonly List<Tender> _tenders = [];
    private readonly Vocabulary _words;
    private readonly Currency _currency;

    public PlainSales(Vocabulary words)
    {
        (_words, _currency, _texts) = (words, words.Setup.Currency, new());
        _shared = _texts.Known;
    }

    /// <summary>The sale; null where the line is anything else.</summary>
    public Ticket? Read(ReadOnlySpan<byte> line)
    {
        var json = new PlainJson(line);
        var (isFirst, seen) = (true, None);
        Code id = default;
        string? drawer = null, cashier = null, note = null;
        Register? register = null;
        DateTimeOffset at = default;
        Money subtotal = default, discount = default, cashDiscount = default, tax = default, fee = default, rounding = default,
            total = default;
        _lines.Clear();
        _tenders.Clear();
        if (!json.Takes('{'))
        {
            return null;
        }

        while (json.NextMember(ref isFirst, out var name))
        {
            switch (name.Length)
            {
                case 2 when name.SequenceEqual("id"u8) && Once(ref seen, 1): id = Id(ref json); break;
                case 2 when name.SequenceEqual("at"u8) && Once(ref seen, 2): at = At(ref json); break;
                case 3 when name.SequenceEqual("tax"u8) && Once(ref seen, 4): tax = Amount(ref json) ?? GaveUp(ref json); break;
                case 3 when name.SequenceEqual("fee"u8) && Once(ref seen, 8): fee = Amount(ref json) ?? default; break;
                case 4 when name.SequenceEqual("kind"u8) && Once(ref seen, 16):
                    if (!json.TextOrNull(out _).SequenceEqual("sale"u8))
                    {
                        return null;
                    }

                    break;
                case 4 when name.SequenceEqual("note"u8) && Once(ref seen, 32): note = Written(ref json); break;
                case 5 when name.SequenceEqual("lines"u8) && Once(ref seen, 64): Lines(ref json); break;
                case 5 when name.SequenceEqual("total"u8) && Once(ref seen, 128): total = Amount(ref json) ?? GaveUp(ref json); break;
                case 6 when name.SequenceEqual("drawer"u8) && Once(ref seen, 256): drawer = IdOrNull(ref json); break;
                case 7 when name.SequenceEqual("cashier"u8) && Once(ref seen, 512): cashier = IdOrNull(ref json); break;
                case 7 when name.SequenceEqual("tenders"u8) && Once(ref seen, 1024): Tenders(ref json); break;
                case 8 when name.SequenceEqual("original"u8) && Once(ref seen, 65536): json.TextOrNull(out _); break; // a refund's
                case 8 when name.SequenceEqual("register"u8)
                    && Once(ref seen, 2048):
                    register = _words.FindRegister(_texts.Known(json.TextOrNull(out _))); break;
                case 8 when name.SequenceEqual("subtotal"u8) && Once(ref seen, 4096):
                    subtotal = Amount(ref json)
                    ?? GaveUp(ref json); break;
                case 8 when name.SequenceEqual("discount"u8) && Once(ref seen, 8192): discount = Amount(ref json) ?? default; break;
                case 8 when name.SequenceEqual("rounding"u8) && Once(ref seen, 16384): rounding = Amount(ref json) ?? default; break;
                case 12 when name.SequenceEqual("cashDiscount"u8) && Once(ref seen, 32768):
                    cashDiscount = Amount(ref json)
                    ?? default; break;
                default: return null;
            }
        }

        const int needed = 1 | 2 | 4 | 16 | 128 | 1024 | 2048 | 4096;
        if (!json.IsAtEnd() || (seen & needed) != needed || register is null || (drawer is null && register.Kind != RegisterKind.Online))
        {
            return null;
        }

        var head = new EventHead(new(id), register.Id, drawer is null ? null : new DrawerId(drawer),
            cashier is null ? null : new PersonId(cashier), at);
        return new(head, EventKind.Sale, null, [.. _lines], subtotal, discount, cashDiscount, tax, fee, rounding, total, [.. _tenders],
            note);
    }

    private void Lines(ref PlainJson json)
    {
        var isFirst = true;
        if (!json.Takes('['))
        {
            json.GiveUp();
        }

        while (json.NextElement(ref isFirst))
        {
            var from = json.At;
            var ahead = json.ToBrace();
            if (_known.Find(ahead) is { } known)
            {
                json.Pass(ahead.Length);
                _lines.Add(known);
            }
            else if (Line(ref json) is { } line)
            {
                _known.Keep(json.Since(from), line);
                _lines.Add(line);
            }

            if (_lines.Count > Limits.MostLines)
            {
                json.GiveUp();
            }
        }
    }

    /// <summary>Null where it is not plain.</summary>
    private TicketLine? Line(ref PlainJson json)
    {
        var (isFirst, seen) = (true, None);
        ReadOnlySpan<byte> sku = default, article = default, account = default;
        decimal quantity = 1, rate = 0;
        Money amount = default, tax = default;
        Money? cost = null;
        var ebt = false;
        string? reference = null;
        if (!json.Takes('{'))
        {
            json.GiveUp();
        }

        while (json.NextMember(ref isFirst, out var name))
        {
            switch (name.Length)
            {
                case 3 when name.SequenceEqual("sku"u8) && Once(ref seen, 1): sku = json.TextOrNull(out _); break;
                case 3 when name.SequenceEqual("qty"u8) && Once(ref seen, 2): quantity = Number(ref json, Limits.Quantity, 1); break;
                case 3 when name.SequenceEqual("tax"u8) && Once(ref seen, 4): tax = Amount(ref json) ?? default; break;
                case 3 when name.SequenceEqual("ebt"u8) && Once(ref seen, 8): ebt = json.Flag(); break;
                case 3 when name.SequenceEqual("ref"u8) && Once(ref seen, 512): reference = Words(ref json); break;
                case 4 when name.SequenceEqual("name"u8) && Once(ref seen, 16): article = json.EscapedOrNull(); break;
                case 4 when name.SequenceEqual("cost"u8) && Once(ref seen, 32): cost = Amount(ref json); break;
                case 6 when name.SequenceEqual("amount"u8) && Once(ref seen, 64): amount = Amount(ref json) ?? GaveUp(ref json); break;
                case 7 when name.SequenceEqual("taxRate"u8) && Once(ref seen, 128): rate = Number(ref json, 1, 0); break;
                case 7 when name.SequenceEqual("account"u8) && Once(ref seen, 256): account = json.TextOrNull(out _); break;
                default: json.GiveUp(); break;
            }
        }

        if ((seen & (8 | 64)) != (8 | 64))
        {
            json.GiveUp();
        }

        return json.IsPlain
            ? _words.Line(new(_words.Article(_texts.Known(sku), _texts.Known(article), rate, ebt,
                account.IsEmpty ? null : _texts.Known(account)), quantity, amount, tax, cost, reference))
            : null;
    }

    private void Tenders(ref PlainJson json)
    {
        var isFirst = true;
        if (!json.Takes('['))
        {
            json.GiveUp();
        }

        while (json.NextElement(ref isFirst))
        {
            Tender(ref json);
            if (_tenders.Count > Limits.MostTenders)
            {
                json.GiveUp();
            }
        }
    }

    private void Tender(ref PlainJson json)
    {
        var (isFirst, seen) = (true, None);
        string? type = null, terminal = null, brand = null, card = null, entry = null, number = null, holder = null, reference = null;
        Code auth = default, rrn = default;
        Money amount = default, change = default, tip = default, cashback = default, fee = default;
        if (!json.Takes('{'))
        {
            json.GiveUp();
        }

        while (json.NextMember(ref isFirst, out var name))
        {
            switch (name.Length)
            {
                case 3 when name.SequenceEqual("tip"u8) && Once(ref seen, 1): tip = Amount(ref json) ?? default; break;
                case 3 when name.SequenceEqual("fee"u8) && Once(ref seen, 2): fee = Amount(ref json) ?? default; break;
                case 3 when name.SequenceEqual("rrn"u8) && Once(ref seen, 4): rrn = Coded(ref json); break;
                case 3 when name.SequenceEqual("ref"u8) && Once(ref seen, 8): reference = Words(ref json); break;
                case 4 when name.SequenceEqual("type"u8) && Once(ref seen, 16): type = Words(ref json); break;
                case 4 when name.SequenceEqual("card"u8) && Once(ref seen, 32): card = LastFour(ref json); break;
                case 4 when name.SequenceEqual("auth"u8) && Once(ref seen, 64): auth = Coded(ref json); break;
                case 4 when name.SequenceEqual("name"u8) && Once(ref seen, 128): holder = Written(ref json); break;
                case 5 when name.SequenceEqual("brand"u8) && Once(ref seen, 256): brand = Words(ref json); break;
                case 5 when name.SequenceEqual("entry"u8) && Once(ref seen, 512): entry = Words(ref json); break;
                case 6 when name.SequenceEqual("amount"u8) && Once(ref seen, 1024): amount = Amount(ref json) ?? GaveUp(ref json); break;
                case 6 when name.SequenceEqual("change"u8) && Once(ref seen, 2048): change = Amount(ref json) ?? default; break;
                case 6 when name.SequenceEqual("result"u8) && Once(ref seen, 32768): IsApproved(ref json); break;
                case 6 when name.SequenceEqual("number"u8) && Once(ref seen, 4096): number = Words(ref json); break;
                case 8 when name.SequenceEqual("terminal"u8) && Once(ref seen, 8192): terminal = Words(ref json); break;
                case 8 when name.SequenceEqual("cashback"u8) && Once(ref seen, 16384): cashback = Amount(ref json) ?? default; break;
                default: json.GiveUp(); break;
            }
        }

        if ((seen & 1024) == 0 || type is null || !_words.HasTender(type) || (terminal is not null && !_words.HasTerminal(terminal)))
        {
            json.GiveUp();
        }

        if (json.IsPlain)
        {
            _tenders.Add(new(new(type!), amount, change, tip, cashback, fee,
                _words.Slip(terminal is null ? null : new TerminalId(terminal), brand, card, auth, rrn, entry), TenderResult.Approved,
                number, holder, reference));
        }
    }

    /// <summary>False where the member was there before.</summary>
    private static bool Once(ref int seen, int bit)
    {
        var isNew = (seen & bit) == 0;
        seen |= bit;
        return isNew;
    }

    private static Money GaveUp(ref PlainJson json)
    {
        json.GiveUp();
        return Money.Zero;
    }

    private Money? Amount(ref PlainJson json)
    {
        var text = json.TextOrNull(out var isNull);
        if (isNull)
        {
            return null;
        }

        if (!_currency.TryParse(text, out var amount))
        {
            json.GiveUp();
        }

        return amount;
    }

    private static decimal Number(ref PlainJson json, decimal most, decimal otherwise)
    {
        var text = json.TextOrNull(out var isNull);
        if (isNull)
        {
            return otherwise;
        }

        if (!Fields.TryDecimal(text, out var number) || number < 0 || number > most)
        {
            json.GiveUp();
        }

        return number;
    }

    private static DateTimeOffset At(ref PlainJson json)
    {
        if (!IsoTime.TryParse(json.TextOrNull(out _), out var at))
        {
            json.GiveUp();
        }

        return at;
    }

    /// <summary>An empty text is nothing.</summary>
    private string? Words(ref PlainJson json) => Known(json.TextOrNull(out _));

    private string? Written(ref PlainJson json) => Known(json.EscapedOrNull());

    private string? Known(ReadOnlySpan<byte> text) => text.IsEmpty ? null : _texts.Known(text);

    /// <summary>What was declined or reversed is rare.</summary>
    private static void IsApproved(ref PlainJson json)
    {
        var result = json.TextOrNull(out var isNull);
        if (!isNull && !result.SequenceEqual("approved"u8))
        {
            json.GiveUp();
        }
    }

    private Code Id(ref PlainJson json)
    {
        var text = json.TextOrNull(out _);
        if (!Limits.IsId(text))
        {
            json.GiveUp();
            return default;
        }

        return Code.OfUtf8(text, _shared);
    }

    private Code Coded(ref PlainJson json)
    {
        var text = json.TextOrNull(out _);
        return text.IsEmpty ? default : Code.OfUtf8(text, _shared);
    }

    private string? IdOrNull(ref PlainJson json)
    {
        var text = json.TextOrNull(out _);
        if (text.IsEmpty)
        {
            return null;
        }

        if (!Limits.IsId(text))
        {
            json.GiveUp();
        }

        return _texts.Known(text);
    }

    private static string? LastFour(ref PlainJson json)
    {
        var text = json.TextOrNull(out _);
        if (!LastFours.Are(text))
        {
            json.GiveUp();
            return null;
        }

        return LastFours.Of(text);
    }
}
