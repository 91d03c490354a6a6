using Fondo.Files.Reading;
using Fondo.Files.Text;

namespace Fondo.Files.Mapping;

/// <summary>What became of one row.</summary>
public enum RowFate
{
    Taken,
    Totals,
    Voided,
    Refused,
}

/// <summary>One row of a file of another shape, and what it becomes.</summary>
/// <param name="Line">Where it stands in the file.</param>
/// <param name="Becomes">In Fondo's own shape, or why it does not.</param>
public sealed record MappedFate(int Line, RowFate Fate, string Becomes);

/// <summary>A file of another shape as files of a day.</summary>
/// <param name="Text">As batches.csv, journal.jsonl or a statement.</param>
/// <param name="Lines">For each line of the text, from the first, the line of the file that it came from.</param>
/// <param name="Days">For each line behind a header, the moment of its row.</param>
/// <param name="Rows">What became of each row, in the order of the file.</param>
/// <param name="Findings">Why the file cannot be taken; empty where it can.</param>
/// <param name="Remarks">What looks odd, and is taken all the same.</param>
public sealed record MappedFile(MappedKind Kind, string Text, IReadOnlyList<int> Lines, IReadOnlyList<DateTimeOffset> Days,
    IReadOnlyList<MappedFate> Rows, IReadOnlyList<Finding> Findings, IReadOnlyList<string> Remarks)
{
    /// <summary>The name under which it is taken in.</summary>
    public string Name => Kind switch
    {
        MappedKind.Batches => DayFiles.Rows,
        MappedKind.Journal => DayFiles.Journal,
        MappedKind.Ledger => DayFiles.Ledger,
        MappedKind.Totals => DayFiles.Totals,
        _ => "statement.csv"
    };

    /// <summary>Sales less refunds of the rows that are taken; of a statement, what it moved.</summary>
    public Money Net { get; init; }

    public int Number(RowFate fate) => Rows.Count(r => r.Fate == fate);

    /// <summary>Translates a whole file.</summary>
    public static MappedFile Of(string file, byte[] bytes, Mapping mapping, Setup setup)
    {
        var findings = new Findings();
        var source = MappedSource.Read(file, bytes, mapping, findings);
        if (findings.Any)
        {
            return new(mapping.Kind, "", [], [], [], findings.All, []);
        }

        if (source.Rows.Count == 0)
        {
            findings.Add(file, 1, null, null, "expected rows, but there are none");
            return new(mapping.Kind, "", [], [], [], findings.All, []);
        }

        if (Contradictions.Before(file, source, mapping, setup.Currency).ToList() is { Count: > 0 } contradictions)
        {
            return new(mapping.Kind, "", [], [], [], contradictions, []);
        }

        var making = new MappedMaking(file, mapping, setup, findings);
        var made = mapping.Kind switch
        {
            MappedKind.Batches => MappedBatches.Of(source, making).Proved(file, setup),
            MappedKind.Journal => MappedJournal.Of(source, making).Proved(file, setup),
            MappedKind.Ledger => MappedTables.Ledger(source, making).Proved(file, setup),
            MappedKind.Totals => MappedTables.Totals(source, making).Proved(file, setup),
            _ => MappedStatement.Of(source, making)
        };
        return made with { Findings = [.. made.Findings, .. Contradictions.After(file, source, made, making)] };
    }

    /// <summary>Why the file does not belong to a day: none of its rows is of it. Null where one is.</summary>
    public Finding? OfAnotherDay(string file, DateOnly day, Setup setup) =>
        Days.Count == 0 || Days.Any(at => Placement.ByClock(at, setup).Date == day) ? null
            : new(file, LineOf(Kind == MappedKind.Journal ? 1 : 2), null, null,
                $"none of its rows is of {day:yyyy-MM-dd}; the first is of {Placement.ByClock(Days[0], setup).Date:yyyy-MM-dd}");

    /// <summary>What the reader of the day's own files would refuse is refused here already: a preview says what taking in will
    /// do.</summary>
    private MappedFile Proved(string file, Setup setup)
    {
        var strict = Kind == MappedKind.Journal ? OfEvents(setup) : OfTable(setup);
        if (strict.Count == 0)
        {
            return this;
        }

        var told = strict.Select(f => f with { File = file, Line = LineOf(f.Line) }).ToList();
        var refused = told.GroupBy(f => f.Line).ToDictionary(g => g.Key, g => g.First().Message);
        return this with
        {
            Rows = [.. Rows.Select(r => refused.TryGetValue(r.Line, out var why) ? r with { Fate = RowFate.Refused, Becomes = why } : r)],
            Findings = [.. Findings, .. told],
        };
    }

    private IReadOnlyList<Finding> OfTable(Setup setup)
    {
        var (findings, words) = (new Findings(), new Vocabulary(setup));
        var (columns, read) = Kind switch
        {
            MappedKind.Ledger => (ProofReader.LedgerColumns, (Action<Fields>)(f => ProofReader.Ledger(f, words))),
            MappedKind.Totals => (ProofReader.TotalColumns, f => ProofReader.Total(f, words)),
            _ => (ProofReader.RowColumns, f => ProofReader.Row(f, words)),
        };
        using var stream = new MemoryStream(System.Text.Encoding.UTF8.GetBytes(Text));
        CsvFile.Read(Name, stream, columns, setup.Currency, findings, (_, fields) => read(fields));
        return findings.All;
    }

    private List<Finding> OfEvents(Setup setup)
    {
        using var stream = new MemoryStream(System.Text.Encoding.UTF8.GetBytes(Text));
        var (reader, findings) = (new EventLines(setup), new List<Finding>());
        foreach (var line in JournalLine.Of(stream))
        {
            findings.AddRange(line.Fault is { } fault
                ? [new(DayFiles.Journal, line.Line, null, null, fault)]
                : reader.Read(line.Json, line.Line).Findings);
        }

        return findings;
    }

    /// <summary>What a word of the file means as it stands, in Fondo's own; null where a person has to say.</summary>
    public static string? MeaningOf(string field, string word, Mapping mapping, Setup setup)
    {
        var isVoid = mapping.Voids.Any(v => v.Equals(word, StringComparison.OrdinalIgnoreCase));
        return field switch
        {
            MappedFields.Terminal => MappedWords.IsTerminal(word, setup) ? word : null,
            MappedFields.Register => MappedWords.RegisterOf(word, setup)?.Name,
            MappedFields.Tender or MappedFields.Type when mapping.Kind == MappedKind.Journal && MappedWords.SaysTip(word) =>
                MappedFields.Says(MappedFields.Tip),
            MappedFields.Tender => MappedWords.SaysChange(word) ? MappedFields.Says(MappedFields.Change)
                : MappedWords.TenderOf(word, setup) is { } id ? setup.NameOf(new TenderId(id))
                : null,
            MappedFields.Type => isVoid ? StatusWords.Void
                : MappedWords.SaysRefund(word) is { } isRefund ? (isRefund ? EventKind.Refund : EventKind.Sale).Written()
                : mapping.Kind == MappedKind.Journal ? MappedWords.EventOf(word)?.Written()
                : null,
            MappedFields.Benefit => MappedWords.BenefitOf(word),
            MappedFields.Status => isVoid ? StatusWords.Void : StatusWords.Of(word) switch
            {
                RowStatus.Stands => StatusWords.Approved,
                RowStatus.Voided => StatusWords.Void,
                RowStatus.Declined => StatusWords.Declined,
                _ => null
            },
            _ => word,
        };
    }

    /// <summary>A line of the text as a line of the file.</summary>
    public int LineOf(int line) => line >= 1 && line <= Lines.Count ? Lines[line - 1] : line;
}

/// <summary>What reading the fields of a mapped row needs; faults are told with the column's own name.</summary>
internal sealed class MappedMaking(string file, Mapping mapping, Setup setup, Findings findings)
{
    private readonly TimeZoneInfo _zone = TimeZoneInfo.TryFindSystemTimeZoneById(mapping.TimeZone, out var zone) ? zone : setup.TimeZone;

    public Mapping Mapping => mapping;

    public Setup Setup => setup;

    public Findings Findings => findings;

    /// <summary>Reads row by row; what becomes of a row that is not taken is added to the fates.</summary>
    /// <param name="leavesVoidsOut">Whether a voided row is none.</param>
    public IEnumerable<(MappedRow Row, T Made)> Each<T>(MappedSource source, List<MappedFate> fates, Func<MappedRow, MappedMaking, T?> read,
        bool leavesVoidsOut = false)
        where T : class
    {
        foreach (var row in source.Rows)
        {
            var before = findings.All.Count;
            if (!MayBeRead(row) || IsTooLong(row))
            {
                fates.Add(new(row.Line, RowFate.Refused, findings.All[^1].Message));
            }
            else if (row.IsTotals)
            {
                fates.Add(new(row.Line, RowFate.Totals, "a row of totals, left out"));
            }
            else if (leavesVoidsOut && row.IsVoid)
            {
                fates.Add(new(row.Line, RowFate.Voided, "voided before it settled, left out"));
            }
            else if (StatusWords.Of(row) == RowStatus.Declined)
            {
                fates.Add(new(row.Line, RowFate.Voided, "declined, left out"));
            }
            else if (StatusWords.Of(row) == RowStatus.Unknown)
            {
                Fault(row, MappedFields.Status, row[MappedFields.Status],
                    "expected approved, void or declined; set in the mapping what this word means");
                fates.Add(new(row.Line, RowFate.Refused, findings.All[^1].Message));
            }
            else if (read(row, this) is { } made && findings.All.Count == before)
            {
                yield return (row, made);
            }
            else
            {
                fates.Add(new(row.Line, RowFate.Refused,
                    findings.All.Count > before ? findings.All[before].Message : "there are more errors in this file"));
            }
        }
    }

    /// <summary>Null, and told, when any field holds a full card number: nothing of such a row is read.</summary>
    public bool MayBeRead(MappedRow row)
    {
        if (!LongNumbers.HoldsCardNumber(row, mapping))
        {
            return true;
        }

        Fault(row, "card", null, Reading.CardNumberRule.Sentence);
        return false;
    }

    private bool IsTooLong(MappedRow row)
    {
        if (row.IsTooLong)
        {
            findings.Add(file, row.Line, null, null,
                $"this row has {row.Fields.Count} fields, more than there are columns; is there a separator in an amount or a text?");
        }

        return row.IsTooLong;
    }

    public void Fault(MappedRow row, string field, string? value, string expected) =>
        findings.Add(file, row.Line, row.ColumnOf(field), value, expected);

    /// <summary>The register of a row, by its id or its name; null where the set-up has none.</summary>
    public Register? RegisterOf(MappedRow row) => MappedWords.RegisterOf(row.Word(MappedFields.Register), setup);

    public string RegisterIdOf(MappedRow row) => RegisterOf(row)?.Id.Value ?? row.Word(MappedFields.Register);

    public DateTimeOffset? At(MappedRow row)
    {
        var (date, time) = row[MappedFields.At] is { Length: > 0 } at
            ? (at, row.Places.ContainsKey(MappedFields.Date) ? "" : row[MappedFields.Time])
            : (row[MappedFields.Date], row[MappedFields.Time]);
        var (moment, expected) = MappedTime.Read(date, time, mapping.Dates, _zone);
        if (expected is not null)
        {
            Fault(row, row[MappedFields.At].Length > 0 ? MappedFields.At : MappedFields.Date, $"{date} {time}".Trim(), expected);
        }

        return moment is { } known ? TimeZoneInfo.ConvertTime(known, setup.TimeZone) : null;
    }

    /// <summary>The date, whatever its time; null, and told, where it is none.</summary>
    public DateOnly? On(MappedRow row)
    {
        var (at, expected) = MappedTime.Read(row[MappedFields.Date], "12:00", mapping.Dates, TimeZoneInfo.Utc) is { At: not null } plain
            ? plain
            : MappedTime.Read(row[MappedFields.Date], "", mapping.Dates, TimeZoneInfo.Utc);
        if (at is not null)
        {
            return DateOnly.FromDateTime(at.Value.DateTime);
        }

        Fault(row, MappedFields.Date, row[MappedFields.Date],
            expected == "expected a date and a time" ? $"expected a date written {MappedTime.Shown(mapping.Dates)}" : expected!);
        return null;
    }

    /// <summary>The amount with its sign; null, and told, where it is none; nothing where the field is empty.</summary>
    public Money? Amount(MappedRow row, string field, bool isNeeded = false)
    {
        if (row[field] is not { Length: > 0 } text)
        {
            if (isNeeded)
            {
                Fault(row, field, "", "expected an amount, but the field is empty");
                return null;
            }

            return Money.Zero;
        }

        if (MappedAmount.Read(text, mapping.DecimalMark, setup.Currency) is { } amount)
        {
            return Scaled(text, amount);
        }

        Fault(row, field, text, $"expected an amount with {(mapping.DecimalMark == '.' ? "a point" : "a comma")} before its decimals");
        return null;
    }

    /// <summary>An amount that was written without decimals, as the mapping understands it.</summary>
    public Money Scaled(string text, Money amount) =>
        mapping.Whole == WholeAmounts.Minor && !text.Contains(mapping.DecimalMark, StringComparison.Ordinal)
            ? new(amount.Minor / setup.Currency.Unit)
            : amount;

    /// <summary>How many rows are sales, and how many are refunds by their sign alone.</summary>
    public int SalesSeen { get; private set; }

    public int RefundsSeen { get; private set; }

    public int RefundsBySign { get; private set; }

    public void Seen(bool isRefund, bool isBySign)
    {
        SalesSeen += isRefund ? 0 : 1;
        RefundsSeen += isRefund ? 1 : 0;
        RefundsBySign += isRefund && isBySign ? 1 : 0;
    }

    /// <summary>Whether a row is a refund, where it says so clearly; else a sale.</summary>
    public bool IsRefund(MappedRow row, Money signed) => MappedBatches.Direction(row, signed, mapping.Signs) is { IsRefund: true };

    /// <summary>What is settled or paid of an amount beside which a part stands; null, and told, where a person has to say.</summary>
    public Money? With(MappedRow row, string field, Money amount, Money part, PartOfAmount where)
    {
        if (part.IsZero || where is PartOfAmount.Inside or PartOfAmount.OwnRow)
        {
            return amount;
        }

        if (where == PartOfAmount.Beside)
        {
            return amount + (amount.Sign < 0 ? -part.Abs() : part.Abs());
        }

        Fault(row, field, row[field], $"the amount may include the {MappedFields.Part(field)} or not; set in the mapping which it is");
        return null;
    }

    /// <summary>The last four digits of whatever is written of a card.</summary>
    public static string LastFour(string text) => new string([.. text.Where(char.IsAsciiDigit)]) is { Length: > 4 } digits
        ? digits[^4..]
        : new string([.. text.Where(char.IsAsciiDigit)]);

    /// <summary>An id made of what stands there: what an id may not have becomes a hyphen.</summary>
    public static string Id(string text) =>
        new([.. text.Trim().Take(Limits.LongestId).Select(c => char.IsLetterOrDigit(c) || c is '.' or '_' or ':' or '-' ? c : '-')]);
}
