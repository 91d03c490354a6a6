using System.Security.Claims;
using System.Text.Encodings.Web;
using Fondo.Store.Intake;
using Microsoft.AspNetCore.Authentication;
using Microsoft.AspNetCore.Authorization;
using Microsoft.Extensions.Options;

namespace Fondo.Web.Hosting;

/// <summary>Lets registers and machines in by the key in their Authorization header.</summary>
internal sealed class KeyAuthentication(IOptionsMonitor<AuthenticationSchemeOptions> options, ILoggerFactory logs, UrlEncoder encoder,
    RegisterKeys keys) : AuthenticationHandler<AuthenticationSchemeOptions>(options, logs, encoder)
{
    /// <summary>The name of the scheme.</summary>
    public const string Key = "key";

    private const string HolderClaim = "fondo:holder", Bearer = "Bearer ";

    /// <summary>Opens a door to whoever shows a key, whichever.</summary>
    public static readonly AuthorizationPolicy Policy = new AuthorizationPolicyBuilder(Key).RequireClaim(HolderClaim).Build();

    /// <summary>Whose key was shown.</summary>
    public static string HolderOf(ClaimsPrincipal shown) => shown.FindFirstValue(HolderClaim)!;

    protected override async Task<AuthenticateResult> HandleAuthenticateAsync() => await keys.Holder(Shown()) switch
    {
        { Value: { } holder } => AuthenticateResult.Success(new(new(new ClaimsIdentity([new(HolderClaim, holder)], Key)), Key)),
        var refused => AuthenticateResult.Fail(refused.Objection!),
    };

    protected override async Task HandleChallengeAsync(AuthenticationProperties properties)
    {
        var why = (await HandleAuthenticateOnceSafeAsync()).Failure?.Message;
        await TypedResults.Problem(why, statusCode: StatusCodes.Status401Unauthorized).ExecuteAsync(Context);
    }

    private string? Shown() => Request.Headers.Authorization.ToString() is var given
        && given.StartsWith(Bearer, StringComparison.OrdinalIgnoreCase) ? given[Bearer.Length..].Trim() : null;
}
