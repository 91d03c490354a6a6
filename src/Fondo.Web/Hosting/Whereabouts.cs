using System.Net;
using Fondo.Store.People;
using Fondo.Store.Trails;

namespace Fondo.Web.Hosting;

/// <summary>Says of each request from which machine it comes, and who is signed in there.</summary>
internal static class Whereabouts
{
    /// <summary>The cookie by which a machine that was paired is known again.</summary>
    public const string MachineCookie = "fondo-machine";

    /// <summary>From the machine on which Fondo runs, without a proxy between.</summary>
    public static bool IsLocal(HttpContext context) =>
        (context.Connection.RemoteIpAddress is not { } address || IPAddress.IsLoopback(address))
            && !context.Request.Headers.ContainsKey("X-Forwarded-For") && !context.Request.Headers.ContainsKey("Forwarded");

    /// <summary>Before anybody is known: the machine.</summary>
    public static void UseMachines(this IApplicationBuilder app) => app.Use(async (context, next) =>
    {
        var here = context.RequestServices.GetRequiredService<RequestOrigin>();
        here.Address = IsLocal(context) ? RequestOrigin.Itself : context.Connection.RemoteIpAddress?.ToString() ?? "?";
        var machine = context.Request.Cookies[MachineCookie] is { } secret
            ? await context.RequestServices.GetRequiredService<Machines>().Find(secret)
            : null;
        here.Machine = machine?.Name ?? (IsLocal(context) ? "this machine" : here.Address);
        here.IsPaired = machine is not null || IsLocal(context);
        here.IsPerson = !context.Request.Path.StartsWithSegments("/api");
        await next(context);
    });

    /// <summary>Once it is known: the person. Whoever has a PIN from somebody else chooses their own before anything.</summary>
    public static void UsePersons(this IApplicationBuilder app) => app.Use(async (context, next) =>
    {
        if (context.User.Identity?.IsAuthenticated == true)
        {
            context.RequestServices.GetRequiredService<RequestOrigin>().By = Me.From(context.User).Id.Value;
            if (context.User.HasClaim(c => c.Type == Me.MustChoosePinClaim)
                && context.GetEndpoint()?.Metadata.GetMetadata<Microsoft.AspNetCore.Authorization.IAllowAnonymous>() is null
                && context.Request.Path.Value is not ("/pin" or "/sign-out"))
            {
                context.Response.Redirect("/pin");
                return;
            }
        }

        await next(context);
    });
}
