using System.Security.Claims;
using Fondo.Core.Amounts;
using Fondo.Core.Cash;
using Fondo.Core.Cells;
using Fondo.Core.Checks;
using Fondo.Core.Closing;
using Fondo.Core.Days;
using Fondo.Core.Entries;
using Fondo.Core.Journal;
using Fondo.Core.Leads;
using Fondo.Core.Matching;
using Fondo.Core.Proof;
using Fondo.Core.Reconciling;
using Fondo.Core.SetUp;
using Fondo.Core.Sheets;
using Fondo.Store;
using Fondo.Store.Model;
using Fondo.Web.Intake;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.DataProtection;
using Microsoft.AspNetCore.Http.Features;
using Microsoft.AspNetCore.Identity;
using Microsoft.Extensions.Options;

namespace Fondo.Web.Hosting;

internal static class WebServices
{
    private const int LargestUpload = 512 << 20;

    public static void AddFondoWeb(this IServiceCollection services, RunOptions options)
    {
        services.AddSingleton(options);
        services.AddSingleton(options.StartsAt is { } at ? new ShiftedClock(at) : TimeProvider.System);
        services.AddFondoStore(options.Connection);
        services.AddSingleton<SetUpCode>();
        services.AddDataProtection().PersistKeysToFileSystem(new DirectoryInfo(Path.Combine(options.DataFolder, "keys"))).SetApplicationName("Fondo");

        services.AddAuthentication(IdentityConstants.ApplicationScheme).AddIdentityCookies();
        new IdentityBuilder(typeof(StorePerson), services).AddSignInManager().AddClaimsPrincipalFactory<PersonClaims>();
        services.Configure<SecurityStampValidatorOptions>(o => o.ValidationInterval = TimeSpan.FromMinutes(1));
        services.ConfigureApplicationCookie(o =>
        {
            o.LoginPath = "/sign-in";
            o.AccessDeniedPath = "/trouble";
            o.Cookie.Name = "fondo";
            o.Cookie.HttpOnly = true;
            o.Cookie.SameSite = SameSiteMode.Strict;
            o.ExpireTimeSpan = TimeSpan.FromMinutes(60);
            o.SlidingExpiration = true;
        });
        services.AddAuthorizationBuilder()
            .SetFallbackPolicy(new AuthorizationPolicyBuilder().RequireAuthenticatedUser().Build())
            .AddPolicy(Policies.Read, p => p.RequireRole(nameof(Role.Supervisor), nameof(Role.Manager), nameof(Role.Auditor)))
            .AddPolicy(Policies.Supervise, p => p.RequireRole(nameof(Role.Supervisor), nameof(Role.Manager)))
            .AddPolicy(Policies.Count, p => p.RequireRole(nameof(Role.Cashier), nameof(Role.Supervisor), nameof(Role.Manager)));

        services.AddAntiforgery(o => o.HeaderName = "X-CSRF-TOKEN");
        services.AddRazorPages();
        services.AddOpenApi();
        services.AddSingleton<Mailer>().AddSingleton<Uploads>();
        services.AddHttpClient();
        services.AddSingleton<StandInHost>().AddSingleton<TerminalReadings>();
        services.AddHostedService<WatchedFolder>();
        services.Configure<RouteOptions>(o => o.ConstraintMap["day"] = typeof(TradingDayConstraint));

        // An upload is held in memory, not in a temporary file: a refused one may hold what must never reach the disk.
        services.Configure<FormOptions>(o => (o.MemoryBufferThreshold, o.MultipartBodyLengthLimit) = (LargestUpload, LargestUpload));
        services.Configure<Microsoft.AspNetCore.Server.Kestrel.Core.KestrelServerOptions>(o => o.Limits.MaxRequestBodySize = LargestUpload);
    }

    private sealed class PersonClaims(UserManager<StorePerson> people, IOptions<IdentityOptions> options) : UserClaimsPrincipalFactory<StorePerson>(people, options)
    {
        protected override async Task<ClaimsIdentity> GenerateClaimsAsync(StorePerson user)
        {
            var identity = await base.GenerateClaimsAsync(user);
            identity.AddClaim(new(Me.PersonClaim, user.PersonId));
            identity.AddClaim(new(Me.NameClaim, user.Name));
            identity.AddClaim(new(identity.RoleClaimType, user.Role.ToString()));
            return identity;
        }
    }
}

internal static class Policies
{
    public const string Read = "read", Supervise = "supervise", Count = "count";
}

/// <summary>The person who is signed in.</summary>
internal static class Me
{
    public const string PersonClaim = "fondo:person", NameClaim = "fondo:name";

    public static Person From(ClaimsPrincipal user) => new(
        new(user.FindFirstValue(PersonClaim)!), user.FindFirstValue(NameClaim)!, Enum.Parse<Role>(user.FindFirstValue(ClaimTypes.Role)!));
}

internal sealed class TradingDayConstraint : IRouteConstraint
{
    public bool Match(HttpContext? httpContext, IRouter? route, string routeKey, RouteValueDictionary values, RouteDirection routeDirection) =>
        TradingDay.TryParse(values[routeKey]?.ToString(), out _);
}
