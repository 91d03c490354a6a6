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
        browser.Press(name[..1].ToLowerInvariant());
        Assert.Contains(name, browser.Driver.FindElement(By.CssSelector(".people label:has(:checked)")).Text, StringComparison.Ordinal);
        browser.Press(Keys.Enter, pin, Keys.Enter);
        browser.Until(() => browser.Text("header").Contains(name, StringComparison.Ordinal), "nobody was signed in");
    }

    /// <summary>Types the sheet from the first row down, as far as asked.</summary>
    private void TypeCount(int rows = int.MaxValue)
    {
        var drawer = Host.Made.Uncounted;
        var order = browser.Driver.FindElements(By.CssSelector(".count input[data-worth]"))
            .Select(i => long.Parse(i.GetAttribute("data-worth")!, CultureInfo.InvariantCulture)).ToList();
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
            string[] typed = [
                "25",
                "2*",
                "7.50",
                "7,50",
                "1,200",
                "226.8/",
                "2*+13-1",
                "3-5",
                "5..0",
                "229.5/",
                .. Enumerable.Range(0, 80).Select(_ => string.Concat(Enumerable.Range(0, random.Next(1, 8))
                    .Select(_ => signs[random.Next(signs.Length)])))
            ];
            var shown = (IReadOnlyCollection<object?>)browser.Driver.ExecuteScript(
                """
                const input = document.querySelector(`[data-worth="${arguments[0]}"]`);
                const row = { ...input.dataset, ...input.form.dataset, table: input.closest('table').dataset };
                return arguments[1].map((text) => { const pieces = piecesOf(text, row); return Number.isNaN(pieces) ? null : pieces; });
                """, kind.Worth.Minor, typed)!;
            foreach (var (text, pieces) in typed.Zip(shown))
            {
                var read = Fondo.Core.Cash.CountSheet.Row(text, kind, setup, Fondo.Core.Amounts.Scale.Standard);
                Assert.True(read.Fault is null
                    ? pieces is not null && Convert.ToInt64(pieces, CultureInfo.InvariantCulture) == read.Pieces
                    : pieces is null,
                    $"{kind.Worth.Minor} «{text}»: the page shows {pieces}, the core reads {read.Pieces} {read.Fault}");
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
            NothingIsCovered();
            browser.Size(820, 1000);
            NothingIsCovered();
        }
        finally
        {
            browser.Size(1280, 800);
        }
    }

    /// <summary>Whatever is typed into, the total and the button: each is what lies at its own middle, once it is gone to.</summary>
    private void NothingIsCovered()
    {
        var covered = (IReadOnlyCollection<object>)((IJavaScriptExecutor)browser.Driver).ExecuteScript("""
            const isSeen = (e) => e.offsetParent && e.type !== "hidden";
            const lies = (e) => {
              const box = e.getBoundingClientRect();
              const at = document.elementFromPoint(box.x + box.width / 2, box.y + box.height / 2);
              return at === e || e.contains(at);
            };
            const name = (e) => e.name || e.className || e.tagName;
            const typed = [...document.querySelectorAll("form.count input, form.count select")].filter(isSeen);
            document.activeElement.blur();
            const covered = typed.filter((e) => { e.focus(); return !lies(e); }).map(name);
            typed[0].focus();
            for (const e of document.querySelectorAll("form.count .total, form.count [type=submit]")) {
              e.scrollIntoView({ block: "nearest" });
              if (!lies(e)) covered.push(name(e));
            }
            return typed.length > 15 ? covered : ["too few fields"];
            """)!;
        Assert.Empty(covered);
    }

    /// <summary>Terminals that agree are settled with one press.</summary>
    [Fact]
    public void The_evening_is_settled_by_one_press()
    {
        SignIn("Odile Marchetti", "2580");
        browser.UntilSays("cells are off");
        browser.Press("e");
        browser.UntilSays("One terminal waits to be settled again");
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

    /// <summary>From the safe to the sealed deposit in at most fifteen presses, two people's; then on to the bank and back.</summary>
    [Fact]
    public void A_deposit_is_prepared_in_fifteen_presses()
    {
        SignIn("Odile Marchetti", "2580");
        Open("/2026-11-21/safe");
        var presses = 0;
        void Press(params string[] keys)
        {
            browser.Press(keys);
            presses += keys.Sum(k => k.Length > 1 && k.All(char.IsAsciiDigit) ? k.Length : 1);
        }

        Press("p");
        browser.Until(() => browser.Driver.Url.EndsWith("/deposit", StringComparison.Ordinal), "no deposit was proposed");
        browser.Check("the deposit");
        Press("70499", Keys.Tab, Keys.Tab, "7410", Keys.Control + Keys.Enter);
        browser.Until(() => browser.Driver.Url.EndsWith("/deposit/1", StringComparison.Ordinal), "it was not sealed");
        Assert.InRange(presses, 1, 15);
        Assert.Contains("in bag 70499", browser.Text("h1"), StringComparison.Ordinal);
        browser.Press(Keys.Escape);
        browser.Until(() => browser.Driver.Url.EndsWith("/safe", StringComparison.Ordinal), "Esc did not lead back");
        browser.Press("n");
        browser.Until(() => browser.Driver.Url.EndsWith("/bank", StringComparison.Ordinal), "n did not lead to the bank");
        browser.Check("the bank");
        browser.Press(Keys.Escape);
        browser.Until(() => browser.Driver.Url.EndsWith("/safe", StringComparison.Ordinal), "Esc did not lead back");
        browser.Press("h");
        browser.Until(() => browser.Driver.Url.EndsWith("/money", StringComparison.Ordinal), "h did not lead to the money");
        browser.UntilSays("Sealed deposits in the safe");
    }

    /// <summary>The main half hour: the last drawer counted, every trouble taken with one key, signed by a second person, checks and holds
    /// answered, closed.
    /// At most sixty presses beside the digits of the count and of the PIN.</summary>
    [Fact]
    public async Task From_the_board_to_the_closed_day_in_sixty_presses()
    {
        SignIn("Odile Marchetti", "2580");
        browser.UntilSays($"{Host.Off} cells are off");
        browser.Check("the board");
        _presses = 0;
        CountTheDrawerThatWaits();
        TakeEachTrouble();
        SignThem();
        AnswerHoldsAndChecks();
        CloseTheDay();
        Assert.InRange(_presses, 1, 60);
        browser.Check("the close document");

        // The back button asks the server again, and the day stays closed.
        browser.Driver.Navigate().Back();
        browser.UntilSays("The day is closed, number 1.");
        Assert.Empty(browser.Driver.FindElements(By.XPath("//button[contains(., 'Close the day')]")));

        await TheNextDayBegins();
        OpenAgainAndClose();
    }

    /// <summary>Beside the digits of counts and PINs.</summary>
    private int _presses;

    private void Press(params string[] keys)
    {
        browser.Press(keys);
        _presses += keys.Sum(k => k.Length);
    }

    private void PressControlEnter()
    {
        browser.Press(Keys.Control + Keys.Enter);
        _presses += 2;
    }

    private void CountTheDrawerThatWaits()
    {
        Press("c");
        browser.UntilSays("One drawer waits");
        Press("o");
        browser.Until(() => browser.Driver.FindElements(By.CssSelector(".count input[data-worth]")).Count > 0, "no sheet came");
        foreach (var worth in browser.Driver.FindElements(By.CssSelector(".count input[data-worth]"))
            .Select(i => long.Parse(i.GetAttribute("data-worth")!, CultureInfo.InvariantCulture)).ToList())
        {
            if (Host.Made.Uncounted.Pieces.GetValueOrDefault(worth) is > 0 and var pieces)
            {
                browser.Press(pieces.ToString(CultureInfo.InvariantCulture));
            }

            Press(Keys.Enter);
        }

        foreach (var (number, amount) in Host.Made.Uncounted.Checks)
        {
            browser.Press(number);
            Press(Keys.Enter);
            browser.Press(Text(amount));
            _presses++; // the point
            Press(Keys.Enter, Keys.Enter);
        }

        PressControlEnter();
        browser.UntilSays("the drawer proves");
        browser.Check("declared against expected");
    }

    /// <summary>Each trouble in turn: the best explanation lies open, and one key takes it.</summary>
    private void TakeEachTrouble()
    {
        Press("b");
        browser.UntilSays("Where to look first");
        Press("o");
        for (var cells = 0; cells < Host.Off; cells++)
        {
            browser.Until(() => browser.Driver.FindElements(By.CssSelector(".lead.first, .signing")).Count > 0,
                "neither a lead nor the list came");
            if (browser.Driver.FindElements(By.CssSelector(".signing")).Count > 0)
            {
                break;
            }

            browser.Check($"the cell {browser.Driver.Url}");
            Press("1");
            browser.UntilSays("The entry is made");
            Press("n");
            browser.Until(() => browser.Driver.FindElements(By.CssSelector(".notice")).Count == 0, "n did not lead on");
        }
    }

    private void SignThem()
    {
        browser.UntilSays("entries wait for a second person");
        browser.Check("approvals");
        for (var waiting = browser.Driver.FindElements(By.CssSelector("[name=entry]")).Count; waiting > 0; waiting--)
        {
            Press(Keys.Space);
        }

        browser.Press("7410");
        Press(Keys.Enter);
        browser.UntilSays("Tamsin Okafor signed");
    }

    private void AnswerHoldsAndChecks()
    {
        Press("n");
        browser.UntilSays("was put on hold and never recalled");
        browser.Check("gates that are open");

        Press("o");
        browser.UntilSays("On hold today");
        browser.Check("carried");
        PressControlEnter();
        browser.UntilSays("The item is carried and has an owner");
        Press("n");
        browser.UntilSays("a fee where none may be taken");
        Press("o");
        browser.UntilSays("ticket finding");
        browser.Check("ticket checks");
        PressControlEnter();
        browser.UntilSays("The answer is saved");
    }

    private void CloseTheDay()
    {
        Press("n");
        browser.UntilSays("Every gate is green");
        Press("g");
        browser.UntilSays("signed off by Odile");
        browser.Check("the gates");
        PressControlEnter();
        browser.UntilSays("close number 1");
    }

    /// <summary>The next day begins with its first drawer, and has what was carried, with its owner.</summary>
    private async Task TheNextDayBegins()
    {
        _host.Wait(TimeSpan.FromHours(11));
        await _host.Send("L2",
            """{"id":"L2-770001","register":"L2","drawer":"L2-X","cashier":"p11","at":"2026-11-22T08:00:00-05:00","kind":"open","amount":"200.00"}""");
        SignIn("Odile Marchetti", "2580");
        Open("/2026-11-22/board");
        browser.UntilSays("carried from 2026-11-21");
        browser.UntilSays("waits for Odile Marchetti");
        browser.Check("the next day");
        Open("/2026-11-22/carried");
        browser.UntilSays("Two carried items from earlier days");
        browser.Check("carried here");
    }

    /// <summary>Opened again by a manager, and closed once more: both revisions stay readable.</summary>
    private void OpenAgainAndClose()
    {
        Open("/2026-11-21/close");
        browser.Driver.FindElement(By.CssSelector(".reopen summary")).Click();
        browser.Driver.FindElement(By.CssSelector(".reopen [name=pin]")).SendKeys("7410");
        browser.Driver.FindElement(By.CssSelector(".reopen [name=reason]")).SendKeys("a bag was found" + Keys.Enter);
        browser.UntilSays("The day is open again");
        browser.Press(Keys.Control + Keys.Enter);
        browser.UntilSays("close number 2");
        Open("/2026-11-21/close/revisions");
        browser.UntilSays("This day was closed two times");
        browser.UntilSays("a bag was found");
        browser.Check("revisions");
    }

    /// <summary>The keys are shown by one key; a reload in the middle of a count loses nothing; what stays for tomorrow is
    /// proposed.</summary>
    [Fact]
    public void The_count_of_the_last_drawer()
    {
        SignIn("Odile Marchetti", "2580");
        browser.UntilSays($"{Host.Off} cells are off");
        browser.Press("?");
        browser.Until(() => browser.Text("dialog").Contains("from cell to cell", StringComparison.Ordinal), "the keys were not shown");
        browser.Press(Keys.Escape);
        browser.Press("c");
        browser.UntilSays("One drawer waits");
        browser.Check("the drawers");
        Open("/2026-11-21/count/L4-A");
        TypeCount(rows: 4);
        var soFar = browser.Text(".total b");
        browser.Driver.Navigate().Refresh();
        browser.Until(() => browser.Driver.FindElements(By.CssSelector(".total b")).Count > 0 && browser.Text(".total b") == soFar,
            "what was typed is lost");
        Assert.NotEqual("0.00", soFar);
        browser.Check("the count");
        foreach (var input in browser.Driver.FindElements(By.CssSelector(".count input[data-worth]")))
        {
            input.Clear();
        }

        browser.Driver.FindElement(By.CssSelector(".count input[data-worth]")).SendKeys("");
        TypeCount();
        browser.Until(() => browser.Text(".total b")
            .Replace(",", "", StringComparison.Ordinal) == Text(Host.Made.Uncounted.Pieces.Sum(p => p.Key * p.Value)),
            "the running sum is off");
        browser.Press(Keys.Control + Keys.Enter);
        browser.UntilSays("the drawer proves");
        browser.Press("l");
        browser.Until(() => browser.Driver.FindElements(By.CssSelector(".total b")).Count == 2 && browser.Text(".total b") == "200.00",
            "the float was not proposed");
        browser.Check("the float that stays");
        browser.Press(Keys.Control + Keys.Enter);
        browser.UntilSays("Odile Marchetti left 200.00 for the next session");
    }

    /// <summary>An entry by hand, kind by kind, and what it would leave; taken back with a reason.</summary>
    [Fact]
    public void An_entry_is_made_by_hand_and_taken_back()
    {
        SignIn("Odile Marchetti", "2580");
        Open("/2026-11-21/cell/L2/-/credit");
        browser.UntilSays("was run on T-03");
        foreach (var key in new[] { "m", "u", "y", "l", "a" })
        {
            browser.Press(key);
            browser.Until(() => browser.Driver.FindElement(By.CssSelector($"[data-entry-key={key}]")).Selected, $"{key} chose nothing");
            Assert.Equal("Amount", browser.Driver.SwitchTo().ActiveElement().GetAttribute("name"));
            browser.Check($"the form of {key}");
            browser.Driver.ExecuteScript("document.activeElement.blur()");
        }

        browser.Press("r", Keys.Home);
        const string wanted = "L3/-/credit";
        for (var i = 0; i < 12 && browser.Driver.SwitchTo().ActiveElement().GetAttribute("value") != wanted; i++)
        {
            browser.Press(Keys.ArrowDown); // what is off stands first in the list
        }

        Assert.Equal(wanted, browser.Driver.SwitchTo().ActiveElement().GetAttribute("value"));
        browser.Press(Keys.Tab, Keys.Control + "a", "-13.31");
        browser.Until(() => browser.Text("#bridge").Contains("Nothing is left", StringComparison.Ordinal), "the bridge did not follow");
        browser.Press(Keys.Tab, "run on the neighbour’s terminal", Keys.Control + Keys.Enter);
        browser.UntilSays("that is explained");
        browser.Driver.FindElement(By.XPath("//summary[. = 'Reverse']")).SendKeys(Keys.Enter);
        browser.Driver.FindElement(By.CssSelector(".take-back [name=reason]")).SendKeys("it was another card" + Keys.Enter);
        browser.UntilSays("The entry is reversed");
        browser.UntilSays("short 13.31");
    }

    /// <summary>By mouse alone: a lead is taken, a pair is parted, a row is explained, the bridge is opened.</summary>
    [Fact]
    public void Every_step_is_also_done_by_mouse()
    {
        SignIn("Odile Marchetti", "2580");
        browser.UntilSays($"{Host.Off} cells are off");
        void Click(string selector) => browser.Driver.FindElement(By.CssSelector(selector)).Click();
        browser.Driver.ExecuteScript("document.querySelector('[data-board] td a').focus()");
        browser.Press("x");
        browser.Until(() => browser.Text("#row-says").Contains("cells prove", StringComparison.Ordinal), "the row was not said in words");
        Click("tr.sum a");
        browser.UntilSays("From expected to proved");
        browser.Check("the bridge");
        Click("[data-escape]");
        browser.UntilSays("Where to look first");
        Click("td a[href*='/L2/-/credit']");
        browser.UntilSays("was run on T-03");
        Click(".take button");
        browser.UntilSays("that is explained");
        Click("a[href*='/slips/']");
        browser.UntilSays("A photo or scan");
        browser.Check("slips");
        Open("/2026-11-21/pairing?register=L2");
        browser.UntilSays("from the journal");
        browser.Check("pairing");
        Click("[name=item][data-side=journal]");
        browser.Until(() => browser.Text("[data-sum]").StartsWith("1 of the journal", StringComparison.Ordinal),
            "what was chosen was not said");
        browser.Driver.FindElement(By.CssSelector(".pairing-act [name=reason]")).SendKeys("another card");
        Click("button[value=Part]");
        browser.UntilSays("The items are unmatched");
        browser.UntilSays("parted");
    }

    /// <summary>What comes in shows on the board without a reload, and the focus stays where it is.</summary>
    [Fact]
    public void The_board_follows_without_moving_under_the_hand()
    {
        SignIn("Odile Marchetti", "2580");
        browser.UntilSays($"{Host.Off} cells are off");
        browser.Driver.ExecuteScript("document.querySelector('td a[href*=\"/L2/-/credit\"]').focus()");
        var window = browser.Driver.CurrentWindowHandle;
        browser.Driver.SwitchTo().NewWindow(WindowType.Tab);
        Open("/2026-11-21/cell/L2/-/credit");
        browser.UntilSays("was run on T-03");
        browser.Press("1");
        browser.UntilSays("that is explained");
        browser.Driver.Close();
        browser.Driver.SwitchTo().Window(window);
        browser.Until(() => browser.Driver.FindElement(By.CssSelector("td a[href*='/L2/-/credit']")).GetAttribute("aria-label")!
            .Contains("explained", StringComparison.Ordinal), "the board did not follow");
        Assert.Contains("/L2/-/credit", browser.Driver.SwitchTo().ActiveElement().GetAttribute("href"), StringComparison.Ordinal);
        browser.UntilSays($"{Host.Off - 2} cells are off");
    }

    [Fact]
    public void A_cashier_counts_on_a_tablet_held_upright()
    {
        browser.Size(820, 1180);
        try
        {
            SignIn("Esme Whitlock", "1590");
            browser.UntilSays("One drawer waits");
            Assert.Empty(browser.Driver.FindElements(By.LinkText("Store")));
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

    /// <summary>The morning: a register opened with a float that is short, a ticket rung at the stand-in, seen while watching, found, and
    /// sent again.</summary>
    [Fact]
    public void The_day_from_the_opening_on_by_keyboard()
    {
        SignIn("Odile Marchetti", "2580");
        browser.UntilSays("cells are off");
        browser.Press("s");
        browser.UntilSays("All floats are right");
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

    /// <summary>A session that ends while somebody types: after signing in they are where they were, with what they typed; and Esc takes
    /// nothing away.</summary>
    [Fact]
    public void A_session_that_ends_in_the_middle_takes_nothing_that_was_typed()
    {
        SignIn("Odile Marchetti", "2580");
        browser.UntilSays($"{Host.Off} cells are off");
        const string Cell = "/2026-11-21/cell/L3/L3-A/cash", Count = "/2026-11-21/count/L4-A";
        IWebElement Reason() => browser.Driver.FindElement(By.CssSelector("form.entry [name=Reason]"));
        Open(Cell + "?fill=true");
        Reason().SendKeys("the till was moved");
        browser.Driver.Manage().Cookies.DeleteCookieNamed("fondo");
        Reason().SendKeys(Keys.Control + Keys.Enter);
        browser.UntilSays("Who is there?");
        browser.Driver.FindElement(By.CssSelector("input[name=Who][value=p01]")).SendKeys(Keys.Space);
        browser.Driver.FindElement(By.Name("Pin")).SendKeys("2580" + Keys.Enter);
        browser.UntilSays("What you typed here is back");
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
        browser.Until(() => browser.Driver.FindElements(By.Name("p2000")) is [var row] && row.GetAttribute("value") == "12",
            "the count did not come back");

        // A full card number is kept nowhere.
        Open(Cell + "?fill=true");
        Reason().Clear();
        Reason().SendKeys("4000 0000 0000 0002 12/26");
        var kept = (string)((IJavaScriptExecutor)browser.Driver)
            .ExecuteScript("return JSON.stringify(Object.entries(sessionStorage).concat(Object.entries(localStorage)))")!;
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
        browser.Until(() => new Uri(browser.Driver.Url).AbsolutePath.Contains("/cell/", StringComparison.Ordinal),
            "Enter did not open the cell");
        foreach (var page in new[]
        {
            "/days",
            "/people",
            "/machines",
            "/pin",
            "/trail",
            "/take-in",
            "/2026-11-21/take-in",
            "/2026-11-21/close",
            "/2026-11-21/open",
            "/2026-11-21/open/L2",
            "/2026-11-21/count/L3-A/float",
            "/2026-11-21/watch",
            "/2026-11-21/journal",
            "/2026-11-21/drawer/L2-A",
            "/find?q=37",
            "/store",
            "/store/connect",
            "/store/shop",
            "/store/registers",
            "/store/tenders",
            "/store/people",
            "/store/rules",
            "/store/prices",
            "/store/bank",
            "/store/processors",
            "/stand-ins/mailbox"
        })
        {
            Open(page);
            browser.Check(page);
        }

        browser.Driver.Manage().Cookies.DeleteAllCookies();
        Open("/sign-in");
        browser.Check("the door");
    }
}
