using System.Globalization;
using System.Text.Json.Nodes;

namespace Fondo.Standins.Registers;

/// <summary>One line that is being rung.</summary>
/// <param name="Thousandths">Of a piece, or of a unit of weight.</param>
/// <param name="Rate">Tax in hundredths of a percent.</param>
public sealed record BasketLine(string Sku, string Name, int Thousandths, long Amount, int Rate, bool Eligible, string? Account)
{
    public string Quantity => Thousandths % 1000 == 0
        ? (Thousandths / 1000).ToString(CultureInfo.InvariantCulture)
        : (Thousandths / 1000m).ToString("0.000", CultureInfo.InvariantCulture);
}

/// <summary>What is being rung: lines, discount, exemption, and what of it food benefits pay. All amounts in minor units.</summary>
public sealed class Basket
{
    private readonly List<BasketLine> _lines = [];

    public IReadOnlyList<BasketLine> Lines => _lines;

    public long Discount { get; set; }

    /// <summary>Whether no tax is charged.</summary>
    public bool IsExempt { get; set; }

    /// <summary>What food benefits have paid so far.</summary>
    public long Food { get; set; }

    /// <summary>Card fees so far.</summary>
    public long Fee { get; set; }

    public string? Note { get; set; }

    /// <summary>The ticket that is given back; null for a sale, empty for a refund without one.</summary>
    public string? Refunds { get; set; }

    public bool IsRefund => Refunds is not null;

    public long Subtotal => _lines.Sum(l => l.Amount);

    public long Tax => Taxes().Sum();

    public long Total => Subtotal - Discount + Tax + Fee;

    /// <summary>Eligible for food benefits.</summary>
    public long Eligible => _lines.Zip(Shares()).Where(l => l.First.Eligible).Sum(l => l.First.Amount - l.Second);

    public bool IsEmpty => _lines.Count == 0;

    public void Add(BasketLine line) => _lines.Add(line);

    public void Remove(int place)
    {
        if (place >= 0 && place < _lines.Count)
        {
            _lines.RemoveAt(place);
        }
    }

    /// <summary>The event's part that says what was sold; on a refund everything is negative.</summary>
    public void Write(JsonObject e)
    {
        var sign = IsRefund ? -1 : 1;
        var taxes = Taxes();
        e["lines"] = new JsonArray([.. _lines.Select((l, i) => Line(l, taxes[i], sign))]);
        e["subtotal"] = Days.Write.Amount(sign * Subtotal);
        e["discount"] = Days.Write.Amount(sign * Discount);
        e["tax"] = Days.Write.Amount(sign * Tax);
        e["fee"] = Days.Write.Amount(sign * Fee);
        e["rounding"] = "0.00";
        e["total"] = Days.Write.Amount(sign * Total);
        if (!string.IsNullOrWhiteSpace(Note))
        {
            e["note"] = Note;
        }
    }

    private static JsonObject Line(BasketLine line, long tax, int sign)
    {
        var json = new JsonObject
        {
            ["sku"] = line.Sku,
            ["name"] = line.Name,
            ["qty"] = line.Quantity,
            ["amount"] = Days.Write.Amount(sign * line.Amount),
            ["tax"] = Days.Write.Amount(sign * tax),
            ["taxRate"] = (line.Rate / 10_000m).ToString("0.####", CultureInfo.InvariantCulture),
            ["ebt"] = line.Eligible,
        };
        if (line.Account is not null)
        {
            json["account"] = line.Account;
        }

        return json;
    }

    /// <summary>The discount over the lines, by largest remainder.</summary>
    private long[] Shares()
    {
        var (subtotal, shares) = (Subtotal, new long[_lines.Count]);
        if (Discount == 0 || subtotal == 0)
        {
            return shares;
        }

        var rests = new List<(long Over, int Place)>();
        for (var i = 0; i < shares.Length; i++)
        {
            shares[i] = Discount * _lines[i].Amount / subtotal;
            rests.Add((Discount * _lines[i].Amount % subtotal, i));
        }

        foreach (var (_, place) in rests.OrderByDescending(x => x.Over).ThenBy(x => x.Place).Take((int)(Discount - shares.Sum())))
        {
            shares[place]++;
        }

        return shares;
    }

    /// <summary>Tax line by line: on what the discount and food benefits leave, which pay for the highest rate first.</summary>
    private long[] Taxes()
    {
        var (shares, taxes) = (Shares(), new long[_lines.Count]);
        if (IsExempt)
        {
            return taxes;
        }

        var left = _lines.Select((l, i) => l.Amount - shares[i]).ToArray();
        var food = Food;
        foreach (var place in Enumerable.Range(0, _lines.Count).Where(i => _lines[i].Eligible).OrderByDescending(i => _lines[i].Rate)
            .ThenBy(i => i))
        {
            var paid = Math.Min(food, left[place]);
            (food, left[place]) = (food - paid, left[place] - paid);
        }

        for (var i = 0; i < taxes.Length; i++)
        {
            taxes[i] = (long)Math.Round(left[i] * _lines[i].Rate / 10_000m, MidpointRounding.AwayFromZero);
        }

        return taxes;
    }
}
