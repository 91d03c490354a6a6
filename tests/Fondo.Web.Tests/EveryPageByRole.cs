using System.Net;
using Fondo.Core.SetUp;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.AspNetCore.Routing;
using Microsoft.Extensions.DependencyInjection;

namespace Fondo.Web.Tests;

/// <summary>Every page of the running application, asked for by nobody and in each role: it opens to whom it should, and to nobody
/// else.</summary>
public sealed class EveryPageByRole : InOwnShop
{
    /// <summary>Whoever has no PIN of the store.</summary>
    private const string ToAnyone = "/pair /set-up /sign-in /sign-out /trouble";

    private const string ToEverybodySignedIn = "/ /days /pin /stand-ins/register/{id?} /unreadable/{day}";

    /// <summary>Cashiers count and open; they see nothing of what should be there.</summary>
    private const string ToWhoCounts = "count count-slip/{what} count/{drawer}/float count/{what} open open/{register} /stand-ins/machine";

    /// <summary>Auditors see all and change nothing.</summary>
    private const string ToWhoReads = "approvals bank board books bridge carried cell/{register}/{drawer}/{tender} checks close "
        + "close/document close/revisions deposit/{number:int} drawer/{drawer} journal money open-items pairing safe settle "
        + "slips/{entry:guid} ticket/{key} watch /batches /customers /customers/item /find /span /trail /stand-ins/mailbox";

    private const string ToWhoSupervises = "change deposit floats take-in /take-in /machines /mappings /people /store /store/begin/{step?} "
        + "/store/connect /store/{part} /stand-ins/bank "
        + "/stand-ins/files /stand-ins/processor";

    private const string ToWhoManages = "/mail";

    private static readonly Dictionary<string, string> _parts = new()
    {
        ["{day:day}"] = Shop.Day[1..],
        ["{day}"] = Shop.Day[1..],
        ["{register}"] = "L4",
        ["{drawer}"] = "L4-A",
        ["{tender}"] = "cash",
        ["{what}"] = "L4-A",
        ["{number:int}"] = "1",
        ["{entry:guid}"] = "00000000-0000-0000-0000-000000000001",
        ["{key}"] = "L2-000001",
        ["{id?}"] = "",
        ["{part}"] = "shop",
        ["{step?}"] = "shop",
    };

    [Fact]
    public async Task A_page_opens_to_whom_it_should_and_to_nobody_else()
    {
        await Shop.SignedIn();
        var pages = Shop.Services.GetRequiredService<EndpointDataSource>().Endpoints.OfType<RouteEndpoint>()
            .Where(e => e.Metadata.GetMetadata<PageActionDescriptor>() is not null)
            .Select(e => "/" + e.RoutePattern.RawText!.TrimStart('/')).Distinct().Order(StringComparer.Ordinal).ToList();
        var opens = Table();
        Assert.Equal(opens.Keys.Order(StringComparer.Ordinal), pages);

        List<(Role? Role, Visitor Visitor)> visitors =
        [
            (null, Shop.Visit()), (Role.Cashier, await Shop.Cashier()), (Role.Auditor, await Shop.SignedIn("p21", "9631")),
            (Role.Supervisor, await Shop.SignedIn()), (Role.Manager, await Shop.Manager()),
        ];
        var wrong = new List<string>();
        // The first set-up leads to the sign-in once it is done; signing out ends the visit.
        foreach (var page in pages.Where(p => p is not ("/sign-out" or "/set-up")))
        {
            foreach (var (role, visitor) in visitors)
            {
                var address = _parts.Aggregate(page, (path, part) => path.Replace(part.Key, part.Value, StringComparison.Ordinal));
                using var answer = await visitor.Get(address);
                var to = answer.Headers.Location?.OriginalString ?? "";
                var isRefused = answer.StatusCode == HttpStatusCode.Forbidden || to.Contains("/trouble", StringComparison.Ordinal)
                    || to.Contains("/sign-in", StringComparison.Ordinal);
                if (isRefused == opens[page](role) || (int)answer.StatusCode >= 500)
                {
                    wrong.Add($"{role?.ToString() ?? "nobody"} at {address}: {(int)answer.StatusCode} {to}");
                }
            }
        }

        Assert.True(wrong.Count == 0, string.Join('\n', wrong));
    }

    private static Dictionary<string, Func<Role?, bool>> Table()
    {
        var table = new Dictionary<string, Func<Role?, bool>>(StringComparer.Ordinal);
        void Add(string pages, Func<Role?, bool> opens)
        {
            foreach (var page in pages.Split(' '))
            {
                table.Add(page.StartsWith('/') ? page : $"/{{day:day}}/{page}", opens);
            }
        }

        Add(ToAnyone, _ => true);
        Add(ToEverybodySignedIn, r => r is not null);
        Add(ToWhoCounts, r => r is Role.Cashier or Role.Supervisor or Role.Manager);
        Add(ToWhoReads, r => r is Role.Auditor or Role.Supervisor or Role.Manager);
        Add(ToWhoSupervises, r => r is Role.Supervisor or Role.Manager);
        Add(ToWhoManages, r => r is Role.Manager);
        return table;
    }
}
