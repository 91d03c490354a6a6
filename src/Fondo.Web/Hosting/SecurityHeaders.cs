namespace Fondo.Web.Hosting;

internal static class SecurityHeaders
{
    private const string Policy =
        "default-src 'self'; img-src 'self' data:; object-src 'none'; base-uri 'self'; form-action 'self'; frame-ancestors 'none'";

    /// <summary>Nothing inline, nothing from elsewhere; and no page of the day is kept by the browser, so that the back button asks
    /// again.</summary>
    public static void UseSecurityHeaders(this IApplicationBuilder app) =>
        app.Use(async (context, next) =>
        {
            var headers = context.Response.Headers;
            headers.ContentSecurityPolicy = Policy;
            headers.XContentTypeOptions = "nosniff";
            headers["Referrer-Policy"] = "same-origin";
            context.Response.OnStarting(() =>
            {
                if (context.Response.ContentType?.StartsWith("text/html", StringComparison.Ordinal) == true)
                {
                    headers.CacheControl = "no-store";
                }

                return Task.CompletedTask;
            });
            await next(context);
        });
}
