using Fondo.Core.SetUp;
using Fondo.Store.Intake;
using Fondo.Store.SetUp;
using Fondo.Web.Hosting;
using Fondo.Web.Text;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Fondo.Web.Pages;

/// <summary>What to send where, for those who connect a register, a processor's file or a bank's; and whether the first has come.</summary>
[Authorize(Policies.Supervise)]
public sealed class StoreConnectModel(SetupBook book, RegisterKeys keys, LastCame came, RunOptions options) : PageModel
{
    /// <summary>One who sends.</summary>
    /// <param name="Key">Of its key; null where it needs none.</param>
    public sealed record Sender(string Name, string? Key, DateTimeOffset? Last);

    public Setup Setup { get; private set; } = null!;

    public IReadOnlyList<Sender> Registers { get; private set; } = [];

    public IReadOnlyList<Sender> Others { get; private set; } = [];

    /// <summary>The register of the example.</summary>
    public Register Example => Setup.Registers[0];

    /// <summary>Where this page was reached, and registers reach Fondo.</summary>
    public string Address => $"{Request.Scheme}://{Request.Host}";

    public bool AsksProcessor => options.Processor is not null;

    public async Task<IActionResult> OnGet()
    {
        if (await book.Now() is not { } held)
        {
            return Redirect("/store/begin");
        }

        Setup = held.Setup;
        var (made, last) = ((await keys.All()).Where(k => k.RevokedAt is null).ToLookup(k => k.Register), await came.FromRegisters());
        Registers = [.. Setup.Registers.Select(r => new Sender(r.Name,
            made[r.Id.Value].MaxBy(k => k.MadeAt) is { } key ? $"key since {Say.Moment(key.MadeAt, Setup)}" : "no key yet",
            last.TryGetValue(r.Id.Value, out var at) ? at : null))];
        Others = [new("Settled batches", null, await came.FromProcessors()), new("Statements of the bank", null, await came.FromBanks())];
        return Page();
    }

    public string Light(Sender sender) =>
        sender.Last is { } at ? $"last came {Say.Moment(at, Setup)}" : "nothing has come yet";
}
