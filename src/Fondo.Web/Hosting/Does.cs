using System.Reflection;
using Fondo.Core.SetUp;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.Filters;

namespace Fondo.Web.Hosting;

/// <summary>The act that a form or a door does: a line of <see cref="Acts"/>.</summary>
[AttributeUsage(AttributeTargets.Method)]
internal sealed class DoesAttribute(ActKind act) : Attribute
{
    public ActKind Act => act;
}

/// <summary>Opens a form only to whom the table of acts lets do what it does. One that names no act opens to nobody.</summary>
internal sealed class ActsAtTheDoor : IAsyncPageFilter
{
    public Task OnPageHandlerSelectionAsync(PageHandlerSelectedContext context) => Task.CompletedTask;

    public async Task OnPageHandlerExecutionAsync(PageHandlerExecutingContext context, PageHandlerExecutionDelegate next)
    {
        if (HttpMethods.IsPost(context.HttpContext.Request.Method) && context.HandlerMethod is { } handler)
        {
            var isOpen = handler.MethodInfo.GetCustomAttribute<DoesAttribute>() is { Act: var act }
                && (Acts.Of(act).Right is null
                    || (context.HttpContext.User.Identity?.IsAuthenticated == true && Me.From(context.HttpContext.User).May(act)));
            if (!isOpen)
            {
                context.Result = new ForbidResult();
                return;
            }
        }

        await next();
    }
}
