namespace Fondo.Web.Hosting;

/// <summary>What a host adds to the store's server: the demo its stand-ins, the store's own host nothing.</summary>
public interface IServerParts
{
    /// <summary>The time that the clock shows at the start, where no other is given.</summary>
    DateTimeOffset StartsAt { get; }

    void Add(IServiceCollection services);

    /// <summary>Once it is known from where a request comes, before anybody is signed in.</summary>
    void Use(WebApplication app, RunOptions options);

    void Map(WebApplication app);

    /// <summary>What is there before the first request; what is there already stays as it was left.</summary>
    Task Prepare(IServiceProvider services, RunOptions options);

    /// <summary>Tells whoever started it what they need to know.</summary>
    void Announce(TextWriter to, RunOptions options);
}
