using System.Net;
using System.Text;
using Fondo.Core.Amounts;
using Fondo.Core.Checks;
using Fondo.Core.Reconciling;
using Fondo.Core.Sheets;
using Fondo.Files.Reading;
using Fondo.Standins.Registers;
using Microsoft.Extensions.Time.Testing;

namespace Fondo.Web.Tests;

/// <summary>Whatever is done at a stand-in register, Fondo expects in its drawer what lies in it.</summary>
public sealed class TheTillItself
{
    private sealed class Listener : HttpMessageHandler
    {
        public List<string> Heard { get; } = [];

        protected override async Task<HttpResponseMessage> SendAsync(HttpRequestMessage request, CancellationToken cancellationToken)
        {
            Heard.AddRange((await request.Content!.ReadAsStringAsync(cancellationToken)).Split('\n'));
            return new(HttpStatusCode.OK)
            {
                Content = new StringContent("""{"taken":1,"known":0,"aside":[],"missing":[]}""", Encoding.UTF8, "application/json")
            };
        }
    }

    private static Reconciliation Read(IEnumerable<string> journal)
    {
        const string setup =
            """{"fondo":1,"store":"Mossgate Market Hall","tradingDay":"2026-11-21","currency":"USD","timeZone":"America/New_York","registers":[{"id":"L1","kind":"lane","float":"200.00"}],"terminals":[{"id":"T-01","register":"L1"}],"people":[{"id":"p11","role":"cashier"}]}""";
        var builder = new DayBuilder();
        builder.Take("day.json", new MemoryStream(Encoding.UTF8.GetBytes(setup)));
        builder.Take("journal.jsonl", new MemoryStream(Encoding.UTF8.GetBytes(string.Join('\n', journal))));
        var reading = builder.Build();
        Assert.Empty(reading.Findings);
        return Reconciliation.Of(reading.Day!);
    }

    [Theory]
    [InlineData(1)]
    [InlineData(2)]
    [InlineData(3)]
    [InlineData(4)]
    [InlineData(5)]
    public async Task What_lies_in_the_drawer_is_what_should_be_there(int seed)
    {
        var random = new Random(seed);
        using var listener = new Listener();
        var clock = new FakeTimeProvider(new DateTimeOffset(2026, 11, 21, 14, 0, 0, TimeSpan.Zero));
        var kept = Path.GetTempFileName();
        using var line = new RegisterLink(new HttpClient(listener) { BaseAddress = new("http://fondo/") }, "L1", "key", kept);
        var till = new StandInRegister("L1", "Lane 1", "L1-A", "p11", 0,
            new CardReader("T-01", new(clock, Path.Combine(Path.GetTempPath(), $"{Guid.NewGuid():N}.json")), clock), line, clock,
            TimeSpan.FromHours(-5), isOpen: false);
        await till.Open(200_00);
        var (drawer, card) = (200_00L, 0L);
        var paidInCash = new List<(string Id, long Amount)>();
        for (var n = 0; n < 80; n++)
        {
            clock.Advance(TimeSpan.FromMinutes(random.Next(1, 5)));
            await Act(n);
        }

        var result = Read(listener.Heard);
        Assert.Equal(drawer, result.Cells.Single(c => c.Key.Written.Tender == "cash").Expected.Minor);
        Assert.Equal(drawer, Assert.Single(Overview.Of(result).Drawers).Level.Minor);
        Assert.Equal(card, result.Cells.Where(c => c.Key.Written.Tender == "debit").Sum(c => c.Expected.Minor));
        Assert.Equal((result.Cells.Where(c => c.Key.Written.Tender == "debit").Sum(c => c.ExpectedCount), card), till.Reader.Running);
        Assert.Empty(Overview.Of(result).Disagreements);
        Assert.DoesNotContain(result.TicketFindings,
            f => f.Code is FindingCode.TotalsDiffer or FindingCode.Overtender or FindingCode.RefundOverOriginal);
        File.Delete(kept);

        async Task Act(int n)
        {
            var amount = random.Next(1, 50) * 100L;
            switch (random.Next(11))
            {
                case 0:
                    await till.Drop(amount, $"B-{n}");
                    drawer -= amount;
                    break;
                case 1:
                    await till.Move("loan", amount, "");
                    drawer += amount;
                    break;
                case 2:
                    await till.Move("paid-in", amount, "found under the mat");
                    drawer += amount;
                    break;
                case 3:
                    await till.Move("paid-out", amount, "stamps");
                    drawer -= amount;
                    break;
                case 4:
                    await till.NoSale();
                    break;
                case 5 when paidInCash.Count > 0:
                    var gone = paidInCash[random.Next(paidInCash.Count)];
                    paidInCash.Remove(gone);
                    await till.Void(gone.Id);
                    drawer -= gone.Amount;
                    break;
                case 6:
                    till.Ring("M101", random.Next(1, 4));
                    var (due, back) = (till.Due, random.Next(3) * 20_00L);
                    await till.PayCard("debit", "", $"{random.Next(1000, 9999)}", due, 0, back, again: true);
                    drawer -= back;
                    card += due + back;
                    break;
                case 7 when paidInCash.Count > 0:
                    var returned = paidInCash[random.Next(paidInCash.Count)];
                    paidInCash.Remove(returned);
                    till.Refund(returned.Id);
                    Assert.Equal(returned.Amount, till.Due);
                    await till.PayCash(till.Due);
                    drawer -= returned.Amount;
                    break;
                default:
                    till.Ring(StandInRegister.Goods[random.Next(StandInRegister.Goods.Count)].Sku, random.Next(1, 4));
                    var total = till.Due;
                    await till.PayCash(total + random.Next(0, 3000));
                    drawer += total;
                    paidInCash.Add(((string)till.Tickets.First()["id"]!, total));
                    break;
            }
        }
    }
}
