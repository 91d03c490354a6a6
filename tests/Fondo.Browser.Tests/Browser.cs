using System.Text.Json;
using OpenQA.Selenium;
using OpenQA.Selenium.Chrome;

namespace Fondo.Browser.Tests;

/// <summary>Debian's Chromium, headless and offline, and what is checked on every page.</summary>
public sealed class Browser : IDisposable
{
    private static readonly string _axe = File.ReadAllText(Path.Combine(AppContext.BaseDirectory, "assets", "axe.min.js"));

    /// <summary>All that axe knows of WCAG 2.2 A and AA; and what of it a theme can change.</summary>
    private const string AllRules = "['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa']",
        RulesOfColour = "{ type: 'rule', values: ['color-contrast', 'link-in-text-block'] }";

    private readonly string _profile = Directory.CreateTempSubdirectory("fondo-chromium-").FullName;
    private readonly ChromeDriverService _service;

    public Browser()
    {
        Environment.SetEnvironmentVariable("SE_OFFLINE", "true");
        Environment.SetEnvironmentVariable("SE_AVOID_STATS", "true");

        // Driver path and binary location together: Selenium's own search for browsers never starts.
        _service = ChromeDriverService.CreateDefaultService("/usr/bin", "chromedriver");
        var options = new ChromeOptions { BinaryLocation = "/usr/bin/chromium" };
        options.AddArguments(
            "--headless=new", "--no-sandbox", "--disable-dev-shm-usage", "--disable-gpu", "--disable-quic", "--no-first-run",
            "--no-default-browser-check",
            "--disable-background-networking", "--disable-component-update", "--disable-sync", "--disable-extensions",
            "--metrics-recording-only",
            "--disable-features=Translate,OptimizationHints,MediaRouter,DialMediaRouteProvider",
            "--host-resolver-rules=MAP * ~NOTFOUND, EXCLUDE 127.0.0.1, EXCLUDE localhost",
            "--force-prefers-reduced-motion", "--force-device-scale-factor=1", "--window-size=1280,800", "--lang=en-US",
            $"--user-data-dir={_profile}");
        options.SetLoggingPreference("browser", LogLevel.All);
        Driver = new ChromeDriver(_service, options, TimeSpan.FromSeconds(60));
        Size(1280, 800);
    }

    public ChromeDriver Driver { get; }

    public void Size(int width, int height) => Driver.ExecuteCdpCommand(
        "Emulation.setDeviceMetricsOverride",
        new Dictionary<string, object?> { ["width"] = width, ["height"] = height, ["deviceScaleFactor"] = 1, ["mobile"] = false });

    /// <summary>Types as a hand would, wherever the focus is.</summary>
    public void Press(params string[] keys)
    {
        foreach (var key in keys)
        {
            Driver.SwitchTo().ActiveElement().SendKeys(key);
        }
    }

    public string Text(string selector = "main") => Driver.FindElement(By.CssSelector(selector)).Text;

    /// <summary>Waits until the page says so.</summary>
    public void Until(Func<bool> holds, string what)
    {
        var end = DateTime.UtcNow.AddSeconds(90); // nothing here is about how long it takes
        while (DateTime.UtcNow < end)
        {
            try
            {
                if (holds())
                {
                    return;
                }
            }
            catch (WebDriverException)
            {
                // the page is just being replaced
            }

            Thread.Sleep(25);
        }

        Assert.Fail(
            $"{what}; the focus is at {Driver.SwitchTo().ActiveElement().TagName} {Driver.SwitchTo().ActiveElement().Text}; the log: "
                + $"{string.Join(" / ", Driver.Manage().Logs.GetLog("browser").Select(e => e.Message))}; the page at {Driver.Url} says: "
                + $"{Text("main")}");
    }

    public void UntilSays(string text) => Until(() => Text().Contains(text, StringComparison.Ordinal), $"“{text}” was not said");

    /// <summary>No violation of WCAG 2.2 AA that axe finds, in both themes, and nothing in the browser's log (a breach of the content
    /// policy lands there too).</summary>
    public void Check(string view)
    {
        Driver.ExecuteScript(_axe);
        Driver.Manage().Timeouts().AsynchronousJavaScript = TimeSpan.FromSeconds(30);
        var theme = Driver.ExecuteScript("return document.documentElement.dataset.theme");
        foreach (var (shown, rules) in new[] { ("dark", AllRules), ("light", RulesOfColour) })
        {
            Driver.ExecuteScript("document.documentElement.dataset.theme = arguments[0]", shown);
            var json = (string)Driver.ExecuteAsyncScript(
                $$"""
                const done = arguments[arguments.length - 1];
                axe.run(document, { runOnly: {{rules}}, resultTypes: ['violations'] })
                  .then(r => done(JSON.stringify(r.violations.map(v => v.id + ' [' + v.impact + '] ' + v.nodes.map(n => n.target.join(' ')).join(', ')))))
                  .catch(e => done(JSON.stringify(['axe failed: ' + e])));
                """)!;
            Assert.True(json == "[]", $"{view}, {shown}: {string.Join("\n", JsonSerializer.Deserialize<List<string>>(json)!)}");
        }

        Driver.ExecuteScript("document.documentElement.dataset.theme = arguments[0]", theme);
        var errors = Driver.Manage().Logs.GetLog("browser").Where(e => e.Level >= LogLevel.Warning && !IsGivenUp(e.Message))
            .Select(e => e.Message).ToList();
        Assert.True(errors.Count == 0, $"{view}: {string.Join("\n", errors)}");
        Assert.Equal(0L,
            (long)Driver.ExecuteScript("return document.documentElement.scrollWidth > document.documentElement.clientWidth ? 1 : 0")!);
    }

    /// <summary>A page that is left gives up what it was asking for: that is no error.</summary>
    private static bool IsGivenUp(string message) =>
        // It says so twice: that the request is over, and how.
        message.Contains("htmx:afterRequest", StringComparison.Ordinal)
            || message.Contains("htmx:sendError", StringComparison.Ordinal) || message.Contains("htmx:sendAbort", StringComparison.Ordinal)
            || message.Contains("net::ERR_ABORTED", StringComparison.Ordinal);

    public void Dispose()
    {
        Driver.Quit();
        Driver.Dispose();
        _service.Dispose();
        Directory.Delete(_profile, recursive: true);
    }
}
