using System.Globalization;

namespace Fondo.Rehearsal;

/// <summary>Cards settled, by the processor's files or over the wire, and what the processors will pay for them.</summary>
public sealed partial class Rehearsal
{
    /// <summary>The processor's file of the day: rows are missing now and then, and a whole batch comes a day late.</summary>
    private async Task Settle(DateOnly date)
    {
        if (_wire is not null)
        {
            await SettleOverTheWire(date, _wire);
            return;
        }

        var rows = new System.Text.StringBuilder(RowColumns);
        var totals = new System.Text.StringBuilder("terminal,batch,closed,sales_count,sales_amount,refunds_count,refunds_amount\n");
        var settled = new List<CardRow>();
        foreach (var terminal in _unsettled.GroupBy(c => c.Terminal).OrderBy(g => g.Key, StringComparer.Ordinal).ToList())
        {
            if (Chance(0.04))
            {
                continue; // its batch comes with the next file
            }

            var batch = (++_batches).ToString(CultureInfo.InvariantCulture);
            var own = terminal.Where(_ => !Chance(0.02)).ToList();
            foreach (var (card, place) in own.OrderBy(c => c.At).Select((c, i) => (c, i + 1)))
            {
                (card.Batch, card.Sequence) = (batch, place);
                rows.Append(Row(card));
            }

            if (own.Count > 0)
            {
                totals.Append(CultureInfo.InvariantCulture,
                    $"{terminal.Key},{batch},{ShopPlan.Text(_now)},{own.Count(c => c.Amount > 0)},"
                        + $"{plan.Text(own.Sum(c => Math.Max(c.Amount, 0)))},{own.Count(c => c.Amount < 0)},"
                        + $"{plan.Text(own.Sum(c => Math.Max(-c.Amount, 0)))}\n");
                settled.AddRange(own);
            }
        }

        if (settled.Count == 0)
        {
            return;
        }

        for (var times = Chance(0.15) ? 2 : 1; times > 0; times--)
        {
            await Brought(date, await _odile.Upload(Path(date, "take-in"),
                string.Create(CultureInfo.InvariantCulture, $"/take-in/files?day={date:yyyy-MM-dd}"), "files",
                [("batches.csv", rows.ToString()), ("batch-totals.csv", totals.ToString())]), "the batches");
        }

        Prove(date, settled);
    }

    /// <summary>All connected terminals are settled on the page; what is not answered is asked for.</summary>
    private async Task SettleOverTheWire(DateOnly date, WireProcessor wire)
    {
        wire.Held = [.. _unsettled];
        if (_unsettled.Count == 0)
        {
            return;
        }

        var path = Path(date, "settle");
        for (var tries = 0; tries < 4 && wire.Held.Count > 0; tries++)
        {
            if ((await Answered(path)).QuerySelector("form.settle-all") is not { } form)
            {
                if (wire.Held.Count == 0)
                {
                    break;
                }

                throw new DoorException($"{path} offers nothing to settle, and {wire.Held.Count} cards are held");
            }

            Refused(date, await _odile.Post(path, [.. Browser.Fields(form), ("which", "all")]), "settling");
        }

        for (var tries = 0; tries < 8 && (await _odile.Page(path)).QuerySelector("form[action*=Ask]") is not null; tries++)
        {
            await _odile.Post($"{path}?handler=Ask", [], path);
        }

        var settled = wire.Settled.ToList();
        wire.Settled.Clear();
        if (Chance(0.2))
        {
            // The processor's file comes as well: everything in it is known.
            var rows = new System.Text.StringBuilder(RowColumns);
            settled.ForEach(c => rows.Append(Row(c)));
            await Brought(date, await _odile.Upload(Path(date, "take-in"),
                string.Create(CultureInfo.InvariantCulture, $"/take-in/files?day={date:yyyy-MM-dd}"), "files",
                [("batches.csv", rows.ToString())]), "the processor's file after the wire");
        }

        Prove(date, settled);
    }

    /// <summary>The page once it waits for no terminal: until then it looks again by itself, as a person would see it.</summary>
    private async Task<AngleSharp.Dom.IDocument> Answered(string path)
    {
        const int looks = 60;
        var page = await _odile.Page(path);
        for (var look = 0; look < looks && page.QuerySelector("#settle-now")?.HasAttribute("hx-get") == true; look++)
        {
            await Task.Delay(500);
            page = await _odile.Page(path);
        }

        return page;
    }

    private const string RowColumns = "terminal,batch,seq,at,type,amount,tip,cashback,brand,card,auth,rrn,entry,benefit\n";

    private string Row(CardRow card) => string.Create(
        CultureInfo.InvariantCulture,
        $"{card.Terminal},{card.Batch},{card.Sequence},{ShopPlan.Text(card.At)},{(card.Amount < 0 ? "refund" : "sale")},"
            + $"{plan.Text(Math.Abs(card.Amount))},{plan.Text(0)},{plan.Text(0)},{card.Brand},4471,{card.Approval},{card.Reference},chip,"
            + $"{(card.Tender == "ebt-food" ? "food" : "")}\n");

    private void Prove(DateOnly date, List<CardRow> settled)
    {
        _unsettled.RemoveAll(settled.Contains);
        foreach (var card in settled)
        {
            var cell = _real.Cell(date, card.Register, null, card.Tender);
            cell.Proof = (cell.Proof ?? 0) + card.Amount;
        }

        Fund(date, settled);
    }

    /// <summary>Each processor will pay for what was settled; a customer disputes a sale now and then.</summary>
    private void Fund(DateOnly date, List<CardRow> settled)
    {
        foreach (var own in settled.GroupBy(c => c.Processor))
        {
            var (gross, isCards) = (own.Sum(c => c.Amount), own.Key == "cards");
            var fee = isCards
                ? own.GroupBy(c => c.Brand).Sum(g => (long)Math.Round(g.Sum(c => Math.Max(c.Amount, 0)) * plan.CardFee,
                    MidpointRounding.AwayFromZero))
                : 0;
            if (gross == 0 && fee == 0)
            {
                continue; // a sale and its refund: the processor writes nothing over nothing
            }

            _real.Owed[(own.Key, date)] = (gross, fee);
            var (on, net, reference) = (HouseBank.Later(date, (isCards ? 2 : 1) + (Chance(0.1) ? 1 : 0)), gross - fee,
                isCards ? ShopPlan.Cards : ShopPlan.Benefits);
            var part = net > 100 * plan.Unit && gross > 0 ? net * 2 / 5 : 0;
            var days = _random.Next(8) switch { 0 => 1, 1 => 0, _ => -1 };
            if (part > 0 && days >= 0)
            {
                // Two lines for one day, on the same date or on two.
                _bank.Will(new(null, on, part, $"{reference} SETTLEMENT A", IsLast: false, Pays: (own.Key, date)));
                _bank.Will(new(null, HouseBank.Later(on, days), net - part, $"{reference} SETTLEMENT B", Pays: (own.Key, date)));
            }
            else
            {
                _bank.Will(new(null, on, net, $"{reference} SETTLEMENT", Pays: (own.Key, date)));
            }
        }

        if (settled.FirstOrDefault(c => c.Tender == "credit" && c.Amount > 0) is { } disputed && Chance(0.04))
        {
            _bank.Will(new(null, HouseBank.Later(date, _random.Next(4, 9)), -disputed.Amount,
                $"{ShopPlan.Cards} CHARGEBACK {disputed.Approval}"));
        }
    }
}
