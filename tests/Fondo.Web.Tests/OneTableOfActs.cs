using System.Reflection;
using Fondo.Core.SetUp;
using Fondo.Files.Reading;
using Fondo.Web.Hosting;
using Microsoft.AspNetCore.Http;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.AspNetCore.Mvc.RazorPages.Infrastructure;
using Microsoft.AspNetCore.Routing;
using Microsoft.Extensions.DependencyInjection;

namespace Fondo.Web.Tests;

/// <summary>Every form, door and kind of file of the running application does an act of the table, and opens to whom the table
/// says.</summary>
public sealed class OneTableOfActs : InOwnShop
{
    [Fact]
    public void Every_act_has_one_line()
    {
        Assert.Equal(Enum.GetValues<ActKind>().Order(), Acts.All.Select(a => a.Act).Order());
    }

    [Fact]
    public async Task Every_form_and_every_door_names_its_act()
    {
        await Shop.SignedIn();
        var endpoints = Shop.Services.GetRequiredService<EndpointDataSource>().Endpoints.OfType<RouteEndpoint>().ToList();
        var loader = Shop.Services.GetRequiredService<PageLoader>();
        var (without, handlers) = (new List<string>(), 0);
        foreach (var endpoint in endpoints)
        {
            if (endpoint.Metadata.GetMetadata<PageActionDescriptor>() is { } page)
            {
                var compiled = await loader.LoadAsync(page, EndpointMetadataCollection.Empty);
                foreach (var handler in compiled.HandlerMethods.Where(h => h.HttpMethod.Equals("Post", StringComparison.OrdinalIgnoreCase)))
                {
                    handlers++;
                    if (handler.MethodInfo.GetCustomAttribute<DoesAttribute>() is null)
                    {
                        without.Add($"{page.ViewEnginePath} {handler.MethodInfo.Name}");
                    }
                }
            }
            else if (endpoint.Metadata.GetMetadata<HttpMethodMetadata>()?.HttpMethods.Any(m => m is not ("GET" or "HEAD")) == true
                && endpoint.Metadata.GetMetadata<DoesAttribute>() is null)
            {
                without.Add(endpoint.RoutePattern.RawText!);
            }
        }

        Assert.Empty(without.Distinct());
        Assert.True(handlers > 70, $"{handlers} forms were looked at");
    }

    [Fact]
    public void Every_kind_of_record_is_brought_by_an_act_of_the_table()
    {
        // A kind that is added later has to be thought about here: who may bring it, and what waits for a second person.
        Assert.Equal(
            ["Carried", "Count", "Event", "Ledger", "Printed", "Row", "Setup", "Total"],
            Enum.GetNames<RecordKind>().Order(StringComparer.Ordinal));
        Assert.True(Acts.Of(ActKind.BringFiles) is { Right: Right.Supervise, Second: Second.AboveLimit, NamesOthers: true });
    }

    [Theory]
    [InlineData("p15", "1590")]
    [InlineData("p21", "9631")]
    public async Task A_form_opens_only_to_whom_the_table_lets(string who, string pin)
    {
        var visitor = await Shop.SignedIn(who, pin);
        var role = who == "p15" ? Role.Cashier : Role.Auditor;
        foreach (var (form, from, act) in new[]
        {
            ("/store?handler=Revoke", "/pin", ActKind.RevokeKey),
            ($"{Shop.Day}/close?handler=Close", "/pin", ActKind.Close),
            ($"{Shop.Day}/safe?handler=Move", "/pin", ActKind.MoveSafeMoney),
            ("/mail", "/pin", ActKind.ChangeMailServer)
        })
        {
            Assert.False(new Person(new(who), "", role).May(act));
            using var answer = await visitor.Post(form, [], from);
            Assert.NotEqual(System.Net.HttpStatusCode.OK, answer.StatusCode);
        }
    }

    [Fact]
    public void The_second_person_is_whom_the_table_names()
    {
        Person Someone(string id, Role role) => new(new(id), "", role);
        var by = Someone("p01", Role.Supervisor);
        (Role Role, ActKind Act, bool May)[] table =
        [
            (Role.Cashier, ActKind.SealDeposit, true),
            (Role.Auditor, ActKind.SealDeposit, false),
            (Role.Cashier, ActKind.MoveSafeMoney, true),
            (Role.Cashier, ActKind.MakeKey, false),
            (Role.Supervisor, ActKind.MakeKey, true),
            (Role.Supervisor, ActKind.LoosenSetUp, false),
            (Role.Manager, ActKind.LoosenSetUp, true),
            (Role.Supervisor, ActKind.ChangePerson, false),
            (Role.Supervisor, ActKind.Reopen, false),
            (Role.Manager, ActKind.Reopen, true),
            (Role.Supervisor, ActKind.WithdrawStatement, true),
            (Role.Auditor, ActKind.ApproveEntry, false),
            (Role.Manager, ActKind.Close, false),
        ];
        Assert.All(table, line => Assert.Equal(line.May, Someone("p02", line.Role).MayBeSecond(line.Act, by)));
        Assert.All(table, line => Assert.False(by.MayBeSecond(line.Act, by)));
    }

    /// <summary>The same rule behind the doors: what writes to a day asks the table itself.</summary>
    [Fact]
    public async Task What_writes_to_a_day_refuses_whom_the_table_does_not_let()
    {
        var (day, typed) = (new DateOnly(2026, 11, 21), new Dictionary<long, string> { [2000] = "1" });
        foreach (var (role, act, does) in new (Role, ActKind, Func<Person, Task<Store.Outcome>>)[]
        {
            (Role.Cashier, ActKind.SealDeposit, p => Shop.Ask((Store.Treasury.DepositDesk d) =>
                d.Seal(day, Guid.NewGuid(), "70401", typed, [], p, Shop.Tamsin))),
            (Role.Cashier, ActKind.OrderChange, p => Shop.Ask((Store.Treasury.SafeDesk d) => d.Order(day, Guid.NewGuid(), typed, p))),
            (Role.Cashier, ActKind.Close, p => Shop.Ask((Store.Days.ClosingDesk d) => d.Close(day, p))),
            (Role.Cashier, ActKind.TypePrintedTotals, p => Shop.Ask((Store.Settling.PrintedDesk d) => d.Keep(day, "T-01", [], p))),
            (Role.Auditor, ActKind.OpenRegister, p => Shop.Ask((Store.Days.Opening o) =>
                o.Open(day, new("L1"), Guid.NewGuid(), typed, p))),
            (Role.Auditor, ActKind.Count, p => Shop.Ask((Store.Days.Floats f) =>
                f.Keep(day, new("L1-A"), Guid.NewGuid(), typed, p))),
        })
        {
            var refused = await does(new(new("p15"), "Somebody", role));
            Assert.False(new Person(new("p15"), "Somebody", role).May(act));
            Assert.Matches("^Only a (supervisor or a manager|cashier, a supervisor or a manager) can ", refused.Objection);
        }
    }
}
