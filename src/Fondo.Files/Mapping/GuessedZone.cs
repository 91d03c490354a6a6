namespace Fondo.Files.Mapping;

/// <summary>Whose times a file has.</summary>
internal static class GuessedZone
{
    /// <summary>Nobody knows: a person says.</summary>
    public const string Asked = "", Utc = "UTC";

    /// <summary>The zone of times that say none: UTC where a column says so; asked where rows after midnight may be the evening of one
    /// trading day in UTC, or a late evening, or the next morning; else the store's.</summary>
    public static string Of(GuessedColumns columns, Setup setup)
    {
        if (new[] { MappedFields.At, MappedFields.Time, MappedFields.Date }.Any(f => columns.NameOf(f) is { } n && ColumnNames.SaysUtc(n)))
        {
            return Utc;
        }

        var order = MappingGuess.Dates(columns.Texts(MappedFields.At, MappedFields.Date));
        var rows = columns.Rows(MappedFields.At, MappedFields.Date, MappedFields.Time).ToList();
        IReadOnlyList<DateTimeOffset> Times(TimeZoneInfo zone) => [.. rows
            .Select(r => MappedTime.Read(r[0].Length > 0 ? r[0] : r[1], r[2], order, zone).At).OfType<DateTimeOffset>()
            .Select(at => TimeZoneInfo.ConvertTime(at, setup.TimeZone))];
        var (own, utc) = (Times(setup.TimeZone), Times(TimeZoneInfo.Utc));
        if (own.Count == 0 || own.SequenceEqual(utc) || own.All(at => at.Date == own[0].Date))
        {
            return setup.TimeZone.Id;
        }

        return utc.Select(at => Placement.ByClock(at, setup)).Distinct().Count() == 1 ? Asked : setup.TimeZone.Id;
    }
}
