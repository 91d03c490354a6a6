using System.Net;
using System.Net.Sockets;
using System.Text;
using Fondo.Store.Model;
using Fondo.Web.Mail;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;
using MimeKit;

namespace Fondo.Web.Tests;

/// <summary>Mail is sent when a server took it, and the audit trail says so only then.</summary>
public sealed class MailSent : InOwnShop
{
    private Task<string?> Post(string to = "pell@example.org") =>
        Shop.Ask((MailOffice office) => office.Post(to, "A receipt", "Thank you.", "receipt of L1-1"));

    private async Task<int> SentActs() => await Shop.InStore(db => db.Trail.CountAsync(t => t.Act == TrailAct.Send));

    private Task<bool> Save(MailServerForm form) =>
        Shop.Ask(async (MailOffice office) => (await office.Save(form, Shop.Tamsin)).IsDone);

    private static MailServerForm At(int port, string? user = null, string? secret = null, MailSecurity security = MailSecurity.None) =>
        new("127.0.0.1", port, security, user, secret, "store@example.org", "books@example.org", null);

    private StandInMail StandIn => Shop.Services.GetRequiredService<StandInMail>();

    private string[] Mailbox =>
        Directory.Exists(Path.Combine(Shop.Folder, "mailbox")) ? Directory.GetFiles(Path.Combine(Shop.Folder, "mailbox"), "*.eml") : [];

    [Fact]
    public async Task The_stand_in_takes_it_over_SMTP_and_the_trail_says_whose_answer()
    {
        Assert.Null(await Post());
        using var message = await MimeMessage.LoadAsync(Assert.Single(Mailbox));
        Assert.Equal(("A receipt", "pell@example.org"), (message.Subject, message.To.ToString()));
        // Each mail carries a head of the trail out of the house.
        Assert.Matches("^Thank you.\\s+The audit trail was at line [0-9]+: [0-9a-f]{64}$", message.TextBody!.Trim());
        var act = await Shop.InStore(db => db.Trail.SingleAsync(t => t.Act == TrailAct.Send));
        Assert.Contains("receipt of L1-1; 127.0.0.1 answered:", act.Says, StringComparison.Ordinal);
    }

    [Fact]
    public async Task What_is_refused_waits_and_arrives_once()
    {
        StandIn.Fault = MailFault.Refuses;
        Assert.Contains("it refused", await Post(), StringComparison.Ordinal);
        Assert.Equal((0, 0), (Mailbox.Length, await SentActs()));
        StandIn.Fault = MailFault.None;
        await Shop.Ask(async (MailOffice office) => { await office.SendWaiting(); return 0; }); // not yet its time
        Assert.Empty(Mailbox);
        StandIn.Fault = MailFault.Refuses;
        Assert.Contains("it refused", await Post(), StringComparison.Ordinal); // asked for again it is the same mail
        Assert.Equal(1, await Shop.InStore(db => db.Mails.CountAsync()));
        StandIn.Fault = MailFault.None;
        Shop.Clock.Advance(TimeSpan.FromMinutes(5));
        await Shop.Ask(async (MailOffice office) => { await office.SendWaiting(); return 0; });
        await Shop.Ask(async (MailOffice office) => { await office.SendWaiting(isAll: true); return 0; });
        Assert.Equal((1, 1), (Mailbox.Length, await SentActs()));
    }

    [Theory]
    [InlineData("")]
    [InlineData("nobody")]
    [InlineData("a@b@c d")]
    public async Task What_is_no_address_is_told_and_nothing_is_kept(string to)
    {
        Assert.Contains("Type an address", await Post(to), StringComparison.Ordinal);
        Assert.Equal(0, await Shop.InStore(db => db.Mails.CountAsync()));
    }

    [Fact]
    public async Task Without_a_server_nothing_is_said_to_be_sent()
    {
        Assert.True(await Save(new("", null, MailSecurity.StartTls, null, null, null, null, null)));
        Assert.Contains("No mail server is set up", await Post(), StringComparison.Ordinal);
        Assert.Contains("Mail is off", (await (await Shop.SignedIn("p02", "7410")).Page("/mail")).QuerySelector("h1")!.TextContent,
            StringComparison.Ordinal);
        Assert.Equal((0, 0), (Mailbox.Length, await SentActs()));
    }

    /// <summary>A server that speaks for itself, line by line; what it is sent is kept.</summary>
    private sealed class Spoken : IDisposable
    {
        private readonly TcpListener _door = new(IPAddress.Loopback, 0);
        private readonly Func<string, string?> _answer;

        /// <param name="answer">What to say to a line; null: the line breaks off.</param>
        public Spoken(Func<string, string?> answer)
        {
            _answer = answer;
            _door.Start();
            _ = Task.Run(Listen);
        }

        public int Port => ((IPEndPoint)_door.LocalEndpoint).Port;

        public List<string> Taken { get; } = [];

        public void Dispose() => _door.Dispose();

        private async Task Listen()
        {
            while (true)
            {
                using var client = await _door.AcceptTcpClientAsync();
                using var stream = client.GetStream();
                using var reader = new StreamReader(stream, Encoding.ASCII);
                await using var writer = new StreamWriter(stream, Encoding.ASCII) { NewLine = "\r\n", AutoFlush = true };
                await writer.WriteLineAsync("220 here");
                var (isData, message) = (false, new StringBuilder());
                while (await reader.ReadLineAsync() is { } line)
                {
                    if (isData && line != ".")
                    {
                        message.AppendLine(line);
                        continue;
                    }

                    if (isData)
                    {
                        Taken.Add(message.ToString());
                    }

                    if (_answer(isData ? "." : line) is not { } answer)
                    {
                        break;
                    }

                    isData = line == "DATA";
                    await writer.WriteLineAsync(answer);
                }
            }
        }
    }

    /// <summary>It took the mail and broke off before it said so: the mail goes again under the same identifier, so that a mailbox keeps
    /// one.</summary>
    [Fact]
    public async Task A_server_that_breaks_off_after_taking_it_gets_the_same_mail_again()
    {
        var isBroken = true;
        using var server =
            new Spoken(line => line switch { "DATA" => "354 go on", "." => isBroken ? null : "250 taken as 7", _ => "250 ok" });
        Assert.True(await Save(At(server.Port)));
        Assert.Contains("broke off", await Post(), StringComparison.Ordinal);
        Assert.Equal(0, await SentActs());
        isBroken = false;
        await Shop.Ask(async (MailOffice office) => { await office.SendWaiting(isAll: true); return 0; });
        Assert.Equal(2, server.Taken.Count);
        Assert.Single(server.Taken.Select(m => m.Split('\n').Single(l => l.StartsWith("Message-Id:", StringComparison.OrdinalIgnoreCase))
            .Trim()).Distinct());
        Assert.Contains("taken as 7", (await Shop.InStore(db => db.Trail.SingleAsync(t => t.Act == TrailAct.Send))).Says,
            StringComparison.Ordinal);
    }

    /// <summary>What the server took it took, also when the line breaks at the farewell.</summary>
    [Fact]
    public async Task A_line_that_breaks_after_the_answer_changes_nothing()
    {
        using var server = new Spoken(line => line switch { "DATA" => "354 go on", "QUIT" => null, _ => "250 ok" });
        Assert.True(await Save(At(server.Port)));
        Assert.Null(await Post());
        await Shop.Ask(async (MailOffice office) => { await office.SendWaiting(isAll: true); return 0; });
        Assert.Single(server.Taken);
    }

    [Fact]
    public async Task A_wrong_password_is_told_and_the_right_one_is_encrypted_at_rest()
    {
        using var server = new Spoken(line => line switch
        {
            "DATA" => "354 go on",
            _ when line.StartsWith("EHLO", StringComparison.Ordinal) => "250-here\r\n250 AUTH PLAIN",
            _ when line.StartsWith("AUTH", StringComparison.Ordinal) => line.Contains(
                Convert.ToBase64String(Encoding.ASCII.GetBytes("\0store\0open sesame")), StringComparison.Ordinal)
                ? "235 welcome"
                : "535 no",
            _ => "250 ok",
        });
        Assert.True(await Save(At(server.Port, "store", "guess")));
        Assert.Contains("does not accept the user name or password", await Post(), StringComparison.Ordinal);
        Assert.True(await Save(At(server.Port, "store", "open sesame")));
        Assert.Null(await Post());
        Assert.True(await Save(At(server.Port, "store"))); // kept as it is
        Assert.Null(await Post());
        Assert.All(await Shop.InStore(db => db.MailServers.Select(s => s.Secret).ToListAsync()),
            s => Assert.DoesNotContain("sesame", s, StringComparison.Ordinal));
        // A kept password goes to nobody else.
        Assert.True(await Save(At(server.Port, "somebody")));
        Assert.Null(await Shop.InStore(db => db.MailServers.OrderBy(s => s.Number).Select(s => s.Secret).LastAsync()));
        // STARTTLS that is not offered is told, and nothing goes in the clear.
        Assert.True(await Save(At(server.Port, "store", "open sesame", MailSecurity.StartTls)));
        var taken = server.Taken.Count;
        Assert.Contains("STARTTLS", await Post(), StringComparison.Ordinal);
        Assert.Equal(taken, server.Taken.Count);
    }

    [Fact]
    public async Task A_server_that_is_not_there_is_told()
    {
        using var free = new TcpListener(IPAddress.Loopback, 0);
        free.Start();
        var port = ((IPEndPoint)free.LocalEndpoint).Port;
        free.Stop();
        Assert.True(await Save(At(port)));
        Assert.Contains("cannot be reached", await Post(), StringComparison.Ordinal);
        Assert.Single(await Shop.Ask((MailOffice office) => office.Waiting()));
    }

    [Fact]
    public async Task A_manager_sets_it_up_on_its_page_and_nobody_else()
    {
        var tamsin = await Shop.SignedIn("p02", "7410");
        var page = await tamsin.PostForPage("/mail",
            new()
            {
                ["Form.Host"] = "mail example",
                ["Form.Port"] = "0",
                ["Form.Security"] = "StartTls",
                ["Form.Sender"] = "x",
                ["Form.CloseTo"] = "a b"
            });
        var said = string.Join(' ', page.QuerySelectorAll(".objection").Select(o => o.TextContent.Trim()).Where(t => t.Length > 0));
        foreach (var wrong in new[] { "not a server name", "A port is a number", "like fondo@example.org", "with commas between them" })
        {
            Assert.Contains(wrong, said, StringComparison.Ordinal);
        }

        Assert.Equal("mail example", page.QuerySelector("input[name='Form.Host']")!.GetAttribute("value"));
        Assert.Equal(HttpStatusCode.Redirect,
            (await tamsin.Post("/mail?handler=Test", new() { ["to"] = "owner@example.org" }, "/mail")).StatusCode);
        Assert.Single(Mailbox);
        Assert.NotEqual(HttpStatusCode.OK, (await (await Shop.SignedIn()).Get("/mail")).StatusCode);
    }
}
