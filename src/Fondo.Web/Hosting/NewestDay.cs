using Fondo.Store.Days;
using Fondo.Store.Model;
using Microsoft.EntityFrameworkCore;

namespace Fondo.Web.Hosting;

/// <summary>The day that somebody will look at first after a start: it is worked out while they still sign in.</summary>
internal static class NewestDay
{
    public static void LookAhead(IServiceProvider services)
    {
        using var scope = services.CreateScope();
        var newest = scope.ServiceProvider.GetRequiredService<StoreContext>().Days.AsNoTracking().Max(d => (DateOnly?)d.Date);
        if (newest is { } day)
        {
            services.GetRequiredService<DayRefresh>().Begin(day);
        }
    }
}
