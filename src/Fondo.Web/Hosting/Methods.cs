namespace Fondo.Web.Hosting;

/// <summary>What may be asked at all: pages are read and forms are sent, by whoever says which host they mean.</summary>
internal static class Methods
{
    private const string Allowed = "GET, HEAD, POST";

    public static void UseMethods(this IApplicationBuilder app) => app.Use(async (context, next) =>
    {
        var request = context.Request;
        if (!request.Host.HasValue || HttpProtocol.IsHttp10(request.Protocol) || HttpProtocol.IsHttp09(request.Protocol))
        {
            context.Response.StatusCode = StatusCodes.Status400BadRequest;
        }
        else if (HttpMethods.IsGet(request.Method) || HttpMethods.IsHead(request.Method) || HttpMethods.IsPost(request.Method))
        {
            await next();
        }
        else
        {
            context.Response.StatusCode = StatusCodes.Status405MethodNotAllowed;
            context.Response.Headers.Allow = Allowed;
        }
    });
}
