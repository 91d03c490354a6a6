using Fondo.Web.Hosting;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc.RazorPages;
using MimeKit;

namespace Fondo.Demo.Pages.StandIns;

/// <summary>What lies in the stand-in mailbox.</summary>
[Authorize(Policies.Read)]
public sealed class MailboxModel(RunOptions options) : PageModel
{
    private const int Most = 50;

    public IReadOnlyList<(string Name, string Text)> Messages { get; private set; } = [];

    public void OnGet() => Messages = !Directory.Exists(options.Mailbox) ? [] :
        [.. new DirectoryInfo(options.Mailbox).GetFiles("*.eml").OrderByDescending(f => f.LastWriteTimeUtc).Take(Most)
            .Select(f => Read(f.FullName))];

    private static (string Name, string Text) Read(string file)
    {
        using var message = MimeMessage.Load(file);
        return ($"{message.Date:d MMM yyyy HH:mm}: {message.Subject}, to {message.To}", message.TextBody ?? "");
    }
}
