using System.Net.Sockets;
using System.Security.Cryptography;
using Fondo.Core.SetUp;
using Fondo.Store;
using Fondo.Store.Model;
using Fondo.Store.Trails;
using MailKit;
using MailKit.Net.Smtp;
using MailKit.Security;
using Microsoft.AspNetCore.DataProtection;
using Microsoft.EntityFrameworkCore;
using MimeKit;

namespace Fondo.Web.Mail;

/// <summary>What a person types to set the mail server up.</summary>
/// <param name="Secret">The password; null: the one that is kept.</param>
public sealed record MailServerForm(string? Host, int? Port, MailSecurity Security, string? User, string? Secret, string? Sender,
    string? CloseTo, string? ReceiptTo);

/// <summary>The mail server in use.</summary>
/// <param name="ReceiptTo">Who gets a copy of each receipt; empty: nobody.</param>
/// <param name="IsStandIn">Whether it is the demo's own.</param>
public sealed record MailServer(string Host, int Port, MailSecurity Security, string? User, string? Secret, string Sender, string CloseTo,
    string ReceiptTo, bool IsStandIn);

/// <summary>Something to send along.</summary>
public readonly record struct MailFile(string Name, byte[] Content);

/// <summary>Sends mail through the server of the set-up. A mail is kept before it is sent, and is sent only when the server took it; until
/// then it is tried again.</summary>
public sealed class MailOffice(StoreContext db, TrailReading trail, IDataProtectionProvider protection, HostMail host,
    TimeProvider clock)
{
    /// <summary>So long one waits for a mail server's answer.</summary>
    private static readonly TimeSpan _patience = TimeSpan.FromSeconds(15);

    private static readonly TimeSpan _longestWait = TimeSpan.FromHours(1);

    private readonly IDataProtector _secrets = protection.CreateProtector("mail server");

    /// <summary>Null where no mail server is set up.</summary>
    public async Task<MailServer?> Server() =>
        await db.MailServers.AsNoTracking().OrderByDescending(s => s.Number).FirstOrDefaultAsync() is not { } row ? host.Server
        : row.Host.Length == 0 ? null
        : new(row.Host, row.Port, row.Security, row.User, Read(row.Secret), row.Sender, row.CloseTo, row.ReceiptTo, false);

    /// <summary>Sets the server up, or with an empty host switches mail off. What is wrong, by its field; empty when nothing is.</summary>
    public async Task<Outcome> Save(MailServerForm form, Person by)
    {
        List<Objection> objections = [];
        var (host, sender, closeTo, receiptTo) =
            (form.Host?.Trim() ?? "", form.Sender?.Trim() ?? "", form.CloseTo?.Trim() ?? "", form.ReceiptTo?.Trim() ?? "");
        if (host.Length > 0)
        {
            Check("Host", host.Length <= 253 && Uri.CheckHostName(host) != UriHostNameType.Unknown,
                "This is not a server name. Type one like mail.example.org.");
            Check("Port", form.Port is > 0 and < 65_536, "A port is a number from 1 to 65535, usually 465 or 587.");
            Check("Sender", Addresses(sender) is { Count: 1 }, "Type an address like fondo@example.org.");
            Check("CloseTo", closeTo.Length == 0 || Addresses(closeTo) is not null,
                "Type addresses like books@example.org, with commas between them.");
            Check("ReceiptTo", receiptTo.Length == 0 || Addresses(receiptTo) is not null,
                "Type addresses like desk@example.org, with commas between them.");
        }

        if (objections.Count > 0)
        {
            return Outcome.Refused(objections);
        }

        var before = await db.MailServers.AsNoTracking().OrderByDescending(s => s.Number).FirstOrDefaultAsync();
        var user = string.IsNullOrWhiteSpace(form.User) ? null : form.User.Trim();
        // A kept password goes to the server and the user that it was typed for, and to no other.
        var isSame = before is not null && (before.Host, before.User) == (host, user);
        db.MailServers.Add(new()
        {
            Host = host,
            Port = form.Port ?? 0,
            Security = form.Security,
            User = user,
            Secret = user is null ? null
                : !string.IsNullOrEmpty(form.Secret) ? _secrets.Protect(form.Secret)
                : isSame ? before!.Secret
                : null,
            Sender = sender,
            CloseTo = closeTo,
            ReceiptTo = receiptTo,
            By = by.Id.Value,
            At = clock.GetUtcNow(),
        });
        await db.SaveChangesAsync();
        return Outcome.Done;

        void Check(string field, bool isRight, string otherwise)
        {
            if (!isRight)
            {
                objections.Add(new(field, otherwise));
            }
        }
    }

    /// <summary>Keeps a mail and tries to send it at once.</summary>
    /// <param name="about">What it is, as the audit trail says it.</param>
    /// <param name="copy">Who gets a copy, without being named in it; null or empty: nobody.</param>
    /// <returns>Null when the server took it; else why it has not gone out yet, or why there is none.</returns>
    public async Task<string?> Post(string? to, string subject, string text, string about, IReadOnlyList<MailFile>? files = null,
        string? copy = null)
    {
        if (await Server() is not { } server)
        {
            return "No mail server is set up. A manager can add one under Store, Mail.";
        }

        if (Addresses(to) is not { } addresses)
        {
            return "Type an address, like name@example.org.";
        }

        // The same mail that waits is tried again, and never kept twice.
        if ((await Waiting()).FirstOrDefault(w => w.Mail.To == addresses.ToString() && w.Mail.About == about).Mail is { } waiting)
        {
            return await Try(waiting, server) is { IsSent: false } again ? Unsent(again) : null;
        }

        var (line, head) = await trail.Last();
        var builder = new BodyBuilder { TextBody = $"{text}\n\nThe audit trail was at line {line}: {head}\n" };
        foreach (var file in files ?? [])
        {
            builder.Attachments.Add(file.Name, file.Content);
        }

        using var message = new MimeMessage([MailboxAddress.Parse(server.Sender)], addresses, subject, builder.ToMessageBody())
        {
            Date = clock.GetUtcNow()
        };
        if (Addresses(copy) is { } copies)
        {
            message.Bcc.AddRange(copies);
        }

        using var bytes = new MemoryStream();
        await message.WriteToAsync(bytes);
        var mail = new MailRow
        {
            Id = Guid.NewGuid(),
            To = addresses.ToString(),
            About = about,
            Message = bytes.ToArray(),
            At = clock.GetUtcNow()
        };
        db.Mails.Add(mail);
        await db.SaveChangesAsync();
        return await Try(mail, server) is { IsSent: false } attempt ? Unsent(attempt) : null;
    }

    private static string Unsent(MailAttemptRow attempt) => $"The mail server did not take it ({attempt.Answer}). Fondo keeps trying.";

    /// <summary>Mails that no server took yet, with the last answer.</summary>
    public async Task<IReadOnlyList<(MailRow Mail, MailAttemptRow? Last, int Attempts)>> Waiting()
    {
        var mails = await db.Mails.AsNoTracking().Where(m => !db.MailAttempts.Any(a => a.Mail == m.Id && a.IsSent)).OrderBy(m => m.At)
            .ToListAsync();
        var ids = mails.Select(m => m.Id).ToList();
        var attempts = (await db.MailAttempts.AsNoTracking().Where(a => ids.Contains(a.Mail)).ToListAsync()).ToLookup(a => a.Mail);
        return [.. mails.Select(m => (m, attempts[m.Id].MaxBy(a => a.Number), attempts[m.Id].Count()))];
    }

    /// <summary>Tries again what waits and whose time has come.</summary>
    /// <param name="isAll">Whatever its time.</param>
    public async Task SendWaiting(bool isAll = false)
    {
        if (await Server() is not { } server)
        {
            return;
        }

        foreach (var (mail, last, attempts) in await Waiting())
        {
            var wait = TimeSpan.FromMinutes(Math.Min(Math.Pow(2, attempts), _longestWait.TotalMinutes));
            // One that was just kept is being sent by whoever kept it.
            if (isAll || (last?.At ?? mail.At) + wait <= clock.GetUtcNow())
            {
                await Try(mail, server);
            }
        }
    }

    private async Task<MailAttemptRow> Try(MailRow mail, MailServer server)
    {
        var (isSent, answer) = await Send(mail, server);
        var attempt = new MailAttemptRow
        {
            Mail = mail.Id,
            IsSent = isSent,
            Answer = answer.Length > 300 ? answer[..300] : answer,
            At = clock.GetUtcNow()
        };
        await using var writing = await db.BeginWriting();
        // Two rounds may have sent it side by side: it is said once.
        var isKnown = await db.MailAttempts.AnyAsync(a => a.Mail == mail.Id && a.IsSent);
        db.MailAttempts.Add(attempt);
        await db.SaveChangesAsync();
        if (isSent && !isKnown)
        {
            await db.Note(new Act(TrailAct.Send, null, mail.To, $"{mail.About}; {server.Host} answered: {attempt.Answer}"));
        }

        await writing.CommitAsync();
        return attempt;
    }

    private static async Task<(bool IsSent, string Answer)> Send(MailRow mail, MailServer server)
    {
        using var patience = new CancellationTokenSource(_patience);
        using var client = new SmtpClient { Timeout = (int)_patience.TotalMilliseconds };
        var answer = "";
        var isTaken = false;
        client.MessageSent += (_, e) => (isTaken, answer) = (true, e.Response);
        try
        {
            using var message = await MimeMessage.LoadAsync(new MemoryStream(mail.Message), patience.Token);
            await client.ConnectAsync(server.Host, server.Port, OptionsOf(server.Security), patience.Token);
            if (server.User is { } user)
            {
                await client.AuthenticateAsync(user, server.Secret ?? "", patience.Token);
            }

            await client.SendAsync(message, patience.Token);
            await client.DisconnectAsync(true, patience.Token);
            return (true, answer);
        }
        catch (Exception e) when (e is SmtpCommandException or SmtpProtocolException or AuthenticationException or SslHandshakeException
            or ServiceNotConnectedException or NotSupportedException or IOException or SocketException or OperationCanceledException)
        {
            // What it took it took, however the line ended.
            return isTaken ? (true, answer) : (false, Says(e));
        }
    }

    /// <summary>Null where one of them is no address.</summary>
    private static InternetAddressList? Addresses(string? typed) =>
        InternetAddressList.TryParse(typed, out var list) && list.Count > 0
            && list.Mailboxes.All(m => m.Address.Contains('@', StringComparison.Ordinal)) ? list : null;

    private static SecureSocketOptions OptionsOf(MailSecurity security) =>
        security switch
        {
            MailSecurity.Tls => SecureSocketOptions.SslOnConnect,
            MailSecurity.StartTls => SecureSocketOptions.StartTls,
            _ => SecureSocketOptions.None
        };

    private static string Says(Exception e) => e switch
    {
        AuthenticationException => "it does not accept the user name or password",
        SslHandshakeException => "no secure connection: check the security and the port",
        NotSupportedException => "it does not offer STARTTLS: check the security and the port",
        SmtpCommandException refused => $"it refused: {refused.Message}",
        OperationCanceledException => "no answer in time",
        SocketException => "it cannot be reached",
        _ => "the connection broke off",
    };

    private string? Read(string? secret)
    {
        try
        {
            return secret is null ? null : _secrets.Unprotect(secret);
        }
        catch (CryptographicException)
        {
            return null; // the store's key is another one: it must be typed again
        }
    }
}
