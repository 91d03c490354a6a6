using System.Net.Mail;
using System.Text;
using Fondo.Web.Hosting;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Fondo.Web.Pages.StandIns;

/// <summary>What lies in the stand-in mailbox.</summary>
[Authorize(Policies.Read)]
public sealed class MailboxModel(RunOptions options) : PageModel
{
    private const int Most = 50;

    public IReadOnlyList<(string Name, string Text)> Messages { get; private set; } = [];

    public void OnGet() => Messages = !Directory.Exists(options.Mailbox) ? [] :
        [.. new DirectoryInfo(options.Mailbox).GetFiles("*.eml").OrderByDescending(f => f.LastWriteTimeUtc).Take(Most).Select(f => Read(System.IO.File.ReadAllText(f.FullName)))];

    private static (string Name, string Text) Read(string message)
    {
        var parts = message.Split("\r\n\r\n", 2);
        string Header(string name) => parts[0].Split("\r\n").FirstOrDefault(l => l.StartsWith(name + ": ", StringComparison.OrdinalIgnoreCase))?[(name.Length + 2)..] ?? "";
        var body = parts.Length > 1 ? parts[1] : "";
        if (Header("Content-Transfer-Encoding") == "base64")
        {
            body = Encoding.UTF8.GetString(Convert.FromBase64String(body));
        }
        else if (Header("Content-Transfer-Encoding") == "quoted-printable")
        {
            body = body.Replace("=\r\n", "", StringComparison.Ordinal).Replace("=0D=0A", "\n", StringComparison.Ordinal);
        }

        using var subject = Attachment.CreateAttachmentFromString("", Header("Subject"));
        return ($"{Header("Date")}: {subject.Name}, to {Header("To")}", body);
    }
}
