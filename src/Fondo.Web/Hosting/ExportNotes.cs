using Fondo.Store.Model;
using Fondo.Store.Trails;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.Filters;

namespace Fondo.Web.Hosting;

/// <summary>A document or a table that leaves the house as a file is in the trail before it goes. Pictures that pages show are no such
/// file.</summary>
internal sealed class ExportNotes(StoreContext db) : IAsyncResultFilter
{
    public async Task OnResultExecutionAsync(ResultExecutingContext context, ResultExecutionDelegate next)
    {
        if (context.Result is FileResult { FileDownloadName: { Length: > 0 } name }
            && context.HttpContext.User.Identity?.IsAuthenticated == true)
        {
            var by = Me.From(context.HttpContext.User).Id.Value;
            await db.Note(new Act(TrailAct.Export, by, context.HttpContext.Request.Path.Value!.TrimStart('/'), $"took {name}"));
        }

        await next();
    }
}
