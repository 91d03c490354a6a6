using System.Diagnostics;
using System.Globalization;
using System.Text;

namespace Fondo.Bench;

/// <summary>How long a statement of a year takes to the answer, and the pages after it, against the board before it.</summary>
internal static class BankBench
{
    public const int UsualLines = 14_000;

    private const string Bank = "/2026-11-21/bank", Board = "/2026-11-21/board";

    public static async Task<int> Run(TextWriter to, int lines)
    {
        var folder = Directory.CreateTempSubdirectory("fondo-bench-");
        try
        {
            await using var factory = new BenchShop(folder.FullName);
            factory.UseKestrel(0);
            factory.StartServer();
            using var client = new HttpClient(new HttpClientHandler { AllowAutoRedirect = false })
            {
                BaseAddress = factory.ClientOptions.BaseAddress,
                Timeout = TimeSpan.FromMinutes(5)
            };
            await BenchShop.SignIn(client);
            await client.GetStringAsync(Board);
            var alone = await Seconds(() => client.GetStringAsync(Board));
            var token = BenchShop.TokenOf(await client.GetStringAsync(Bank));
            using var form = new MultipartFormDataContent { { new StringContent(token), "__RequestVerificationToken" } };
            form.Add(new ByteArrayContent(Encoding.UTF8.GetBytes(Statement(lines))), "statement", "statement.csv");
            var imported = await Seconds(async () =>
            {
                using var answer = await client.PostAsync(Bank, form);
                return answer.StatusCode == System.Net.HttpStatusCode.Redirect
                    ? ""
                    : throw new InvalidOperationException("The statement was refused.");
            });
            var (board, again, page) = (await Seconds(() => client.GetStringAsync(Board)),
                await Seconds(() => client.GetStringAsync(Board)), await Seconds(() => client.GetStringAsync(Bank)));
            to.WriteLine(string.Create(CultureInfo.InvariantCulture,
                $"a statement of {lines:N0} lines: {imported:0.0} s to the answer, the board after it {board:0.0} s and then {again:0.00} "
                    + $"s, the bank’s page {page:0.0} s (the board before it {alone:0.000} s; import by line "
                    + $"{imported / lines * 1000:0.00} ms)"));
            return 0;
        }
        finally
        {
            folder.Delete(recursive: true);
        }
    }

    private static string Statement(int lines)
    {
        var closing = Enumerable.Range(1, lines).Sum(Amount);
        var head = string.Create(CultureInfo.InvariantCulture, $"A,4471,USD,2026-11-21,2026-11-21,0.00,{closing:0.00}");
        var text = new StringBuilder("statement,account,currency,from,to,opening,closing,booked,amount,reference,text,items\n");
        for (var n = 1; n <= lines; n++)
        {
            text.Append(CultureInfo.InvariantCulture, $"{head},2026-11-21,{Amount(n):0.00},R-{n},LINE {n} OF MANY,\n");
        }

        return text.ToString();
    }

    private static decimal Amount(int n) => n % 3 == 0 ? -1.25m : 2.5m;

    private static async Task<double> Seconds(Func<Task<string>> work)
    {
        var clock = Stopwatch.StartNew();
        await work();
        return clock.Elapsed.TotalSeconds;
    }
}
