using System.Security.Claims;
using System.Security.Cryptography;
using System.Text;
using Fondo.Core.SetUp;
using Fondo.Store;
using Fondo.Store.Model;
using Fondo.Store.Trails;
using Microsoft.AspNetCore.Authentication;
using Microsoft.AspNetCore.Authentication.Cookies;
using Microsoft.AspNetCore.DataProtection;
using Microsoft.EntityFrameworkCore;

namespace Fondo.Web.Hosting;

/// <summary>The sessions of persons, kept in the database: signing out, a new PIN or being switched off ends them here, whatever a browser
/// still holds.</summary>
internal sealed class PersonSessions(IServiceScopeFactory scopes, IDataProtectionProvider protection, SessionsOnFullDisk onFullDisk,
    TimeProvider clock) : ITicketStore
{
    /// <summary>Without an act of the person for so long it ends; and after so long in any case.</summary>
    public static readonly TimeSpan Idle = TimeSpan.FromMinutes(30), Longest = TimeSpan.FromHours(12);

    /// <summary>A sensitive act asks for the PIN again when the last one is older.</summary>
    public static readonly TimeSpan Fresh = TimeSpan.FromMinutes(5);

    /// <summary>What a page does by itself, in intervals, says so in this header: it keeps no session alive.</summary>
    public const string ByItself = "Fondo-By-Itself";

    /// <summary>An act is written down this often at most.</summary>
    private static readonly TimeSpan _grain = TimeSpan.FromSeconds(20);

    private readonly IDataProtector _protector = protection.CreateProtector("sessions");

    public static ClaimsPrincipal Principal(StorePerson person) => new(new ClaimsIdentity(
        [
            new(ClaimTypes.NameIdentifier, person.PersonId),
            new(Me.PersonClaim, person.PersonId),
            new(Me.NameClaim, person.Name),
            new(ClaimTypes.Role, person.Role.ToString()),
            .. person.MustChoosePin ? [new Claim(Me.MustChoosePinClaim, "yes")] : Array.Empty<Claim>(),
        ],
        CookieAuthenticationDefaults.AuthenticationScheme));

    /// <summary>The session of this request; null for nobody.</summary>
    public static SessionRow? Of(HttpContext context) => context.Items[typeof(SessionRow)] as SessionRow;

    /// <summary>How the person who is signed in presses keys of one letter.</summary>
    public static PlainKeys KeysOf(HttpContext context) => context.Items[typeof(PlainKeys)] is PlainKeys keys ? keys : PlainKeys.On;

    /// <summary>Whether the person proved themselves a moment ago.</summary>
    public bool IsFresh(HttpContext context) => Of(context) is { } session && clock.GetUtcNow() - session.ProvedAt <= Fresh;

    /// <summary>The person gave their PIN again.</summary>
    public async Task Proved(HttpContext context)
    {
        if (Of(context) is { } session)
        {
            session.ProvedAt = clock.GetUtcNow();
            await using var scope = scopes.CreateAsyncScope();
            var db = scope.ServiceProvider.GetRequiredService<StoreContext>();
            await db.InTurn(() => db.Sessions.Where(s => s.Hash == session.Hash)
                .ExecuteUpdateAsync(s => s.SetProperty(x => x.ProvedAt, session.ProvedAt)));
        }
    }

    public Task<string> StoreAsync(AuthenticationTicket ticket) => Store(ticket, null);

    /// <summary>Begins a session and ends the one before, in one turn.</summary>
    public Task<string> StoreAsync(AuthenticationTicket ticket, HttpContext httpContext, CancellationToken cancellationToken) =>
        Store(ticket, httpContext);

    private async Task<string> Store(AuthenticationTicket ticket, HttpContext? context)
    {
        var key = Convert.ToBase64String(RandomNumberGenerator.GetBytes(32));
        await using var scope = scopes.CreateAsyncScope();
        var at = ticket.Properties.Items.TryGetValue(Me.MachineItem, out var machine) ? machine ?? "" : "";
        scope.ServiceProvider.GetRequiredService<RequestOrigin>().Machine = at;
        var db = scope.ServiceProvider.GetRequiredService<StoreContext>();
        var now = clock.GetUtcNow();
        var before = context is null ? null : Of(context)?.Hash;
        var session = new SessionRow
        {
            Hash = Hash(key),
            Person = Me.From(ticket.Principal).Id.Value,
            Machine = at,
            Ticket = Protected(ticket),
            BeganAt = now,
            ActedAt = now,
            ProvedAt = now,
        };
        try
        {
            await Write(db, session, before, "signed in");
        }
        catch (Exception e) when (DiskFull.Is(e) && onFullDisk.Begin(session, now - Longest))
        {
            // Reading goes on while the disk is full.
            if (before is not null)
            {
                onFullDisk.End(before);
            }
        }

        return key;
    }

    /// <summary>Writes a session down, in place of the one before it at the same browser.</summary>
    private async Task Write(StoreContext db, SessionRow session, string? before, string says)
    {
        var (ends, ended) = (clock.GetUtcNow() - Longest, onFullDisk.Ended);
        await using var writing = await db.BeginWriting();
        if (await db.Sessions.AnyAsync(s => s.Hash == session.Hash))
        {
            return; // another request of the same browser was quicker
        }

        await db.Sessions.Where(s => s.BeganAt < ends || s.Hash == before || ended.Contains(s.Hash)).ExecuteDeleteAsync();
        db.Sessions.Add(session);
        await db.SaveChangesAsync();
        db.Entry(session).State = EntityState.Detached;
        await db.Note(new Act(TrailAct.SignIn, session.Person, session.Person, says));
        await writing.CommitAsync();
        foreach (var hash in ended)
        {
            onFullDisk.WrittenDown(hash);
        }
    }

    /// <summary>A session that began while the disk was full, written down as soon as there is room.</summary>
    private async Task<SessionRow?> BegunOnFullDisk(StoreContext db, string hash)
    {
        if (onFullDisk.Find(hash) is not { } session)
        {
            return null;
        }

        try
        {
            await Write(db, session, null,
                $"signed in on {session.BeganAt:yyyy-MM-dd} at {session.BeganAt:HH:mm} UTC, while the disk was full");
            onFullDisk.WrittenDown(hash);
        }
        catch (Exception e) when (DiskFull.Is(e))
        {
            db.ChangeTracker.Clear();
        }

        return session;
    }

    public Task RenewAsync(string key, AuthenticationTicket ticket) => Task.CompletedTask;

    public Task<AuthenticationTicket?> RetrieveAsync(string key) => Task.FromResult<AuthenticationTicket?>(null);

    public async Task<AuthenticationTicket?> RetrieveAsync(string key, HttpContext httpContext, CancellationToken cancellationToken)
    {
        if (httpContext.Items.ContainsKey(Me.IsSigningIn))
        {
            return null; // the session before ends with the new one; it is not renewed
        }

        var (db, hash, now) = (httpContext.RequestServices.GetRequiredService<StoreContext>(), Hash(key), clock.GetUtcNow());
        if (onFullDisk.HasEnded(hash))
        {
            await End(hash);
            return null;
        }

        var began = await BegunOnFullDisk(db, hash);
        var found = began is not null
            ? new
            {
                Session = began,
                Keys = await db.Users.Where(p => p.PersonId == began.Person && !p.IsOff)
                .Select(p => (PlainKeys?)p.PlainKeys).FirstOrDefaultAsync(cancellationToken)
            }
            : await db.Sessions.AsNoTracking().Where(s => s.Hash == hash)
                .Select(s => new
                {
                    Session = s,
                    Keys = db.Users.Where(p => p.PersonId == s.Person && !p.IsOff)
                    .Select(p => (PlainKeys?)p.PlainKeys).FirstOrDefault()
                })
                .SingleOrDefaultAsync(cancellationToken);
        if (found is not { Session: var session, Keys: { } keys })
        {
            return null;
        }

        if (now - session.BeganAt >= Longest || now - session.ActedAt >= Idle)
        {
            await End(hash);
            return null;
        }

        if (!httpContext.Request.Headers.ContainsKey(ByItself) && now - session.ActedAt > _grain)
        {
            try
            {
                await db.InTurn(() => db.Sessions.Where(s => s.Hash == hash)
                    .ExecuteUpdateAsync(s => s.SetProperty(x => x.ActedAt, now), cancellationToken));
            }
            catch (Exception e) when (DiskFull.Is(e))
            {
                // What is there can still be read.
            }

            session.ActedAt = now;
        }

        try
        {
            var ticket = TicketSerializer.Default.Deserialize(_protector.Unprotect(session.Ticket));
            httpContext.Items[typeof(SessionRow)] = session;
            httpContext.Items[typeof(PlainKeys)] = keys;
            return ticket;
        }
        catch (CryptographicException)
        {
            return null; // encrypted with keys that are gone
        }
    }

    /// <summary>A person's sessions, the latest first.</summary>
    public async Task<IReadOnlyList<SessionRow>> OfPerson(string person)
    {
        await using var scope = scopes.CreateAsyncScope();
        var ends = clock.GetUtcNow() - Longest;
        var idle = clock.GetUtcNow() - Idle;
        var written = await scope.ServiceProvider.GetRequiredService<StoreContext>().Sessions.AsNoTracking()
            .Where(s => s.Person == person && s.BeganAt > ends && s.ActedAt > idle).ToListAsync();
        return [.. onFullDisk.OfPerson(person).Concat(written).OrderByDescending(s => s.BeganAt)];
    }

    public Task RemoveAsync(string key) => End(Hash(key));

    public async Task End(string hash)
    {
        await using var scope = scopes.CreateAsyncScope();
        var db = scope.ServiceProvider.GetRequiredService<StoreContext>();
        try
        {
            await db.InTurn(() => db.Sessions.Where(s => s.Hash == hash).ExecuteDeleteAsync());
            onFullDisk.WrittenDown(hash);
        }
        catch (Exception e) when (DiskFull.Is(e) && onFullDisk.End(hash))
        {
            // It has ended; its row goes when there is room.
        }
    }

    private byte[] Protected(AuthenticationTicket ticket) => _protector.Protect(TicketSerializer.Default.Serialize(ticket));

    private static string Hash(string key) => Convert.ToHexString(SHA256.HashData(Encoding.UTF8.GetBytes(key)));
}

/// <summary>The person who is signed in.</summary>
internal static class Me
{
    public const string PersonClaim = "fondo:person", NameClaim = "fondo:name", MustChoosePinClaim = "fondo:must-choose-pin",
        MachineItem = "fondo:machine", IsSigningIn = "fondo:signing-in";

    public static Person From(ClaimsPrincipal user) => new(
        new(user.FindFirstValue(PersonClaim)!), user.FindFirstValue(NameClaim)!, Enum.Parse<Role>(user.FindFirstValue(ClaimTypes.Role)!));

    /// <summary>Signs a person in at this machine.</summary>
    public static async Task SignIn(HttpContext context, StorePerson person)
    {
        // Within a scope of its own, so that no key of an earlier session lives on in the new one.
        var (services, here) = (context.RequestServices, context.RequestServices.GetRequiredService<RequestOrigin>());
        await using var scope = services.CreateAsyncScope();
        context.RequestServices = scope.ServiceProvider;
        context.Items[IsSigningIn] = true;
        await context.SignInAsync(PersonSessions.Principal(person), new(new Dictionary<string, string?> { [MachineItem] = here.Machine }));
        context.RequestServices = services;
        here.By = person.PersonId;
    }
}
