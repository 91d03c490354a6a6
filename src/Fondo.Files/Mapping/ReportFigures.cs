using System.Globalization;

namespace Fondo.Files.Mapping;

/// <summary>What a printed report beside a file says that the file comes to, as a person typed it; empty where nothing was typed.</summary>
public sealed record ReportFigures(string Total, string Rows)
{
    public bool IsTyped => Total.Trim().Length + Rows.Trim().Length > 0;

    /// <summary>Why the file is not what the report says; null where it is.</summary>
    public string? Objection(MappedFile made, Currency currency)
    {
        var (total, own) = (TypedAmount.Read(Total, currency), made.Number(RowFate.Taken));
        if (total is null && Total.Trim().Length > 0)
        {
            return $"“{Total.Trim()}” is not an amount. Type the report’s total like {currency.Typed(new Money(1_284_15))}.";
        }

        int? rows = int.TryParse(Rows.Trim(), NumberStyles.None, CultureInfo.InvariantCulture, out var typed) ? typed : null;
        return rows is null && Rows.Trim().Length > 0 ? $"“{Rows.Trim()}” is not a number of rows."
            : total is { } says && says != made.Net ? $"The report says {currency.Typed(says)}. "
                + $"The {own} rows of this file come to {currency.Typed(made.Net)}."
            : rows is { } count && count != own ? $"The report says {count} rows. This file has {own}."
            : null;
    }
}
