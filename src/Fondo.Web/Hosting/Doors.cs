using System.Threading.RateLimiting;
using Fondo.Store.Trails;
using Microsoft.AspNetCore.Authentication;
using Microsoft.AspNetCore.Authentication.Cookies;

namespace Fondo.Web.Hosting;

/// <summary>How one comes in: the cookie, or the key of a register; the way to the sign-in page and back, and how often one may
/// knock.</summary>
internal static class Doors
{
    /// <summary>Whoever tries PINs or codes from one address may do so this often a minute.</summary>
    public const string Knocking = "knocking";

    private const int MostKnocks = 60;

    public static void AddDoors(this IServiceCollection services, RunOptions options)
    {
        services.AddSingleton<SessionsOnFullDisk>().AddSingleton<PersonSessions>();
        services.AddAuthentication(CookieAuthenticationDefaults.AuthenticationScheme).AddCookie()
            .AddScheme<AuthenticationSchemeOptions, KeyAuthentication>(KeyAuthentication.Key, null);
        services.AddOptions<CookieAuthenticationOptions>(CookieAuthenticationDefaults.AuthenticationScheme)
            .Configure<PersonSessions>((o, sessions) =>
        {
            o.LoginPath = "/sign-in";
            o.AccessDeniedPath = "/trouble";
            o.Cookie.Name = "fondo";
            o.Cookie.HttpOnly = true;
            o.Cookie.SameSite = SameSiteMode.Strict;
            o.Cookie.SecurePolicy = options.IsSecure ? CookieSecurePolicy.Always : CookieSecurePolicy.SameAsRequest;
            o.ExpireTimeSpan = PersonSessions.Longest;
            o.SlidingExpiration = false;
            o.SessionStore = sessions;
            o.Events.OnRedirectToLogin = ToSignIn;
        });
        services.AddRateLimiter(o =>
        {
            o.RejectionStatusCode = StatusCodes.Status429TooManyRequests;
            o.AddPolicy(Knocking, context => Whereabouts.IsLocal(context) || !HttpMethods.IsPost(context.Request.Method)
                ? RateLimitPartition.GetNoLimiter("")
                : RateLimitPartition.GetFixedWindowLimiter(context.RequestServices.GetRequiredService<RequestOrigin>().Address,
                    _ => new() { PermitLimit = MostKnocks, Window = TimeSpan.FromMinutes(1) }));
        });
    }

    /// <summary>A page leads to the sign-in page and from there back; what a page asks for beside itself is told that the session has
    /// ended.</summary>
    private static async Task ToSignIn(Microsoft.AspNetCore.Authentication.RedirectContext<CookieAuthenticationOptions> context)
    {
        var request = context.Request;
        if (request.Headers.ContainsKey("HX-Request") || request.Headers.ContainsKey(PersonSessions.ByItself))
        {
            context.Response.StatusCode = StatusCodes.Status401Unauthorized;
            context.Response.ContentType = "text/plain; charset=utf-8";
            await context.Response.WriteAsync("Your session has ended. What you typed is kept on this machine: sign in to go on.");
            return;
        }

        context.Response.Redirect($"/sign-in?ReturnUrl={Uri.EscapeDataString(Back(request))}");
    }

    /// <summary>The page that one was at: of a form that was sent, the page that it stood on.</summary>
    private static string Back(HttpRequest request)
    {
        if (!HttpMethods.IsPost(request.Method))
        {
            return request.Path + request.QueryString.Value;
        }

        return Uri.TryCreate(request.Headers.Referer, UriKind.Absolute, out var from) && from.Authority == request.Host.Value
            ? from.PathAndQuery
            : request.Path;
    }
}
