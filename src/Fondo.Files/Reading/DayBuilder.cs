using Fondo.Files.Text;

namespace Fondo.Files.Reading;

/// <summary>Puts a day together from files and records, checks what only the whole can tell, and says what each record was.
/// The same record twice counts once; the same key with other contents is a finding.</summary>
public sealed class DayBuilder
{
    private const int LikelyEvent = 640, LikelyRow = 96, MostExpected = 4_000_000, WorthAThread = 50_000;

    private readonly Findings _findings = new();
    private readonly KeyedRecords<EventId, JournalEvent> _events = new(e => e.Id);
    private KeyedRecords<BatchKey, BatchRow> _rows = new(r => r.Key);
    private readonly KeyedRecords<string, BatchTotal> _totals = new(t => $"{t.Terminal}/{t.Batch}");
    private readonly KeyedRecords<string, LedgerRow> _ledger = new(l => $"{l.Tender}/{l.Sequence}");
    private readonly KeyedRecords<string, Count> _counts = new(c => c.Id);
    private readonly KeyedRecords<string, CarriedTender> _carriedTenders = new(c => c.Ticket.KeyOf(c.Place).ToString());
    private readonly KeyedRecords<string, CarriedRow> _carriedRows = new(c => c.Row.Key.ToString());
    private readonly KeyedRecords<string, CarriedHold> _carriedHolds = new(c => c.Hold.Id.Value);
    private readonly KeyedRecords<string, PrintedLine> _printed = new(p => $"{p.Terminal}/{p.At.UtcTicks}/{p.Brand}/{p.Benefit.Written()}");
    private readonly JsonText _text = new();
    private PlainSales? _sales;
    private bool _hasRows, _hasLedger;
    private Vocabulary? _words;

    private readonly List<UnreadRecord> _unread = [];
    private readonly HashSet<BatchKey> _elsewhere = [];

    /// <summary>Told of every sound record that was not known before, in its raw form.</summary>
    public Action<RawRecord>? OnNew { get; init; }

    public IReadOnlyList<Finding> Findings => _findings.All;

    /// <summary>The stored records that no longer read.</summary>
    public IReadOnlyList<UnreadRecord> Unread => _unread;

    public Setup? Setup => _words?.Setup;

    /// <summary>Reads one file of a day folder by its name; false when no such file belongs to a day.</summary>
    public bool Take(string file, Stream stream)
    {
        switch (Path.GetFileName(file))
        {
            case DayFiles.Setup:
                JsonFile.ReadDocument(file, stream, _findings, (root, place) => TakeSetup(root, place));
                return true;
            case DayFiles.Journal:
                if (_words is not null)
                {
                    _events.Expect(Expected(stream, LikelyEvent));
                    JournalFile.Read(file, stream, _words, _findings, e => Keep(e, file));
                }

                return true;
            case DayFiles.Rows:
                _hasRows = true;
                _rows.Expect(Expected(stream, LikelyRow));
                TakeRows(file, stream);
                return true;
            case DayFiles.Totals:
                TakeCsv(file, stream, ProofReader.TotalColumns, TakeTotal);
                return true;
            case DayFiles.Ledger:
                _hasLedger = true;
                TakeCsv(file, stream, ProofReader.LedgerColumns, TakeLedger);
                return true;
            case DayFiles.Printed:
                TakeCsv(file, stream, ProofReader.PrintedColumns, TakePrinted);
                return true;
            case DayFiles.Counts:
                JsonFile.ReadDocument(file, stream, _findings, (root, place) => TakeCounts(file, root, place));
                return true;
            case DayFiles.Carried:
                JsonFile.ReadDocument(file, stream, _findings, (root, place) => TakeCarried(file, root, place));
                return true;
            default:
                return false;
        }
    }

    /// <summary>About how many records a file holds, so that a long one does not make the tables grow again and again.</summary>
    private static int Expected(Stream stream, int likely) => stream.CanSeek ? (int)Math.Min(stream.Length / likely, MostExpected) : 0;

    /// <summary>A builder of the same day for its settled rows, that may be filled on another thread and is joined afterwards.</summary>
    public DayBuilder BranchForRows() => new() { _words = _words };

    /// <summary>Adds what a branch has taken. No rows were taken here.</summary>
    public void Join(DayBuilder branch)
    {
        (_rows, _hasRows) = (branch._rows, branch._hasRows);
        _findings.AddAll(branch._findings);
    }

    /// <summary>Takes a record as <see cref="OnNew"/> told it once. It was judged when it came in: here it has only to read.</summary>
    public void Take(RawRecord record)
    {
        if (_words is null && record.Kind != RecordKind.Setup)
        {
            return; // the set-up does not read, and that is told
        }

        var before = _findings.All.Count;
        Read(record);
        if (_findings.All.Count > before)
        {
            _unread.Add(new(record.Kind, record.Key, _findings.All[before].Message));
        }
    }

    /// <summary>Takes an event out again: it is kept elsewhere.</summary>
    public void Forget(EventId id) => _events.Remove(id);

    /// <summary>The events that files gave, with their file and line.</summary>
    public IEnumerable<(JournalEvent Event, string File, int Line)> FromFiles => Enumerable.Range(0, _events.Places).Where(IsFresh)
        .Select(p => (_events.At(p)!, _events.SourceOf(p).File, _events.SourceOf(p).Line));

    /// <summary>The settled rows that files gave.</summary>
    public IEnumerable<BatchRow> RowsFromFiles => Enumerable.Range(0, _rows.Places)
        .Where(p => _rows.At(p) is not null && !_rows.SourceOf(p).IsStored).Select(p => _rows.At(p)!);

    /// <summary>Says of a row that its transaction counts on another day (rules §5).</summary>
    public void CountsElsewhere(BatchKey row) => _elsewhere.Add(row);

    private void Read(RawRecord record)
    {
        var file = record.Kind.ToString();
        var bytes = JsonFile.Bytes(record.Json);
        if (record.Kind == RecordKind.Event && (_sales ??= new(_words!)).Read(bytes) is { } sale)
        {
            Keep(_events, sale, new(file, 0), RecordKind.Event, record.Json, json => json);
            return;
        }

        var (root, place) = (_text.Root, new JsonPlace(file, _findings));
        if (JsonFile.TryParse(bytes, 0, _text, place))
        {
            switch (record.Kind)
            {
                case RecordKind.Setup:
                    TakeSetup(root, place);
                    break;
                case RecordKind.Event:
                    if (new EventReader(place, _words!).Read(root) is { } e)
                    {
                        Keep(_events, e, new(file, 0), RecordKind.Event, record.Json, json => json);
                    }

                    break;
                case RecordKind.Row:
                    TakeRow(new(file, 0), Json(root, place, isRow: true), _ => record.Json);
                    break;
                case RecordKind.Total:
                    TakeTotal(new(file, 0), Json(root, place, isRow: true), _ => record.Json);
                    break;
                case RecordKind.Ledger:
                    TakeLedger(new(file, 0), Json(root, place, isRow: true), _ => record.Json);
                    break;
                case RecordKind.Printed:
                    TakePrinted(new(file, 0), Json(root, place, isRow: true), _ => record.Json);
                    break;
                case RecordKind.Count:
                    TakeCount(file, Json(root, place));
                    break;
                default:
                    TakeCarriedItem(file, Json(root, place));
                    break;
            }
        }

        _hasRows |= record.Kind == RecordKind.Row;
        _hasLedger |= record.Kind == RecordKind.Ledger;
    }

    /// <summary>Says that a file without a single row was taken in all the same: its proof is there, and it is nothing.</summary>
    public void Mark(bool hasRows, bool hasLedger)
    {
        _hasRows |= hasRows;
        _hasLedger |= hasLedger;
    }

    public bool HasRows => _hasRows;

    public bool HasLedger => _hasLedger;

    /// <summary>The day, when nothing was found at fault.</summary>
    public DayReading Build()
    {
        var unknown = _words is null ? Task.FromResult(new List<Finding>()) : Worth(UnknownPeople);
        if (_words is not null)
        {
            CheckReferences();
        }
        else if (!_findings.Any)
        {
            _findings.Add(DayFiles.Setup, 0, null, null, "expected this file, and it is not there");
        }

        if (_findings.Any)
        {
            return new(null, _findings.All, []);
        }

        var (all, isSplit) = (_rows.ToArray(), _elsewhere.Count > 0);
        var (rows, again) = SettledOnce.Of(isSplit ? [.. all.Where(r => !_elsewhere.Contains(r.Key))] : all, _totals.Records);
        var day = new Day(
            _words!.Setup,
            _events.ToArray(),
            _hasRows ? rows : null,
            _totals.ToArray(),
            _hasLedger ? _ledger.ToArray() : null,
            _counts.ToArray(),
            new(_carriedTenders.ToArray(), _carriedRows.ToArray()) { Holds = _carriedHolds.ToArray() })
        {
            Printed = _printed.ToArray(),
            RowsAgain = isSplit ? [.. again, .. all.Where(r => _elsewhere.Contains(r.Key)).OrderBy(r => r.Key)] : again,
        };
        return new(day, [], unknown.GetAwaiter().GetResult());
    }

    /// <summary>Beside the other checks, where there is so much that another thread is worth it.</summary>
    private Task<List<Finding>> Worth(Func<List<Finding>> look) => _events.Count > WorthAThread ? Task.Run(look) : Task.FromResult(look());

    private void TakeSetup(JsonValue root, JsonPlace place)
    {
        if (SetupReader.Read(root, place, _findings) is not { } setup)
        {
            return;
        }

        if (_words is null)
        {
            _words = new(setup);
            OnNew?.Invoke(new(RecordKind.Setup, setup.TradingDay.ToString(), Utf8(root.Raw), File: place.File, Line: 1));
        }
    }

    private JsonFields Json(JsonValue root, JsonPlace place, bool isRow = false) =>
        new(root, place, _words?.Setup.Currency ?? Currency.Of("USD"), isRow: isRow);

    private void Keep(ReadEvent e, string file) => Keep(_events, e.Event, new(file, e.Line), RecordKind.Event, e, read => Utf8(read.Raw));

    private void TakeRow(Source at, Fields fields, Func<Fields, string> raw)
    {
        var row = ProofReader.Row(fields, _words!);
        if (!fields.Faulty)
        {
            if (at.IsStored && fields.OptionalText(RawRecord.CountsOn) is not null)
            {
                CountsElsewhere(row.Key);
            }

            Keep(_rows, row, at, RecordKind.Row, fields, raw);
        }
    }

    private void TakeTotal(Source at, Fields fields, Func<Fields, string> raw)
    {
        var total = ProofReader.Total(fields, _words!);
        if (!fields.Faulty)
        {
            Keep(_totals, total, at, RecordKind.Total, fields, raw);
        }
    }

    private void TakePrinted(Source at, Fields fields, Func<Fields, string> raw)
    {
        var line = ProofReader.Printed(fields, _words!);
        if (!fields.Faulty)
        {
            Keep(_printed, line, at, RecordKind.Printed, fields, raw);
        }
    }

    private void TakeLedger(Source at, Fields fields, Func<Fields, string> raw)
    {
        var row = ProofReader.Ledger(fields, _words!);
        if (!fields.Faulty)
        {
            Keep(_ledger, row, at, RecordKind.Ledger, fields, raw);
        }
    }

    /// <summary>The plain beginning of a file is read the quick way, where nobody asks for its raw records; the rest, if there is one, the
    /// strict way.</summary>
    private void TakeRows(string file, Stream stream)
    {
        if (_words is null || OnNew is not null || !stream.CanSeek)
        {
            TakeCsv(file, stream, ProofReader.RowColumns, TakeRow);
            return;
        }

        if (PlainRows.Read(stream, _words, (line, row) => Keep(_rows, row, new(file, line), RecordKind.Row, row, _ => "")) is not { } rest)
        {
            return;
        }

        stream.Position = rest.Byte;
        using var both = new FollowedBy(rest.Header, stream);
        TakeCsv(file, both, ProofReader.RowColumns, TakeRow, Math.Max(1, rest.Line - 1));
    }

    /// <param name="firstLine">The number of the header's line, for faults.</param>
    private void TakeCsv(string file, Stream stream, string[] columns, Action<Source, Fields, Func<Fields, string>> take, int firstLine = 1)
    {
        if (_words is not null)
        {
            CsvFile.Read(file, stream, columns, _words.Setup.Currency, _findings, (line, fields) => take(new(file, line), fields, AsJson),
                firstLine);
        }

        static string AsJson(Fields fields) => ((CsvFields)fields).ToJson();
    }

    private void TakeCounts(string file, JsonValue root, JsonPlace place)
    {
        if (_words is null)
        {
            return;
        }

        if (!root.IsArray)
        {
            place.Report(root, DayFiles.Counts, null, "expected a list of counts");
            return;
        }

        foreach (var element in root.Elements().Where(place.IsObject))
        {
            TakeCount(file, Json(element, place));
        }
    }

    private void TakeCount(string file, JsonFields fields)
    {
        var count = ProofReader.Count(fields, _words!);
        if (!fields.Faulty)
        {
            Keep(_counts, count, new(file, fields.Line), RecordKind.Count, fields, f => Utf8(f.Raw));
        }
    }

    private void TakeCarried(string file, JsonValue root, JsonPlace place)
    {
        if (_words is null || !place.IsObject(root))
        {
            return;
        }

        var fields = Json(root, place);
        foreach (var item in fields.Objects("journal").Concat(fields.Objects("batch")).Concat(fields.Objects("holds")))
        {
            TakeCarriedItem(file, item);
        }
    }

    private void TakeCarriedItem(string file, JsonFields fields)
    {
        if (!TradingDay.TryParse(fields.Text("day"), out var day))
        {
            fields.Fault("day", fields.OptionalText("day"), "expected a date, like 2026-11-20");
        }

        var source = new Source(file, fields.Line);
        var (owned, rightUntil) = (Owned(fields), fields.OptionalTime("rightUntil"));
        if (fields.Object("event") is { } inner)
        {
            var read = new EventReader(fields.Place, _words!).Read(inner);
            var place = fields.Integer("tender", 1, 1000);
            if (read is Hold hold && !inner.Faulty && !fields.Faulty)
            {
                Keep(_carriedHolds, new(day, hold, owned), source, RecordKind.Carried, fields, f => Utf8(f.Raw));
            }
            else if (read is not Ticket ticket || inner.Faulty || fields.Faulty)
            {
                if (!inner.Faulty && !fields.Faulty)
                {
                    fields.Fault("event", null, "expected a sale, a refund or a hold");
                }
            }
            else if (place < 1 || place > ticket.Tenders.Length)
            {
                fields.Fault("tender", place.ToString(System.Globalization.CultureInfo.InvariantCulture),
                    $"expected a place from 1 to {ticket.Tenders.Length}");
            }
            else
            {
                Keep(_carriedTenders, new(day, ticket, place, owned) { RightUntil = rightUntil }, source, RecordKind.Carried, fields,
                    f => Utf8(f.Raw));
            }
        }
        else if (fields.Object("row", isRow: true) is { } row)
        {
            var read = ProofReader.Row(row, _words!);
            if (!row.Faulty && !fields.Faulty)
            {
                Keep(_carriedRows, new(day, read, owned) { RightUntil = rightUntil }, source, RecordKind.Carried, fields, f => Utf8(f.Raw));
            }
        }
        else if (!fields.Faulty)
        {
            fields.Fault("event", null, "expected an event or a row");
        }
    }

    /// <summary>Whose a carried item is; both are there, or neither.</summary>
    private static Ownership? Owned(JsonFields fields)
    {
        var (owner, until) = (fields.OptionalId("owner"), fields.OptionalTime("until"));
        if (owner is null != until is null)
        {
            fields.Fault(owner is null ? "owner" : "until", null, "expected an owner and a time together, or neither");
        }

        return owner is { } person && until is { } deadline ? new(new(person), deadline) : null;
    }

    private void Keep<TKey, T, TSource>(KeyedRecords<TKey, T> known, T record, Source at, RecordKind kind, TSource source,
        Func<TSource, string> raw)
        where TKey : notnull
        where T : class
    {
        if (known.TryAdd(record, at, out var place))
        {
            OnNew?.Invoke(new(kind, known.KeyOf(record).ToString()!, raw(source), record as JournalEvent, Path.GetFileName(at.File),
                at.Line));
        }
        else if (!record.Equals(known.At(place)))
        {
            var (name, earlier) = (known.KeyOf(record), known.SourceOf(place));
            _findings.Add(at.File, at.Line, null, null, earlier.IsStored
                ? $"{name} was imported before with different contents; a person must decide which is right"
                : $"{name} is already at line {earlier.Line}, with different contents");
        }
    }

    /// <summary>Whether a file brought the event: what is stored was judged when it came.</summary>
    private bool IsFresh(int place) => _events.At(place) is not null && !_events.SourceOf(place).IsStored;

    /// <summary>Lets the judge see what files brought.</summary>
    private void CheckReferences()
    {
        var (filed, day) = (new FiledHere(_events.Records, _words!.Setup.TradingDay), _words.Setup.TradingDay);
        foreach (var (place, why) in Refused(day, filed))
        {
            var at = _events.SourceOf(place);
            _findings.Add(at.File, at.Line, null, null, why);
        }

        for (var place = 0; place < _counts.Places; place++)
        {
            if (_counts.SourceOf(place) is { IsStored: false } at && _counts.At(place)?.Drawer is { } drawer
                && filed.Drawer(day, drawer) is null)
            {
                _findings.Add(at.File, at.Line, "drawer", drawer.Value, "the journal of this day has no such drawer session");
            }
        }
    }

    /// <summary>What the judge refuses, in the order of the files. A long journal is judged on all cores: each event by itself.</summary>
    private List<(int Place, string Why)> Refused(TradingDay day, FiledHere filed)
    {
        var refused = _events.Count > WorthAThread
            ? ParallelEnumerable.Range(0, _events.Places).AsOrdered().Where(IsFresh).Select(Judged).Where(j => j.Why is not null)
            : Enumerable.Range(0, _events.Places).Where(IsFresh).Select(Judged).Where(j => j.Why is not null);
        return [.. refused.Select(j => (j.Place, JudgementText.Of(j.Why!)))];

        (int Place, JudgementReason? Why) Judged(int place) => (place, Judge.Of(_events.At(place)!, day, filed).Why);
    }

    private List<Finding> UnknownPeople()
    {
        var named = _words!.Setup.People.Select(p => p.Id).ToHashSet();
        var first = new SortedDictionary<string, Source>(StringComparer.Ordinal);
        for (var place = 0; place < _events.Places; place++)
        {
            if (_events.At(place)?.Head.Cashier is { } cashier && !named.Contains(cashier)
                && _events.SourceOf(place) is var at && (!first.TryGetValue(cashier.Value, out var known) || at.Line < known.Line))
            {
                first[cashier.Value] = at;
            }
        }

        return [.. first.Select(f => new Finding(f.Value.File, f.Value.Line, "cashier", f.Key, "the set-up names no such person"))];
    }

    private static string Utf8(ReadOnlySpan<byte> bytes) => System.Text.Encoding.UTF8.GetString(bytes);
}
