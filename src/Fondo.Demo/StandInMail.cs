using System.Buffers;
using System.Net;
using System.Net.Sockets;
using Fondo.Store.Model;
using Fondo.Web.Hosting;
using Fondo.Web.Mail;
using MimeKit;
using SmtpServer;
using SmtpServer.Protocol;
using SmtpServer.Storage;

namespace Fondo.Demo;

/// <summary>What the stand-in mail server does wrong.</summary>
public enum MailFault
{
    None,
    Refuses,
    Slow,
}

/// <summary>The demo's mail server: takes mail over SMTP on this machine and lays each message, once, into the mailbox folder.</summary>
public sealed class StandInMail : IHostedService, IDisposable
{
    private readonly RunOptions _options;
    private readonly HostMail _mail;
    private readonly CancellationTokenSource _ends = new();
    private SmtpServer.SmtpServer? _server;
    private bool _isDisposed;

    public StandInMail(RunOptions options, HostMail mail) => (_options, _mail) = (options, mail);

    public MailFault Fault { get; set; }

    public Task StartAsync(CancellationToken cancellationToken)
    {
        if (!_options.IsDemo)
        {
            return Task.CompletedTask;
        }

        using var free = new TcpListener(IPAddress.Loopback, 0);
        free.Start();
        var port = ((IPEndPoint)free.LocalEndpoint).Port;
        free.Stop();
        var services = new SmtpServer.ComponentModel.ServiceProvider();
        services.Add(new Box(this));
        _server = new(new SmtpServerOptionsBuilder().ServerName("stand-in")
            .Endpoint(e => e.Endpoint(new IPEndPoint(IPAddress.Loopback, port)).AllowUnsecureAuthentication()).Build(), services);
        _ = _server.StartAsync(_ends.Token);
        _mail.Server = new("127.0.0.1", port, MailSecurity.None, null, null, "fondo@example.org", "books@example.org", "", true);
        return Task.CompletedTask;
    }

    public async Task StopAsync(CancellationToken cancellationToken)
    {
        if (!_isDisposed)
        {
            await _ends.CancelAsync();
        }
    }

    public void Dispose()
    {
        _isDisposed = true;
        _ends.Dispose();
    }

    private sealed class Box(StandInMail own) : MessageStore
    {
        public override async Task<SmtpResponse> SaveAsync(ISessionContext context, IMessageTransaction transaction,
            ReadOnlySequence<byte> buffer, CancellationToken cancellationToken)
        {
            if (own.Fault == MailFault.Refuses)
            {
                return SmtpResponse.MailboxUnavailable;
            }

            if (own.Fault == MailFault.Slow)
            {
                await Task.Delay(TimeSpan.FromSeconds(30), cancellationToken);
            }

            var bytes = buffer.ToArray();
            using var message = await MimeMessage.LoadAsync(new MemoryStream(bytes), cancellationToken);
            Directory.CreateDirectory(own._options.Mailbox);
            // Sent twice it is one: its identifier names the file.
            var name =
                string.Concat((message.MessageId ?? Guid.NewGuid().ToString()).Where(c => char.IsAsciiLetterOrDigit(c) || c is '.' or '-'));
            await File.WriteAllBytesAsync(Path.Combine(own._options.Mailbox, $"{name}.eml"), bytes, cancellationToken);
            return SmtpResponse.Ok;
        }
    }
}
