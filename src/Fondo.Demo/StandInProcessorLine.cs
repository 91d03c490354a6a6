using Fondo.Web.Hosting;
using Fondo.Web.Settling;

namespace Fondo.Demo;

/// <summary>In the demo the processor is the stand-in, where no other is named.</summary>
internal sealed class StandInProcessorLine(RunOptions options, StandInHost standIns, IHttpClientFactory clients)
    : ProcessorLine(options, clients)
{
    private readonly bool _isNamed = options.Processor is not null;

    public override bool IsThere => base.IsThere || standIns.IsThere;

    public override HttpClient Reach()
    {
        if (_isNamed)
        {
            return base.Reach();
        }

        var client = standIns.Reach();
        client.BaseAddress = new Uri(client.BaseAddress!, StandInProcessor.Path);
        return client;
    }
}
