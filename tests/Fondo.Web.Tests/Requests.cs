using System.IO.Compression;
using System.Net;
using System.Text;
using Microsoft.EntityFrameworkCore;

namespace Fondo.Web.Tests;

/// <summary>How large a request may be, where files lie while they come in, and that no card number stays anywhere.</summary>
public sealed class Requests : InOwnShop
{
    private string[] Spooled =>
        Directory.Exists(Path.Combine(Shop.Folder, "spool")) ? Directory.GetFiles(Path.Combine(Shop.Folder, "spool")) : [];

    /// <summary>A body that does not say how long it is.</summary>
    private sealed class Endless : HttpContent
    {
        private readonly long _length;

        public Endless(long length, string type) => (_length, Headers.ContentType) = (length, new(type));

        protected override async Task SerializeToStreamAsync(Stream stream, TransportContext? context)
        {
            var some = Encoding.ASCII.GetBytes(new string('a', 1 << 16));
            for (var sent = 0L; sent < _length; sent += some.Length)
            {
                await stream.WriteAsync(some);
            }
        }

        protected override bool TryComputeLength(out long computed)
        {
            computed = 0;
            return false;
        }
    }

    [Theory]
    [InlineData("/sign-in")]
    [InlineData("/pair")]
    [InlineData($"{Shop.Day}/count/L4-A")]
    public async Task A_form_of_more_than_64_KB_is_refused(string path)
    {
        var visitor = path.StartsWith(Shop.Day, StringComparison.Ordinal) ? await Shop.SignedIn() : Shop.Visit();
        var form = new Dictionary<string, string> { ["Who"] = "p01", ["Pin"] = "2580", ["more"] = new string('x', 70_000) };
        using var said = await visitor.Post(path, form);
        Assert.Equal(HttpStatusCode.RequestEntityTooLarge, said.StatusCode);
        Assert.Contains("64 KB in a form", await said.Content.ReadAsStringAsync(), StringComparison.Ordinal);
        using var endless = new Endless(64 << 20, "application/x-www-form-urlencoded");
        using var unsaid = await visitor.Client.PostAsync(path, endless);
        Assert.Equal(HttpStatusCode.RequestEntityTooLarge, unsaid.StatusCode);
    }

    [Fact]
    public async Task A_part_that_does_not_say_how_long_it_is_is_held_to_32_MB()
    {
        var key = (await Shop.Register("L1")).DefaultRequestHeaders.Authorization;
        using var register = Shop.CreateClient(new() { AllowAutoRedirect = false });
        register.DefaultRequestHeaders.Authorization = key;
        using var endless = new Endless(64 << 20, "application/jsonl");
        using var answer = await register.PostAsync("/api/registers/L1/journal", endless);
        Assert.Equal(HttpStatusCode.RequestEntityTooLarge, answer.StatusCode);
        Assert.Contains("larger than 32 MB", await answer.Content.ReadAsStringAsync(), StringComparison.Ordinal);
    }

    [Fact]
    public async Task Whoever_shows_no_key_is_told_so_first()
    {
        using var endless = new Endless(64 << 20, "application/jsonl");
        using var answer = await Shop.CreateClient(new() { AllowAutoRedirect = false }).PostAsync("/api/registers/L1/journal", endless);
        Assert.Equal(HttpStatusCode.Unauthorized, answer.StatusCode);
    }

    [Theory]
    [InlineData("p15", "1590")]
    [InlineData("p21", "9631")]
    public async Task Files_are_read_only_of_those_who_may_take_them_in(string who, string pin)
    {
        var visitor = await Shop.SignedIn(who, pin);
        using var form = new MultipartFormDataContent
        {
            { new StringContent(await visitor.Token("/pin")), "__RequestVerificationToken" },
            { new ByteArrayContent(new byte[100]), "files", "day.zip" }
        };
        using var answer = await visitor.Client.PostAsync("/take-in/files", form);
        Assert.Contains("/trouble", answer.Headers.Location!.ToString(), StringComparison.Ordinal);
        Assert.Empty(Spooled);
    }

    [Fact]
    public async Task Files_without_the_pages_token_are_not_read()
    {
        var visitor = await Shop.SignedIn();
        using var form = new MultipartFormDataContent { { new ByteArrayContent(new byte[100]), "files", "day.zip" } };
        using var answer = await visitor.Client.PostAsync("/take-in/files", form);
        Assert.Equal(HttpStatusCode.BadRequest, answer.StatusCode);
        Assert.Empty(Spooled);
    }

    [Fact]
    public async Task Nothing_of_an_upload_stays_in_the_spool_whatever_became_of_it()
    {
        var visitor = await Shop.SignedIn();
        Assert.Contains("already imported", (await visitor.Upload($"{Shop.Day}/take-in", ("day.zip", Shop.Made.ToZip()))).Body!.TextContent,
            StringComparison.Ordinal);
        Assert.Empty(Spooled);
        await visitor.Upload($"{Shop.Day}/take-in", ("counts.json", "[{"u8.ToArray()));
        Assert.Empty(Spooled);
        var page = await visitor.Upload($"{Shop.Day}/take-in",
            ("journal.jsonl", Encoding.UTF8.GetBytes("\n{\"id\":\"L1-900001\",\"note\":\"4000 0000 0000 0002 12/26\"}")));
        Assert.Contains("journal.jsonl:2: this line contains a full card number", page.QuerySelector("main")!.TextContent,
            StringComparison.Ordinal);
        Assert.Empty(Spooled);
    }

    [Fact]
    public async Task Unpacked_sizes_count()
    {
        using var zipped = new MemoryStream();
        using (var zip = new ZipArchive(zipped, ZipArchiveMode.Create, leaveOpen: true))
        {
            await using var blanks = zip.CreateEntry("counts.json").Open();
            for (var i = 0; i < 70; i++)
            {
                await blanks.WriteAsync(Encoding.ASCII.GetBytes(new string(' ', 1 << 20)), TestContext.Current.CancellationToken);
            }
        }

        var before = GC.GetTotalAllocatedBytes();
        var page = await (await Shop.SignedIn()).Upload($"{Shop.Day}/take-in", ("day.zip", zipped.ToArray()));
        Assert.Contains("larger than 64 MB", page.Body!.TextContent, StringComparison.Ordinal);
        Assert.InRange(GC.GetTotalAllocatedBytes() - before, 0, 400L << 20);
    }

    private const string Card = "4000 0000 0000 0002 12/26";

    [Theory]
    [InlineData($"{Shop.Day}/cell/L2/L2-A/cash?handler=Entry", "Reason")]
    [InlineData($"{Shop.Day}/count/L4-A", "check-number")]
    [InlineData($"{Shop.Day}/count/L4-A?handler=Draft", "check-number")]
    [InlineData("/people", "Name")]
    [InlineData("/pair", "Name")]
    [InlineData($"{Shop.Day}/cell/L2/L2-A/cash?handler=Entry", "Evidence")]
    public async Task No_form_keeps_or_gives_back_a_card_number(string path, string field)
    {
        var visitor = await Shop.SignedIn();
        var form = new Dictionary<string, string>
        {
            ["Id"] = Guid.NewGuid().ToString(),
            ["form"] = Guid.NewGuid().ToString(),
            ["attempt"] = "1",
            ["Kind"] = "Record",
            ["Amount"] = "1.00",
            ["Reason"] = "seen",
            ["check-number"] = "1",
            ["check-amount"] = "2.00",
            ["PersonId"] = "p55",
            ["Name"] = "Dara Petrov",
            ["Role"] = "Cashier",
            ["Pin"] = "826419",
            ["Code"] = "1",
        };
        form[field] = Card;
        using var answer = await visitor.Post(path, form);
        Assert.NotEqual(HttpStatusCode.Redirect, answer.StatusCode);
        if (field is "Reason" or "Evidence")
        {
            Assert.DoesNotContain("4000 0000", await answer.Content.ReadAsStringAsync(), StringComparison.Ordinal);
        }

        await AssertNowhere();
    }

    [Fact]
    public async Task A_search_for_a_card_number_says_so_and_does_not_give_it_back()
    {
        var page = await (await Shop.SignedIn()).Page($"/find?q={Uri.EscapeDataString(Card)}");
        Assert.Contains("Fondo never stores full card numbers", page.Body!.TextContent, StringComparison.Ordinal);
        Assert.DoesNotContain("4000 0000", page.DocumentElement.OuterHtml, StringComparison.Ordinal);
    }

    [Fact]
    public async Task The_stand_ins_answer_only_on_the_machine_itself()
    {
        foreach (var path in new[] { "/stand-ins/terminals/T-01/running", "/stand-ins/mailbox", "/stand-ins/registers/L1" })
        {
            using var far = await Shop.Visit("10.0.0.7").Get(path);
            Assert.Equal(HttpStatusCode.NotFound, far.StatusCode);
        }

        using var nobody = await Shop.Visit().Get("/stand-ins/mailbox");
        Assert.Equal(HttpStatusCode.Redirect, nobody.StatusCode);
        using var empty = new Shop { IsEmpty = true };
        using var real = await empty.Visit().Get("/stand-ins/terminals/T-01/running");
        Assert.Equal(HttpStatusCode.NotFound, real.StatusCode);
    }

    private async Task AssertNowhere()
    {
        await Shop.InStore(db => db.Database.ExecuteSqlRawAsync("PRAGMA wal_checkpoint(TRUNCATE)"));
        foreach (var file in Directory.GetFiles(Shop.Folder, "*", SearchOption.AllDirectories)
            .Where(f => !f.EndsWith(".lock", StringComparison.Ordinal)))
        {
            var text = Encoding.Latin1.GetString(await File.ReadAllBytesAsync(file, TestContext.Current.CancellationToken));
            Assert.False(text.Contains("4000 0000 0000 0002", StringComparison.Ordinal)
                || text.Contains("4000000000000002", StringComparison.Ordinal), file);
        }
    }
}
