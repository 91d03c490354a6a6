using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Design;

namespace Fondo.Store.Model;

/// <summary>Lets <c>dotnet ef migrations add</c> see the model.</summary>
public sealed class DesignTime : IDesignTimeDbContextFactory<StoreContext>
{
    public StoreContext CreateDbContext(string[] args)
    {
        var options = new DbContextOptionsBuilder<StoreContext>();
        StoreContext.Configure(options, "Data Source=design.db");
        return new(options.Options);
    }
}
