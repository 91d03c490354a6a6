using System.Globalization;
using Fondo.Store.Model;
using Serilog;
using Serilog.Events;
using Serilog.Filters;
using Serilog.Formatting.Compact;

namespace Fondo.Web.Hosting;

/// <summary>What is written down of the running: as JSON lines in the data folder, rolled every day and at 20 MB, 31 files of each kind;
/// what concerns security in a file of its own.
/// No PIN, no key, no card number is ever in a message.</summary>
internal static class Logs
{
    private const int Bytes = 20 << 20, Files = 31;

    public static void AddLogs(this WebApplicationBuilder builder, RunOptions options) => builder.Services.AddSerilog((_, log) => log
        .MinimumLevel.Warning()
        .ReadFrom.Configuration(builder.Configuration)
        .MinimumLevel.Override("Microsoft", LogEventLevel.Warning)
        .MinimumLevel.Override("Microsoft.AspNetCore.DataProtection", LogEventLevel.Error)
        // They warn of what a migration that is cut off would leave; ours works on a copy.
        .MinimumLevel.Override("Microsoft.EntityFrameworkCore.Migrations", LogEventLevel.Error)
        .WriteTo.Logger(own => own.Filter.ByExcluding(Matching.FromSource(StoreContext.Security)).WriteTo
            .Console(formatProvider: CultureInfo.InvariantCulture).WriteTo.File(
            new CompactJsonFormatter(), Path.Combine(options.Logs, "fondo-.jsonl"), rollingInterval: RollingInterval.Day,
                fileSizeLimitBytes: Bytes, rollOnFileSizeLimit: true, retainedFileCountLimit: Files))
        .WriteTo.Logger(own => own.Filter.ByIncludingOnly(Matching.FromSource(StoreContext.Security)).WriteTo.File(
            new CompactJsonFormatter(), Path.Combine(options.Logs, "security-.jsonl"), rollingInterval: RollingInterval.Day,
            fileSizeLimitBytes: Bytes, rollOnFileSizeLimit: true, retainedFileCountLimit: Files)));
}
