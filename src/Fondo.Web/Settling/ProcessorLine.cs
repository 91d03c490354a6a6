using Fondo.Web.Hosting;

namespace Fondo.Web.Settling;

/// <summary>Where the processor of the terminals answers.</summary>
public class ProcessorLine(RunOptions options, IHttpClientFactory clients)
{
    /// <summary>Whether there is a processor to speak to.</summary>
    public virtual bool IsThere => options.Processor is not null;

    /// <summary>A client with the processor's address as its base.</summary>
    public virtual HttpClient Reach()
    {
        var client = clients.CreateClient();
        client.BaseAddress = options.Processor;
        return client;
    }
}
