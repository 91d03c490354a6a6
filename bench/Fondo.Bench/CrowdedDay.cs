using System.Globalization;
using System.Text;
using Fondo.Core.Days;
using Fondo.Files;
using Fondo.Files.Reading;

namespace Fondo.Bench;

/// <summary>A day on which much is open at once: every drawer off by some amount, many card sales that are in no batch.</summary>
internal static class CrowdedDay
{
    private const int CashTickets = 120;

    public static Day Make(int registers, int sessions, int openItems)
    {
        var random = new Random(5);
        var (journal, rows, counts) = (new StringBuilder(),
            new StringBuilder("terminal,batch,seq,at,type,amount,tip,cashback,brand,card,auth,rrn,entry,benefit\n"), new List<string>());
        var id = 0;
        for (var r = 1; r <= registers; r++)
        {
            for (var s = 0; s < sessions; s++)
            {
                var drawer = $"L{r}-{(char)('A' + s)}";
                string Event(string kind, int minute, string more) =>
                    $$"""{"id":"L{{r}}-{{++id:000000}}","register":"L{{r}}","drawer":"{{drawer}}","cashier":"p1","at":"2026-11-21T{{8 + s:00}}:{{minute:00}}:00-05:00","kind":"{{kind}}",{{more}}}""";
                journal.AppendLine(Event("open", 0, "\"amount\":\"200.00\""));
                var cash = 200_00L;
                for (var t = 0; t < CashTickets; t++)
                {
                    var amount = random.Next(2_00, 80_00);
                    var note = (long)Math.Ceiling(amount / 20_00.0) * 20_00;
                    cash += amount;
                    journal.AppendLine(Event("sale", t % 60,
                        Ticket(amount, $$"""{"type":"cash","amount":"{{Say(note)}}","change":"{{Say(note - amount)}}"}""")));
                }

                for (var t = 0; t < openItems / sessions; t++)
                {
                    var amount = random.Next(2_00, 90_00);
                    journal.AppendLine(Event("sale", t % 60,
                        Ticket(amount,
                            $$"""{"type":"credit","amount":"{{Say(amount)}}","terminal":"T-{{r}}","card":"{{random.Next(10_000):0000}}","auth":"{{random.Next(1_000_000):000000}}"}""")));
                }

                journal.AppendLine(Event("close", 59, "\"note\":null"));
                // Off by round amounts as well as by any.
                var off = random.Next(3) switch
                {
                    0 => random.Next(-3, 4) * 20_00,
                    1 => random.Next(-4_000, 4_000),
                    _ => random.Next(-2, 3) * 10_00
                };
                var counted = cash + (off == 0 ? 13_37 : off);
                counts.Add(
                    $$"""{"id":"k{{drawer}}","kind":"closing","drawer":"{{drawer}}","by":"p1","at":"2026-11-21T20:00:00-05:00","attempt":1,"cash":{"20.00":{{counted / 20_00}},"0.01":{{counted % 20_00}} } }""");
            }

            rows.AppendLine(CultureInfo.InvariantCulture, $"T-{r},1,1,2026-11-21T07:00:00-05:00,sale,1.00,,,heron,0001,1,1,chip,");
        }

        var setup = $$"""
            {"fondo":1,"store":"Mossgate Market Hall","tradingDay":"2026-11-21","currency":"USD","timeZone":"America/New_York",
             "registers":[{{string.Join(',', Enumerable.Range(1, registers).Select(r => $$"""{"id":"L{{r}}","kind":"lane","float":"200.00"}"""))}}],
             "terminals":[{{string.Join(',', Enumerable.Range(1, registers).Select(r => $$"""{"id":"T-{{r}}","register":"L{{r}}"}"""))}}],"policy":{"cashTolerance":"2.00"} }
            """;
        var builder = new DayBuilder();
        foreach (var (name, text) in new[]
        {
            (DayFiles.Setup, setup),
            (DayFiles.Journal, journal.ToString()),
            (DayFiles.Rows, rows.ToString()),
            (DayFiles.Counts, $"[{string.Join(',', counts)}]")
        })
        {
            builder.Take(name, new MemoryStream(Encoding.UTF8.GetBytes(text)));
        }

        return builder.Build().Day ?? throw new InvalidOperationException(builder.Findings[0].ToString());
    }

    private static string Ticket(long amount, string tender) => $$"""
        "lines":[],"subtotal":"{{Say(amount)}}","tax":"0.00","total":"{{Say(amount)}}","tenders":[{{tender}}]
        """.Trim();

    private static string Say(long minor) => string.Create(CultureInfo.InvariantCulture, $"{minor / 100}.{minor % 100:00}");
}
