using System.Globalization;
using System.Text;
using Fondo.Core.Cash;
using Fondo.Core.Custody;
using Fondo.Files.Text;

namespace Fondo.Files.Writing;

/// <summary>A deposit as CSV: <c>deposit,bag,day,what,denomination,packs,loose,number,amount</c>; notes, coin, then checks one by
/// one.</summary>
public static class DepositCsv
{
    public static string Of(Deposit deposit, Setup setup)
    {
        var text = new StringBuilder("deposit,bag,day,what,denomination,packs,loose,number,amount\r\n");
        foreach (var row in SlipRow.Of(deposit.Pieces, setup.Denominations))
        {
            Line(row.IsNote ? "notes" : "coin", setup.Currency.Format(row.Denomination), Number(row.Packs), Number(row.Loose), "",
                setup.Currency.Format(row.Worth));
        }

        foreach (var check in deposit.Checks)
        {
            Line("check", "", "", "", check.Number, setup.Currency.Format(check.Amount));
        }

        return text.ToString();

        void Line(params string[] fields) => text.AppendJoin(',',
            new[] { deposit.Name, deposit.Bag, deposit.Day.ToString() }.Concat(fields).Select(CsvText.Shown)).Append("\r\n");
    }

    private static string Number(int number) => number.ToString(CultureInfo.InvariantCulture);
}
