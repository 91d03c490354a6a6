using System.Net;
using Fondo.Core.SetUp;
using Fondo.Store.People;

namespace Fondo.Web.Tests;

/// <summary>Nobody's second person is somebody whose PIN they gave: until another approver has confirmed that person.</summary>
public sealed class NobodyAlone : InOwnShop
{
    private const string Pin = "826419", Chosen = "731946";

    /// <summary>A cashier whom Odile made, and whose PIN she may have chosen herself.</summary>
    private async Task Make(string id = "p77", string name = "Dara Petrov-Lind")
    {
        Assert.Null((await Shop.Ask((PeopleRegister people) =>
            people.Save(new(new(id), name, Role.Cashier), Pin, Shop.Odile, null))).Objection);
        var made = await Shop.SignedIn(id, Pin);
        await made.Post("/pin", new() { ["old"] = Pin, ["pin"] = Chosen, ["again"] = Chosen });
    }

    private static Dictionary<string, string> Deposit() =>
        new() { ["form"] = Guid.NewGuid().ToString(), ["bag"] = "70401", ["witness"] = "p77", ["witness-pin"] = Chosen, ["p2000"] = "10" };

    [Fact]
    public async Task A_deposit_is_not_sealed_with_a_person_of_ones_own_making()
    {
        await Make();
        var odile = await Shop.SignedIn();
        var refused = await odile.PostForPage($"{Shop.Day}/deposit", Deposit());
        Assert.Contains("Odile Marchetti gave Dara Petrov-Lind this sign-in", refused.Body!.TextContent, StringComparison.Ordinal);

        // Neither confirms: who gave it, nor the person.
        Assert.NotNull((await Shop.Ask((PeopleRegister people) => people.Confirm(new("p77"), Shop.Odile))).Objection);
        Assert.NotNull((await Shop.Ask((PeopleRegister people) =>
            people.Confirm(new("p77"), new(new("p77"), "Dara Petrov-Lind", Role.Cashier)))).Objection);
        Assert.Contains("not confirmed", (await odile.Page("/people")).Body!.TextContent, StringComparison.Ordinal);
        var tamsin = await Shop.Manager();
        Assert.Equal(HttpStatusCode.Redirect,
            (await tamsin.Post("/people?handler=Confirm", new() { ["id"] = "p77" }, "/people")).StatusCode);
        Assert.Equal(HttpStatusCode.Redirect, (await odile.Post($"{Shop.Day}/deposit", Deposit())).StatusCode);

        // A new PIN of hers, and it begins again.
        Assert.Null((await Shop.Ask((PeopleRegister people) =>
            people.Save(new(new("p77"), "Dara Petrov-Lind", Role.Cashier), "918273", Shop.Odile, null))).Objection);
        await (await Shop.SignedIn("p77", "918273")).Post("/pin", new() { ["old"] = "918273", ["pin"] = Chosen, ["again"] = Chosen });
        Assert.Contains("gave Dara Petrov-Lind this sign-in", (await odile.PostForPage($"{Shop.Day}/deposit", Deposit())).Body!.TextContent,
            StringComparison.Ordinal);
    }

    /// <summary>Of somebody else the same person is a second one at once.</summary>
    [Fact]
    public async Task Whom_another_one_made_may_stand_by()
    {
        await Make();
        var tamsin = await Shop.Manager();
        Assert.Equal(HttpStatusCode.Redirect, (await tamsin.Post($"{Shop.Day}/deposit", Deposit())).StatusCode);
    }

    /// <summary>Every page that asks for a second person's PIN asks through the one function that knows who made whom.</summary>
    [Fact]
    public void No_page_proves_a_second_person_by_another_way()
    {
        var folder = Path.GetDirectoryName(typeof(Shop).Assembly.Location)!;
        while (!File.Exists(Path.Combine(folder, "Fondo.slnx")))
        {
            folder = Path.GetDirectoryName(folder)!;
        }

        var pages = Directory.GetFiles(Path.Combine(folder, "src/Fondo.Web"), "*.cs", SearchOption.AllDirectories)
            .Where(f => !f.Contains("/obj/", StringComparison.Ordinal)).Select(f => (Name: Path.GetFileName(f), Text: File.ReadAllText(f)))
            .ToList();
        Assert.DoesNotContain(pages, p => p.Text.Contains("PinDoor.Approve", StringComparison.Ordinal));
        string[] doors = ["ProveSecond(", "ProveChosen("];
        Assert.True(pages.Count(p => doors.Any(d => p.Text.Contains(d, StringComparison.Ordinal))) >= 9);
    }

    [Theory]
    [InlineData("odile marchetti")]
    [InlineData("Odile  Marchetti")]
    [InlineData("Odíle Márchetti")]
    [InlineData("Odile\u200B Marchetti")]
    [InlineData("Odi1e Marchetti")]
    [InlineData("Оdile Marchetti")]
    public async Task A_name_that_looks_like_anothers_is_refused(string name) =>
        Assert.NotNull((await Shop.Ask((PeopleRegister people) =>
            people.Save(new(new("p78"), name, Role.Cashier), Pin, Shop.Odile, null))).Objection);

    [Theory]
    [InlineData("TRACE")]
    [InlineData("OPTIONS")]
    [InlineData("PUT")]
    [InlineData("FETCHIT")]
    public async Task What_no_page_knows_is_refused(string method)
    {
        var tamsin = await Shop.Manager();
        foreach (var path in new[] { "/mail", "/people", "/store", $"{Shop.Day}/board", "/sign-in" })
        {
            using var answer = await tamsin.Client.SendAsync(new(new(method), path));
            Assert.Equal(HttpStatusCode.MethodNotAllowed, answer.StatusCode);
        }
    }

    [Fact]
    public async Task A_head_is_answered_like_its_page()
    {
        var tamsin = await Shop.Manager();
        foreach (var path in new[]
        {
            "/mail",
            "/people",
            "/store",
            "/machines",
            "/pin",
            $"{Shop.Day}/board",
            $"{Shop.Day}/deposit",
            "/customers",
            "/span"
        })
        {
            using var answer = await tamsin.Client.SendAsync(new(HttpMethod.Head, path));
            Assert.Equal(HttpStatusCode.OK, answer.StatusCode);
        }
    }
}
