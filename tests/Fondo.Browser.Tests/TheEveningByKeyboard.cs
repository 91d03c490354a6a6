using System.Globalization;
using OpenQA.Selenium;

namespace Fondo.Browser.Tests;

/// <summary>A supervisor's evening from the door to the closed day, by keyboard alone.</summary>
public sealed class TheEveningByKeyboard(Browser browser) : IDisposable
{
    private readonly Host _host = new();

    /// <summary>The page goes before its server does: what it asks for by itself would be a fault of the next test.</summary>
    public void Dispose()
    {
        browser.Driver.Navigate().GoToUrl("about:blank");
        _host.Dispose();
        browser.Driver.Manage().Logs.GetLog("browser");
    }

    private static string Text(long minor) => (minor / 100m).ToString("0.00", CultureInfo.InvariantCulture);

    private void SignIn(string name, string pin)
    {
        browser.Driver.Manage().Cookies.DeleteAllCookies();
        browser.Driver.Navigate().GoToUrl(_host.Address);
        browser.UntilSays("Who is there?");
        var radio = browser.Driver.FindElement(By.XPath($"//label[contains(., '{name}')]/input"));
        radio.SendKeys(Keys.Space);
        browser.Press(Keys.Tab, pin, Keys.Enter);
        browser.Until(() => browser.Text("header").Contains(name, StringComparison.Ordinal), "nobody was signed in");
    }

    /// <summary>Types the sheet from the first row down, as far as asked.</summary>
    private void TypeCount(int rows = int.MaxValue)
    {
        var drawer = Host.Made.Uncounted;
        var order = browser.Driver.FindElements(By.CssSelector(".count input[data-worth]")).Select(i => long.Parse(i.GetAttribute("data-worth")!, CultureInfo.InvariantCulture)).ToList();
        foreach (var worth in order.Take(rows))
        {
            var pieces = drawer.Pieces.GetValueOrDefault(worth);
            browser.Press(pieces == 0 ? Keys.Enter : pieces > 20 ? $"20+{pieces - 20}{Keys.Enter}" : $"{pieces}{Keys.Enter}");
        }

        if (rows == int.MaxValue)
        {
            foreach (var (number, amount) in drawer.Checks)
            {
                browser.Press(number + Keys.Enter, Text(amount) + Keys.Enter, Keys.Enter);
            }

            if (drawer.Coupons > 0)
            {
                browser.Driver.FindElement(By.Name("scoupon")).SendKeys(Text(drawer.Coupons));
            }
        }
    }

    private void Open(string path)
    {
        browser.Driver.Navigate().GoToUrl(new Uri(_host.Address, path));
        browser.Until(() => browser.Driver.FindElements(By.Id("main")).Count > 0, "no page came");
    }

    /// <summary>Twelve denominations and three checks: at most forty presses beside the digits, from the sheet to the result.</summary>
    [Fact]
    public void A_practised_hand_counts_a_full_drawer_in_few_presses()
    {
        SignIn("Esme Whitlock", "1590");
        Open("/2026-11-21/count/L4-A");
        var presses = 0;
        void Type(string digits, params string[] keys)
        {
            browser.Press([digits, .. keys]);
            presses += keys.Length + digits.Count(c => !char.IsAsciiDigit(c));
        }

        for (var row = 1; row <= 12; row++)
        {
            Type($"{row * 3}", Keys.Enter);
        }

        for (var check = 1; check <= 3; check++)
        {
            Type($"10{check}", Keys.Enter);
            Type($"{check}1.50", Keys.Enter, Keys.Enter);
        }

        browser.Press(Keys.Control + Keys.Enter);
        presses += 2;
        browser.UntilSays("Please count the drawer once more");
        Assert.InRange(presses, 1, 40);
        Assert.Equal("input", browser.Driver.SwitchTo().ActiveElement().TagName);
    }

    /// <summary>What the page shows while one types is what the core reads.</summary>
    [Fact]
    public void The_sheet_shows_what_the_core_reads()
    {
        SignIn("Esme Whitlock", "1590");
        Open("/2026-11-21/count/L4-A");
        var setup = Fondo.Core.Amounts.Currency.Of("USD");
        var random = new Random(7);
        const string signs = "0123456789..**//++--g ";
        foreach (var kind in Fondo.Core.Amounts.Denominations.Of(setup))
        {
            string[] typed = ["25", "2*", "7.50", "226.8/", "2*+13-1", "3-5", "5..0", "229.5/", .. Enumerable.Range(0, 80).Select(_ => string.Concat(Enumerable.Range(0, random.Next(1, 8)).Select(_ => signs[random.Next(signs.Length)])))];
            var shown = (IReadOnlyCollection<object?>)browser.Driver.ExecuteScript(
                """
                const input = document.querySelector(`[data-worth="${arguments[0]}"]`);
                const row = { ...input.dataset, ...input.form.dataset, table: input.closest('table').dataset };
                return arguments[1].map((text) => { const pieces = piecesOf(text, row); return Number.isNaN(pieces) ? null : pieces; });
                """, kind.Worth.Minor, typed)!;
            foreach (var (text, pieces) in typed.Zip(shown))
            {
                var read = Fondo.Core.Cash.CountSheet.Row(text, kind, setup, Fondo.Core.Amounts.Scale.Standard);
                Assert.True(read.Objection is null ? pieces is not null && Convert.ToInt64(pieces, CultureInfo.InvariantCulture) == read.Pieces : pieces is null, $"{kind.Worth.Minor} «{text}»: the page shows {pieces}, the core reads {read.Pieces} {read.Objection}");
            }
        }
    }

    /// <summary>On a tablet a thumb does it.</summary>
    [Fact]
    public void A_thumb_counts_on_a_tablet()
    {
        browser.Size(820, 1180);
        try
        {
            SignIn("Esme Whitlock", "1590");
            Open("/2026-11-21/count/L4-A");
            foreach (var key in new[] { "1", "2", "next", "2", "*", "+", "3", "back", "4", "next" })
            {
                var button = browser.Driver.FindElement(By.CssSelector($"[data-pad='{key}']"));
                Assert.True(button.Size.Height >= 48);
                button.Click();
            }

            var inputs = browser.Driver.FindElements(By.CssSelector(".count input[data-worth]"));
            Assert.Equal(["12", "2*+4"], inputs.Take(2).Select(i => i.GetAttribute("value")!));
            browser.Check("the count on a tablet");
        }
        finally
        {
            browser.Size(1280, 800);
        }
    }

    /// <summary>Terminals that agree are settled with one press.</summary>
    [Fact]
    public void The_evening_is_settled_by_one_press()
    {
        SignIn("Odile Marchetti", "2580");
        browser.UntilSays("cells are off");
        browser.Press("e");
        browser.UntilSays("Every terminal has settled; one has more since.");
        browser.Check("settling");
        browser.Press(Keys.Control + Keys.Enter);
        browser.UntilSays("Everything is settled.");
        browser.UntilSays("settled here at");
        browser.Check("settled");
        Open("/batches?from=2026-11-21&to=2026-11-21");
        browser.UntilSays("11 batches in these days.");
        browser.Check("batches");
        Open("/mappings");
        browser.Check("mappings");
        Open("/2026-11-21/open-items");
        browser.Check("open card items");
    }

    [Fact]
    public void From_the_door_to_the_closed_day()
    {
        SignIn("Odile Marchetti", "2580");
        browser.UntilSays($"{Host.Off} cells are off");
        browser.Check("the board");

        // The keys are shown by one key.
        browser.Press("?");
        browser.Until(() => browser.Text("dialog").Contains("from cell to cell", StringComparison.Ordinal), "the keys were not shown");
        browser.Press(Keys.Escape);

        // Count the drawer that waits; a reload in the middle loses nothing.
        browser.Press("c");
        browser.UntilSays("One drawer waits");
        browser.Check("the drawers");
        Open("/2026-11-21/count/L4-A");
        TypeCount(rows: 4);
        var soFar = browser.Text(".total b");
        browser.Driver.Navigate().Refresh();
        browser.Until(() => browser.Driver.FindElements(By.CssSelector(".total b")).Count > 0 && browser.Text(".total b") == soFar, "what was typed is lost");
        Assert.NotEqual("0.00", soFar);
        browser.Check("the count");
        foreach (var input in browser.Driver.FindElements(By.CssSelector(".count input[data-worth]")))
        {
            input.Clear();
        }

        browser.Driver.FindElement(By.CssSelector(".count input[data-worth]")).SendKeys("");
        TypeCount();
        browser.Until(() => browser.Text(".total b").Replace(",", "", StringComparison.Ordinal) == Text(Host.Made.Uncounted.Pieces.Sum(p => p.Key * p.Value)), "the running sum is off");
        browser.Press(Keys.Control + Keys.Enter);
        browser.UntilSays("the drawer proves");
        browser.Check("declared against expected");

        // What stays for tomorrow is proposed, piece by piece.
        browser.Press("l");
        browser.Until(() => browser.Driver.FindElements(By.CssSelector(".total b")).Count == 2 && browser.Text(".total b") == "200.00", "the float was not proposed");
        browser.Check("the float that stays");
        browser.Press(Keys.Control + Keys.Enter);
        browser.UntilSays("Odile Marchetti left 200.00 for the next session");

        // Each trouble in turn: the board's first advice, an entry by keyboard.
        foreach (var trouble in Host.Made.Troubles)
        {
            var (register, drawer, tender, variance) = trouble.Cells[0];
            Open($"/2026-11-21/cell/{register}/{drawer ?? "-"}/{tender}");
            browser.Check($"the cell of a {trouble.Kind}");
            if (trouble.Cells.Count > 1)
            {
                var other = trouble.Cells[1];
                var wanted = $"{other.Register}/{other.Drawer ?? "-"}/{other.Tender}";
                browser.Press("r", Keys.Home);
                for (var i = 0; i < 8 && browser.Driver.SwitchTo().ActiveElement().GetAttribute("value") != wanted; i++)
                {
                    browser.Press(Keys.ArrowDown); // what is off stands first in the list
                }

                Assert.Equal(wanted, browser.Driver.SwitchTo().ActiveElement().GetAttribute("value"));
                browser.Press(Keys.Tab);
            }
            else
            {
                browser.Press(trouble.Kind == "drop-not-recorded" ? "m" : "a");
            }

            browser.Press(Keys.Control + "a", Text(variance));
            browser.Until(() => browser.Text("#bridge").Contains("Nothing is left", StringComparison.Ordinal), "the bridge did not follow");
            browser.Press(Keys.Tab, "seen with both", Keys.Control + Keys.Enter);
            browser.UntilSays("The entry is made");
            if (browser.Driver.FindElements(By.CssSelector(".approve")).Count > 0)
            {
                Assert.Equal("p02", browser.Driver.FindElement(By.Name("approver")).GetAttribute("value")); // the only other one with the right
                browser.Driver.FindElement(By.Name("pin")).SendKeys("7410" + Keys.Enter);
                browser.UntilSays("The entry is approved");
            }

            browser.UntilSays("that is explained");
            browser.Check($"the explained cell of a {trouble.Kind}");
            browser.Press(Keys.Escape);
            browser.Until(() => browser.Driver.FindElements(By.CssSelector("[data-board]")).Count > 0, "Escape does not lead back to the board");
        }

        browser.UntilSays("Nothing is left to look at");
        browser.Press("k");
        browser.UntilSays("was put on hold and never recalled");
        browser.Check("a gate that is open");
        for (var i = 0; i < 30 && browser.Driver.SwitchTo().ActiveElement().Text != "Excuse with a reason"; i++)
        {
            browser.Press(Keys.Tab);
        }

        browser.Press(Keys.Enter, Keys.Tab, "the customer left", Keys.Enter);
        browser.UntilSays("Every gate is green");
        browser.Check("the gates");
        for (var i = 0; i < 30 && browser.Driver.SwitchTo().ActiveElement().Text != "Close the day"; i++)
        {
            browser.Press(Keys.Tab);
        }

        browser.Press(Keys.Enter);
        browser.UntilSays("close number 1");
        browser.Check("the close document");

        // The back button asks the server again, and the day stays closed.
        browser.Driver.Navigate().Back();
        browser.UntilSays("The day is closed, number 1.");
        Assert.Empty(browser.Driver.FindElements(By.XPath("//button[contains(., 'Close the day')]")));
    }

    [Fact]
    public void A_cashier_counts_on_a_tablet_held_upright()
    {
        browser.Size(820, 1180);
        try
        {
            SignIn("Esme Whitlock", "1590");
            browser.UntilSays("One drawer waits");
            Assert.Empty(browser.Driver.FindElements(By.LinkText("People")));
            Open("/2026-11-21/count/L4-A");
            browser.Check("the count, upright");
            TypeCount();
            browser.Press(Keys.Control + Keys.Enter);
            browser.UntilSays("the drawer proves");
            browser.Check("declared, upright");
        }
        finally
        {
            browser.Size(1280, 800);
        }
    }

    /// <summary>The morning: a register opened with a float that is short, a ticket rung at the stand-in, seen while watching, found, and sent again.</summary>
    [Fact]
    public void The_day_from_the_opening_on_by_keyboard()
    {
        SignIn("Odile Marchetti", "2580");
        browser.UntilSays("cells are off");
        browser.Press("s");
        browser.UntilSays("The floats are as they should be");
        Open("/2026-11-21/open/BK");
        browser.Press("7", Keys.Enter);
        browser.Press(Keys.Control + Keys.Enter);
        browser.UntilSays("Bakery Counter opened over 550.00: 700.00 by Odile Marchetti");
        browser.UntilSays("Bryn Halloran counted it last");

        Open("/stand-ins/register/BK");
        browser.Driver.FindElement(By.Name("sku")).SendKeys("M204" + Keys.Enter);
        browser.Until(() => browser.Text(".ticket").Contains("15.66", StringComparison.Ordinal), "the trowel was not rung");
        browser.Driver.FindElement(By.CssSelector("form[action*=Cash] button")).SendKeys(Keys.Enter);
        browser.Until(() => browser.Text(".says").Contains("is done", StringComparison.Ordinal), "the ticket was not paid");
        var ticket = browser.Text(".says").Split(' ').First(w => w.StartsWith("BK-", StringComparison.Ordinal));

        Open("/2026-11-21/watch");
        browser.UntilSays("BK-B");
        browser.UntilSays("715.66");
        browser.UntilSays("drop 560.00");
        browser.Check("watching");
        browser.Press("f");
        browser.Until(() => browser.Driver.FindElements(By.Name("q")).Count > 0, "f does not lead to finding");
        browser.Press("15.66");
        browser.UntilSays(ticket);
        browser.Check("finding");
        browser.Press(Keys.ArrowDown, Keys.Enter);
        browser.UntilSays("A sale of");
        browser.Check("a ticket");
        Assert.Contains("Hand trowel", browser.Text(".receipt"), StringComparison.Ordinal);
        browser.Driver.FindElement(By.Name("to")).SendKeys("customer@example.org" + Keys.Enter);
        browser.UntilSays("Sent to customer@example.org");
        browser.Press(Keys.Escape);
        browser.UntilSays("events that fit");
    }

    /// <summary>A session that ends while somebody types: after signing in they are where they were, with what they typed; and Esc takes nothing away.</summary>
    [Fact]
    public void A_session_that_ends_in_the_middle_takes_nothing_that_was_typed()
    {
        SignIn("Odile Marchetti", "2580");
        browser.UntilSays($"{Host.Off} cells are off");
        const string Cell = "/2026-11-21/cell/L3/L3-A/cash", Count = "/2026-11-21/count/L4-A";
        IWebElement Reason() => browser.Driver.FindElement(By.CssSelector("form.entry [name=Reason]"));
        Open(Cell);
        Reason().SendKeys("the till was moved");
        browser.Driver.Manage().Cookies.DeleteCookieNamed("fondo");
        Reason().SendKeys(Keys.Control + Keys.Enter);
        browser.UntilSays("Who is there?");
        browser.Driver.FindElement(By.CssSelector("input[name=Who][value=p01]")).SendKeys(Keys.Space);
        browser.Driver.FindElement(By.Name("Pin")).SendKeys("2580" + Keys.Enter);
        browser.UntilSays("What you had typed here is back");
        Assert.Equal("the till was moved", Reason().GetAttribute("value"));
        Reason().SendKeys(", twice" + Keys.Escape);
        Assert.Equal(Cell, new Uri(browser.Driver.Url).AbsolutePath); // out of the field first
        browser.Press(Keys.Escape);
        browser.UntilSays($"{Host.Off} cells are off");
        Open(Cell);
        Assert.Equal("the till was moved, twice", Reason().GetAttribute("value"));

        // A count: said without taking the focus, and kept on the machine.
        Open(Count);
        var twenties = browser.Driver.FindElement(By.Name("p2000"));
        twenties.SendKeys("1");
        browser.UntilSays("Saved ");
        browser.Driver.Manage().Cookies.DeleteCookieNamed("fondo");
        twenties.SendKeys("2");
        browser.UntilSays("Your session has ended");
        Assert.Equal("p2000", browser.Driver.SwitchTo().ActiveElement().GetAttribute("name"));
        browser.Driver.FindElement(By.CssSelector("#ended a")).Click();
        browser.UntilSays("Who is there?");
        browser.Driver.FindElement(By.CssSelector("input[name=Who][value=p01]")).SendKeys(Keys.Space);
        browser.Driver.FindElement(By.Name("Pin")).SendKeys("2580" + Keys.Enter);
        browser.Until(() => browser.Driver.FindElements(By.Name("p2000")) is [var row] && row.GetAttribute("value") == "12", "the count did not come back");

        // A full card number is kept nowhere.
        Open(Cell);
        Reason().Clear();
        Reason().SendKeys("4000 0000 0000 0002 12/26");
        var kept = (string)((IJavaScriptExecutor)browser.Driver).ExecuteScript("return JSON.stringify(Object.entries(sessionStorage).concat(Object.entries(localStorage)))")!;
        Assert.DoesNotContain("4000 0000 0000", kept, StringComparison.Ordinal);
        Reason().Clear();
        browser.Driver.Manage().Logs.GetLog(LogType.Browser); // it holds the refusals of this test
    }

    [Fact]
    public void Arrows_go_from_cell_to_cell_and_other_pages_are_accessible()
    {
        SignIn("Odile Marchetti", "2580");
        browser.UntilSays($"{Host.Off} cells are off");
        browser.Press(Keys.ArrowDown, Keys.ArrowDown, Keys.ArrowRight, Keys.Enter);
        browser.Until(() => new Uri(browser.Driver.Url).AbsolutePath.Contains("/cell/", StringComparison.Ordinal), "Enter did not open the cell");
        foreach (var page in new[] { "/days", "/people", "/machines", "/pin", "/trail", "/take-in", "/2026-11-21/take-in", "/2026-11-21/close", "/2026-11-21/open", "/2026-11-21/open/L2", "/2026-11-21/count/L3-A/float", "/2026-11-21/watch", "/2026-11-21/journal", "/2026-11-21/drawer/L2-A", "/find?q=37", "/store", "/stand-ins/mailbox" })
        {
            Open(page);
            browser.Check(page);
        }

        browser.Driver.Manage().Cookies.DeleteAllCookies();
        Open("/sign-in");
        browser.Check("the door");
    }
}
