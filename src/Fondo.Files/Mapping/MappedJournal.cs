using System.Globalization;
using System.Text;
using System.Text.Json.Nodes;
using Fondo.Files.Text;

namespace Fondo.Files.Mapping;

/// <summary>Makes tickets and movements of a flat journal: one row a tender, or one row a line with the tender repeated.</summary>
internal static class MappedJournal
{
    /// <summary>What stands for the goods where a file does not tell lines.</summary>
    private const string Goods = "GOODS";

    /// <summary>What a row says of its ticket: a line or a payment, or the change or the tip of a payment in another row.</summary>
    private enum PartIs
    {
        Itself,
        Change,
        Tip,
    }

    private sealed record Part(MappedRow Row, DateTimeOffset At, bool IsRefund, Money Amount, string Tender, PartIs Is)
    {
        public bool IsChange => Is == PartIs.Change;

        public bool IsTip => Is == PartIs.Tip;

        /// <summary>The change that a row of its own tells.</summary>
        public Money ChangeGiven { get; init; }

        /// <summary>The tip that a row of its own tells, and whether it is in the amount all the same.</summary>
        public (Money Amount, bool IsInside) TipGiven { get; init; }
    }

    public static MappedFile Of(MappedSource source, MappedMaking making)
    {
        var (rows, parts, order) = (new List<MappedFate>(), new Dictionary<string, List<Part>>(), new List<string>());
        var (movements, net) = (new List<Movement>(), Money.Zero);
        foreach (var (row, made) in making.Each(source, rows, Read))
        {
            if (made is Movement movement)
            {
                movements.Add(movement);
                continue;
            }

            var (part, id) = ((Part)made, IdOf(row, making));
            if (!parts.TryGetValue(id, out var known))
            {
                parts[id] = known = [];
                order.Add(id);
            }

            known.Add(part);
        }

        var (text, lines, days) = (new StringBuilder(), new List<int>(), new List<DateTimeOffset>());
        foreach (var id in order)
        {
            var before = making.Findings.All.Count;
            var own = Standing(id, parts[id], rows, making);
            var (ticket, total) = Ticket(id, WithTip(id, WithChange(id, own, making), making), making);
            if (making.Findings.All.Count > before)
            {
                rows.AddRange(own.Select(p => new MappedFate(p.Row.Line, RowFate.Refused, making.Findings.All[before].Message)));
                continue;
            }

            var isVoid = own.Any(p => p.Row.IsVoid);
            net += isVoid ? Money.Zero : total;
            foreach (var e in isVoid ? [ticket, Void(id, ticket)] : new[] { ticket })
            {
                text.Append(e.ToJsonString()).Append('\n');
                lines.Add(own[0].Row.Line);
                days.Add(own[0].At);
            }

            rows.AddRange(own.Select(p =>
                new MappedFate(p.Row.Line, isVoid ? RowFate.Voided : RowFate.Taken, Says(id, ticket, p, isVoid))));
        }

        foreach (var (movement, json) in MappedMovements.Json(movements, making))
        {
            text.Append(json.ToJsonString()).Append('\n');
            lines.Add(movement.Row.Line);
            days.Add(movement.At);
            rows.Add(new(movement.Row.Line, RowFate.Taken, MappedMovements.Says(movement, json)));
        }

        var isOdd = order.Count > 2 && order.Count(o => parts[o][0].IsRefund) * 2 > order.Count;
        return new(MappedKind.Journal, text.ToString(), lines, days, [.. rows.OrderBy(r => r.Line)], making.Findings.All,
            isOdd ? ["Most tickets would be refunds. Are the signs reversed?"] : [])
        { Net = net };
    }

    /// <summary>The rows that make up the ticket: all, also where all are voided; else those that no void took out.</summary>
    private static List<Part> Standing(string id, List<Part> own, List<MappedFate> fates, MappedMaking making)
    {
        var voided = own.Where(p => p.Row.IsVoid).ToList();
        if (voided.Count == 0 || voided.Count == own.Count || making.Mapping.Voided == VoidedIs.Ticket)
        {
            return own;
        }

        if (making.Mapping.Voided == VoidedIs.Asked)
        {
            making.Fault(voided[0].Row, MappedFields.Status, voided[0].Row[MappedFields.Status],
                $"only some rows of ticket {id} are voided; set in the mapping whether that takes out the ticket or the row alone");
            return own;
        }

        fates.AddRange(voided.Select(p => new MappedFate(p.Row.Line, RowFate.Voided, $"voided row of {id}, left out")));
        return [.. own.Except(voided)];
    }

    /// <summary>A part of a ticket, or a movement; null, and told, where it is neither.</summary>
    private static object? Read(MappedRow row, MappedMaking making)
    {
        if (making.RegisterOf(row) is null)
        {
            making.Fault(row, MappedFields.Register, row[MappedFields.Register],
                "expected a register in the set-up; set in the mapping which one this is");
        }

        return MappedWords.EventOf(row.Word(MappedFields.Type)) is { } kind
            ? MappedMovements.Read(row, kind, making)
            : PartOf(row, making);
    }

    private static Part? PartOf(MappedRow row, MappedMaking making)
    {
        var isByLine = making.Mapping.Layout == MappedLayout.Line;
        var (at, amount) = (making.At(row), making.Amount(row, isByLine ? MappedFields.LineAmount : MappedFields.Amount, isNeeded: true));
        var says = isByLine ? PartIs.Itself
            : MappedWords.SaysChange(row.Word(MappedFields.Tender)) ? PartIs.Change
            : MappedWords.SaysTip(row.Word(MappedFields.Tender)) || MappedWords.SaysTip(row.Word(MappedFields.Type)) ? PartIs.Tip
            : PartIs.Itself;
        var tender = says == PartIs.Itself ? TenderOf(row, making) : TenderId.Cash.Value;
        if (row[MappedFields.Ticket].Length == 0)
        {
            making.Fault(row, MappedFields.Ticket, "", "expected a ticket number, but the field is empty");
        }

        return at is { } moment && amount is { } signed && tender is not null
            && (row.IsVoid || says != PartIs.Itself ? signed.Sign < 0 : MappedBatches.IsRefund(row, signed, making)) is { } isRefund
            ? new(row, moment, isRefund, signed.Abs(), tender, says)
            : null;
    }

    /// <summary>The tender's id; null, and told, where the word is none.</summary>
    private static string? TenderOf(MappedRow row, MappedMaking making)
    {
        if (MappedWords.TenderOf(row.Word(MappedFields.Tender), making.Setup) is { } id)
        {
            return id;
        }

        making.Fault(row, MappedFields.Tender, row[MappedFields.Tender],
            "expected a tender in the set-up; set in the mapping what this word means");
        return null;
    }

    internal static string IdOf(MappedRow row, MappedMaking making)
    {
        var (ticket, register) = (MappedMaking.Id(row[MappedFields.Ticket]), MappedMaking.Id(making.RegisterIdOf(row)));
        return ticket.StartsWith(register + "-", StringComparison.Ordinal) ? ticket : MappedMaking.Id($"{register}-{ticket}");
    }

    /// <summary>What a ticket's rows come to; a refund's amounts are negative.</summary>
    private sealed record Contents(bool IsRefund, Money Subtotal, Money Tax, Money Fee, JsonArray Lines,
        ImmutableArray<JsonObject> Tenders);

    private static (JsonObject Json, Money Total) Ticket(string id, List<Part> parts, MappedMaking making)
    {
        var (first, isByLine) = (parts[0], making.Mapping.Layout == MappedLayout.Line);
        if (parts.FirstOrDefault(p => p.IsRefund != first.IsRefund && !isByLine) is { } turned)
        {
            making.Fault(turned.Row, MappedFields.Amount, turned.Row[MappedFields.Amount],
                $"expected ticket {id} to be a sale or a refund, not both"
                    + (GivesChange(turned, making) ? "; set in the mapping whether change has a row of its own" : ""));
        }

        if (parts.FirstOrDefault(p => making.RegisterIdOf(p.Row) != making.RegisterIdOf(first.Row)) is { } elsewhere)
        {
            making.Fault(elsewhere.Row, MappedFields.Register, elsewhere.Row[MappedFields.Register],
                $"expected ticket {id} at one register");
        }

        var contents = isByLine ? OfLines(id, parts, making) : OfTenders(id, parts, making);
        var ticket = Head(id, first, contents.IsRefund, making);
        string Text(Money amount) => making.Setup.Currency.Format(amount);
        ticket["lines"] = contents.Lines;
        ticket["subtotal"] = Text(contents.Subtotal);
        ticket["discount"] = Text(Money.Zero);
        ticket["tax"] = Text(contents.Tax);
        ticket["fee"] = Text(contents.Fee);
        ticket["rounding"] = Text(Money.Zero);
        var total = contents.Subtotal + contents.Tax + contents.Fee;
        ticket["total"] = Text(total);
        ticket["tenders"] = new JsonArray([.. contents.Tenders]);
        return (ticket, total);
    }

    /// <summary>A row is an item that was sold, with the ticket's tender beside it.</summary>
    /// <summary>The payments of a ticket, with the change that rows of their own tell.</summary>
    private static List<Part> WithChange(string id, List<Part> parts, MappedMaking making)
    {
        bool IsBack(Part p) => p.IsRefund && GivesChange(p, making) && (making.Mapping.Change == PartOfAmount.OwnRow
            || (making.Mapping.Change == PartOfAmount.Asked && FitsTotal(parts, making)));
        var isSale = parts.Exists(p => p is { IsRefund: false, Is: PartIs.Itself });
        var change = parts.Where(p => p.IsChange || (isSale && IsBack(p))).ToList();
        if (change.Count == 0)
        {
            return parts;
        }

        var paid = parts.Except(change).ToList();
        if (paid.Where(p => GivesChange(p, making)).MaxBy(p => p.Amount) is not { } cash)
        {
            making.Fault(change[0].Row, MappedFields.Tender, change[0].Row[MappedFields.Tender],
                $"expected a payment in cash on ticket {id}, on which change was given");
            return parts;
        }

        if (change.Sum(c => c.Amount) > cash.Amount)
        {
            making.Fault(change[0].Row, MappedFields.Amount, change[0].Row[MappedFields.Amount],
                $"expected no more change on ticket {id} than was paid in cash");
            return parts;
        }

        return [.. paid.Select(p => p == cash ? p with { ChangeGiven = change.Sum(c => c.Amount) } : p)];
    }

    /// <summary>The payments of a ticket, with the tip that a row of its own tells.</summary>
    private static List<Part> WithTip(string id, List<Part> parts, MappedMaking making)
    {
        var tips = parts.Where(p => p.IsTip).ToList();
        if (tips.Count == 0)
        {
            return parts;
        }

        var (paid, tip, row) = (parts.Except(tips).ToList(), tips.Sum(t => t.Amount), tips[0].Row);
        var cards = paid.Where(p => making.Setup.Find(new TenderId(p.Tender))?.Proof == ProofKind.Batch).ToList();
        if (cards is not [var card])
        {
            making.Fault(row, MappedFields.Tender, row[MappedFields.Tender],
                $"expected one payment by card on ticket {id}, to which its tip belongs");
            return parts;
        }

        var all = paid.Sum(p => p.Amount - p.ChangeGiven);
        bool? isInside = making.Mapping.Tip != PartOfAmount.Asked ? making.Mapping.Tip == PartOfAmount.Inside
            : paid[0].Row[MappedFields.Total].Length == 0 ? null
            : Of(paid[0], MappedFields.Total, making) is var total && all == total ? false
            : all - tip == total ? true
            : null;
        if (isInside is not { } known)
        {
            making.With(row, MappedFields.Tender, card.Amount, tip, PartOfAmount.Asked);
            return parts;
        }

        return [.. paid.Select(p => p == card ? p with { TipGiven = (tip, known) } : p)];
    }

    private static bool GivesChange(Part part, MappedMaking making) =>
        making.Setup.Find(new TenderId(part.Tender)) is { GivesChange: true };

    /// <summary>Whether the ticket's total is what its rows come to with their signs.</summary>
    private static bool FitsTotal(List<Part> parts, MappedMaking making) => parts[0].Row[MappedFields.Total].Length > 0
        && parts.Where(p => !p.IsTip).Sum(p => p.IsRefund || p.IsChange ? -p.Amount : p.Amount) == Of(parts[0], MappedFields.Total, making);

    private static Contents OfLines(string id, List<Part> parts, MappedMaking making)
    {
        var first = parts[0];
        (Money Signed, Money Tax) Line(Part p) =>
            (p.Amount * (p.IsRefund ? -1 : 1), Of(p, MappedFields.LineTax, making) * (p.IsRefund ? -1 : 1));
        var subtotal = parts.Sum(p => Line(p).Signed);
        var sign = subtotal.Sign < 0 || (subtotal.IsZero && first.IsRefund) ? -1 : 1;
        var tax = first.Row[MappedFields.Tax].Length > 0 ? Of(first, MappedFields.Tax, making) * sign : parts.Sum(p => Line(p).Tax);
        var lines = new JsonArray([.. parts.Select(p => LineOf(p, Line(p).Signed, Line(p).Tax, making))]);
        var total = first.Row[MappedFields.Total].Length > 0 ? Of(first, MappedFields.Total, making) * sign : subtotal + tax;
        if (total != subtotal + tax)
        {
            making.Fault(first.Row, MappedFields.Total, first.Row[MappedFields.Total],
                $"expected {making.Setup.Currency.Format(subtotal + tax)}, what the lines of ticket {id} and their tax come to");
        }

        // The tender is repeated on every line; a ticket with several kinds of tender needs an amount with each.
        var kinds = parts.GroupBy(p =>
            (p.Tender, p.Row[MappedFields.Rrn], p.Row[MappedFields.Auth], Amount: p.Row[MappedFields.Amount])).ToList();
        if (kinds.Count > 1 && kinds.Any(k => k.Key.Amount.Length == 0))
        {
            making.Fault(parts[1].Row, MappedFields.Tender, parts[1].Row[MappedFields.Tender],
                $"expected the amount of each tender: ticket {id} has several");
        }

        var beside = kinds.TrueForAll(k => k.Key.Amount.Length > 0)
            ? BesideOf([.. kinds.Select(k => k.First())], total, making)
            : default;
        return new(sign < 0, subtotal, tax, Money.Zero, lines, [.. kinds.Select(k => TenderJson(k.First(),
            k.Key.Amount.Length > 0 ? Of(k.First(), MappedFields.Amount, making) * sign : total, beside, making).Json)]);
    }

    /// <summary>A row is a tender; what was sold is one line of goods.</summary>
    private static Contents OfTenders(string id, List<Part> parts, MappedMaking making)
    {
        var (first, currency) = (parts[0], making.Setup.Currency);
        var sign = first.IsRefund ? -1 : 1;
        var total = first.Row[MappedFields.Total].Length > 0 ? Of(first, MappedFields.Total, making) : (Money?)null;
        var beside = BesideOf(parts, total, making);
        var tenders = parts.Select(p => TenderJson(p, p.Amount * sign, beside, making)).ToList();
        var (net, fee) = (tenders.Sum(t => t.Net), parts.Sum(p => Of(p, MappedFields.Fee, making)) * sign);
        var tax = Of(first, MappedFields.Tax, making) * sign;
        var subtotal = net - tax - fee;
        JsonArray lines = [(JsonNode)new JsonObject
        {
            ["sku"] = Goods,
            ["name"] = "Goods",
            ["qty"] = "1",
            ["amount"] = currency.Format(subtotal),
            ["tax"] = currency.Format(tax),
            ["taxRate"] = "0",
            ["ebt"] = false
        }];
        if (total is { } says && says * sign != net)
        {
            making.Fault(first.Row, MappedFields.Total, first.Row[MappedFields.Total],
                $"expected {currency.Format(net)}, what the tenders of ticket {id} come to");
        }

        return new(sign < 0, subtotal, tax, fee, lines, [.. tenders.Select(t => t.Json)]);
    }

    /// <summary>The parts that stand beside their amounts: what the mapping says, or what fits the ticket's total.</summary>
    private readonly record struct Beside(bool Change, bool Tip);

    private static Beside BesideOf(List<Part> parts, Money? total, MappedMaking making)
    {
        Money Sum(string field) => parts.Sum(p => Of(p, field, making));
        var (paid, change, tip, cashback) =
            (Sum(MappedFields.Amount), Sum(MappedFields.Change), Sum(MappedFields.Tip), Sum(MappedFields.Cashback));
        var (mapping, own) = (making.Mapping, parts.Sum(p => p.ChangeGiven));
        var asksChange = mapping.Change == PartOfAmount.Asked && !change.IsZero;
        var asksTip = mapping.Tip == PartOfAmount.Asked && !tip.IsZero;
        var says = new Beside(mapping.Change == PartOfAmount.Beside, mapping.Tip == PartOfAmount.Beside);
        if (!asksChange && !asksTip)
        {
            return says;
        }

        if (total is not { } known)
        {
            var (field, part) = asksChange ? (MappedFields.Change, change) : (MappedFields.Tip, tip);
            making.With(parts.First(p => !Of(p, field, making).IsZero).Row, field, paid, part, PartOfAmount.Asked);
            return says;
        }

        foreach (var isChange in asksChange ? new[] { false, true } : [says.Change])
        {
            foreach (var isTip in asksTip ? new[] { false, true } : [says.Tip])
            {
                if (paid - own - cashback - (isChange ? Money.Zero : change) - (isTip ? Money.Zero : tip) == known.Abs())
                {
                    return new(isChange, isTip);
                }
            }
        }

        return says; // the total does not fit either way, and that is told
    }

    /// <summary>What all events begin with.</summary>
    internal static JsonObject Head(string id, MappedRow row, DateTimeOffset at, EventKind kind, MappedMaking making) => new()
    {
        ["id"] = id,
        ["register"] = making.RegisterIdOf(row),
        ["drawer"] = making.RegisterOf(row)?.Kind == RegisterKind.Online
            ? null
            : MappedMaking.Id(row[MappedFields.Drawer] is { Length: > 0 } drawer ? drawer : $"{making.RegisterIdOf(row)}-A"),
        ["cashier"] = row[MappedFields.Cashier].Length > 0 ? MappedMaking.Id(row.Word(MappedFields.Cashier)) : "unnamed",
        ["at"] = IsoTime.Format(at),
        ["kind"] = kind.Written(),
    };

    private static JsonObject Head(string id, Part first, bool isRefund, MappedMaking making)
    {
        var head = Head(id, first.Row, first.At, isRefund ? EventKind.Refund : EventKind.Sale, making);
        if (isRefund)
        {
            head["original"] = first.Row[MappedFields.Original] is { Length: > 0 } original
                ? IdOf(first.Row with
                {
                    Fields = [.. first.Row.Fields.Select((f, i) => first.Row.Places.GetValueOrDefault(MappedFields.Ticket, -1) == i
                        ? original
                        : f)]
                }, making)
                : null;
        }

        return head;
    }

    private static Money Of(Part part, string field, MappedMaking making) => (making.Amount(part.Row, field) ?? Money.Zero).Abs();

    private static JsonObject LineOf(Part part, Money amount, Money tax, MappedMaking making) => new()
    {
        ["sku"] = part.Row[MappedFields.Sku] is { Length: > 0 } sku ? sku : Goods,
        ["name"] = part.Row[MappedFields.Item] is { Length: > 0 } item ? item : "Goods",
        ["qty"] = decimal.TryParse(part.Row[MappedFields.Quantity].Replace(making.Mapping.DecimalMark, '.'), NumberStyles.AllowDecimalPoint,
            CultureInfo.InvariantCulture, out var quantity) && quantity > 0 ? quantity.ToString(CultureInfo.InvariantCulture) : "1",
        ["amount"] = making.Setup.Currency.Format(amount),
        ["tax"] = making.Setup.Currency.Format(tax),
        ["taxRate"] = "0",
        ["ebt"] = false,
    };

    /// <param name="amount">Signed.</param>
    private static (JsonObject Json, Money Net) TenderJson(Part part, Money amount, Beside beside, MappedMaking making)
    {
        var (row, currency) = (part.Row, making.Setup.Currency);
        foreach (var field in new[] { beside.Change ? MappedFields.Change : null, beside.Tip ? MappedFields.Tip : null }.OfType<string>())
        {
            amount = making.With(row, field, amount, Of(part, field, making), PartOfAmount.Beside)!.Value;
        }

        var tip = part.TipGiven.Amount;
        amount += part.TipGiven.IsInside ? Money.Zero : tip * (amount.Sign < 0 ? -1 : 1);
        var json = new JsonObject { ["type"] = part.Tender, ["amount"] = currency.Format(amount) };
        var net = amount;
        foreach (var (field, comesOff) in new[]
        {
            (MappedFields.Change, true),
            (MappedFields.Tip, true),
            (MappedFields.Cashback, true),
            (MappedFields.Fee, false)
        })
        {
            var told = Of(part, field, making) + field switch
            {
                MappedFields.Change => part.ChangeGiven,
                MappedFields.Tip => tip,
                _ => Money.Zero
            };
            if (!told.IsZero)
            {
                var own = told * (amount.Sign < 0 ? -1 : 1);
                json[field] = currency.Format(own);
                net -= comesOff ? own : Money.Zero;
            }
        }

        if (making.Setup.Find(new TenderId(part.Tender))?.Proof == ProofKind.Batch)
        {
            json["terminal"] = row.Word(MappedFields.Terminal) is { Length: > 0 } terminal
                ? terminal
                : making.Setup.Terminals.FirstOrDefault(t => t.Register.Value == making.RegisterIdOf(row)
                    && t.Holds(part.At))?.Terminal.Value;
            json["brand"] = Nothing(row.Word(MappedFields.Brand));
            json["card"] = Nothing(MappedMaking.LastFour(row[MappedFields.Card]));
            json["auth"] = Nothing(row[MappedFields.Auth]);
            json["rrn"] = Nothing(row[MappedFields.Rrn]);
            json["entry"] = Nothing(row.Word(MappedFields.Entry));
        }

        foreach (var field in new[] { MappedFields.Number, MappedFields.Holder, MappedFields.Ref }.Where(f => row[f].Length > 0))
        {
            json[field] = row[field];
        }

        return (json, net);
    }

    private static string? Nothing(string text) => text.Length > 0 ? text : null;

    private static JsonObject Void(string id, JsonObject ticket) => new()
    {
        ["id"] = MappedMaking.Id(id + ".v"),
        ["register"] = (string?)ticket["register"],
        ["drawer"] = (string?)ticket["drawer"],
        ["cashier"] = (string?)ticket["cashier"],
        ["at"] = (string?)ticket["at"],
        ["kind"] = "void",
        ["original"] = id,
    };

    private static string Says(string id, JsonObject ticket, Part part, bool isVoid) =>
        $"{(isVoid ? "voided " : "")}{(string?)ticket["kind"]} {id} of {(string?)ticket["total"]} at "
            + $"{(string?)ticket["register"]}, {part.At:d MMM HH:mm}, "
            + (part.IsChange ? "its change" : part.IsTip ? "its tip" : part.Tender);
}
