using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.Filters;

namespace Fondo.Web.Hosting;

/// <summary>Ids and addresses may hold any letter; a Location header may not: there they are percent-encoded (RFC 3986).</summary>
internal sealed class AsciiRedirects : IAlwaysRunResultFilter
{
    public void OnResultExecuting(ResultExecutingContext context)
    {
        if (context.Result is RedirectResult redirect)
        {
            redirect.Url = Encoded(redirect.Url);
        }
        else if (context.Result is LocalRedirectResult local)
        {
            local.Url = Encoded(local.Url);
        }
    }

    public void OnResultExecuted(ResultExecutedContext context)
    {
    }

    private static string Encoded(string url) =>
        System.Text.Ascii.IsValid(url)
            ? url
            : string.Concat(url.EnumerateRunes().Select(r => r.IsAscii ? r.ToString() : Uri.EscapeDataString(r.ToString())));
}
