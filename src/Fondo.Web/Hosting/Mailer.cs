using System.Net.Mail;

namespace Fondo.Web.Hosting;

/// <summary>Sends mail into the stand-in mailbox: messages as files, in the open format of mail (RFC 5322).</summary>
public sealed class Mailer(RunOptions options)
{
    /// <summary>Null when it was sent; else why not.</summary>
    public string? Send(string? to, string subject, string text, IReadOnlyList<(string Name, byte[] Content)>? attached = null)
    {
        if (!MailAddress.TryCreate(to, out var address))
        {
            return "Type an address, like name@example.org.";
        }

        try
        {
            Directory.CreateDirectory(options.Mailbox);
            using var client = new SmtpClient { DeliveryMethod = SmtpDeliveryMethod.SpecifiedPickupDirectory, PickupDirectoryLocation = options.Mailbox };
            using var message = new MailMessage(new MailAddress("fondo@example.org", "Fondo"), address) { Subject = subject, Body = text };
            foreach (var (name, content) in attached ?? [])
            {
                message.Attachments.Add(new Attachment(new MemoryStream(content), name));
            }

            client.Send(message);
            return null;
        }
        catch (Exception e) when (e is SmtpException or IOException)
        {
            return "The mailbox does not answer; nothing was sent.";
        }
    }
}
