using System.Collections.Immutable;
using System.Text;
using Fondo.Core.Cells;
using Fondo.Core.Closing;
using Fondo.Core.Entries;
using Fondo.Core.Reconciling;
using Fondo.Core.Sheets;
using Fondo.Files;
using Fondo.Files.Reading;

namespace Fondo.Core.Tests;

/// <summary>Small days written by hand, as the files would say them.</summary>
internal static class MadeUp
{
    public const string Setup = """
        {"fondo":1,"store":"Mossgate Market Hall","tradingDay":"2026-11-21","currency":"USD","timeZone":"America/New_York","dayEndsAt":"04:00",
         "registers":[{"id":"L1","name":"Lane 1","kind":"lane","float":"200.00"},{"id":"L2","name":"Lane 2","kind":"lane","float":"200.00"},{"id":"W1","name":"Web","kind":"online"}],
         "terminals":[{"id":"T-1","register":"L1","until":"2026-11-21T12:00:00-05:00"},{"id":"T-1","register":"L2","from":"2026-11-21T13:00:00-05:00"},{"id":"T-2","register":"L2"},{"id":"T-9","register":"W1"}],
         "people":[{"id":"p1","name":"Ansel Ruiz","role":"cashier"}],
         "policy":{"cashTolerance":"2.00","approvalAbove":"20.00"}}
        """;

    public const string RowHeader = "terminal,batch,seq,at,type,amount,tip,cashback,brand,card,auth,rrn,entry,benefit\n";

    private static int _next;

    /// <summary>The gates of a day of which only entries and excuses are said.</summary>
    public static ImmutableArray<Gate> GatesOf(Overview overview, IEnumerable<Entry> entries, IEnumerable<Excuse> excuses) =>
        Gates.Of(overview, new([.. entries], [.. excuses], [], []));

    public static string At(string time) => $"2026-11-21T{time}:00-05:00";

    public static string Event(string kind, string more, string at = "10:00", string register = "L1", string? id = null) =>
        $$"""{"id":"{{id ?? $"e{Interlocked.Increment(ref _next)}"}}","register":"{{register}}","drawer":{{(register == "W1" ? "null" : $"\"{register}-A\"")}},"cashier":"p1","at":"{{At(at)}}","kind":"{{kind}}"{{(more.Length > 0 ? "," + more : "")}}}""";

    public static string Ticket(string total, string tenders, string at = "10:00", string register = "L1", string kind = "sale",
        string? id = null) =>
        Event(kind,
            $"\"lines\":[],\"subtotal\":\"{total}\",\"discount\":\"0.00\",\"tax\":\"0.00\",\"fee\":\"0.00\",\"rounding\":\"0.00\",\"total\":\"{total}\",\"tenders\":[{tenders}]", at, register, id);

    public static string Card(string amount, string rrn, string more = "", string type = "credit", string terminal = "T-1") =>
        $$"""{"type":"{{type}}","amount":"{{amount}}","terminal":"{{terminal}}","brand":"heron","card":"1234","auth":"A{{rrn}}","rrn":"{{rrn}}"{{more}}}""";

    public static string Row(string amount, string rrn, string seq, string at = "10:00", string terminal = "T-1", string type = "sale",
        string brand = "heron", string benefit = "") =>
        $"{terminal},7,{seq},{At(at)},{type},{amount},0.00,0.00,{brand},1234,A{rrn},{rrn},chip,{benefit}\n";

    /// <summary>A row of 5.00 with the approval code A77, like its neighbours in all but its reference and its time.</summary>
    public static string Alike(int place, string at) =>
        Row("5.00", "77", $"{place + 1}", at).Replace(",77,", $",9{place},", StringComparison.Ordinal);

    public static string Counted(string cash, string drawer = "L1-A", int attempt = 1, string more = "") =>
        $$"""{"id":"k{{Interlocked.Increment(ref _next)}}","kind":"closing","drawer":"{{drawer}}","by":"p1","at":"{{At("21:00")}}","attempt":{{attempt}},"cash":{{{cash}}}{{more}}}""";

    /// <summary>Reads a day from the texts of its files.</summary>
    public static DayReading Read(IEnumerable<string> journal, string? rows = null, string? counts = null, string? setup = null,
        string? totals = null, string? ledger = null)
    {
        var builder = new DayBuilder();
        void Take(string name, string? text)
        {
            if (text is not null)
            {
                builder.Take(name, new MemoryStream(Encoding.UTF8.GetBytes(text)));
            }
        }

        Take(DayFiles.Setup, setup ?? Setup);
        Take(DayFiles.Journal, string.Join('\n', journal));
        Take(DayFiles.Rows, rows is null ? null : RowHeader + rows);
        Take(DayFiles.Totals, totals);
        Take(DayFiles.Ledger, ledger);
        Take(DayFiles.Counts, counts is null ? null : $"[{counts}]");
        return builder.Build();
    }

    public static Reconciliation Reconcile(IEnumerable<string> journal, string? rows = null, string? counts = null, string? totals = null,
        string? ledger = null)
    {
        var reading = Read(journal, rows, counts, totals: totals, ledger: ledger);
        return Reconciliation.Of(reading.Day ?? throw new InvalidOperationException(string.Join("\n", reading.Findings)));
    }

    public static Cell Cell(this Reconciliation result, string register, string tender, string? drawer = null) =>
        result.Cells.Single(c => c.Key.Register?.Value == register && c.Key.Written.Tender == tender && c.Key.Drawer?.Value == drawer);
}
