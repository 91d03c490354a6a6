using System.Net;
using System.Net.Http.Headers;
using System.Text;
using AngleSharp;
using AngleSharp.Dom;

namespace Fondo.Rehearsal;

/// <summary>A page or a door did what it never should: an answer of 404 or 5xx, or no way on.</summary>
public sealed class DoorException(string message) : Exception(message);

/// <summary>A person's browser without a screen, over a real socket: keeps cookies, sends the token that the page gave it, follows
/// redirects.</summary>
public sealed class Browser : IDisposable
{
    private static readonly IBrowsingContext _parser = BrowsingContext.New(Configuration.Default);

    private readonly HttpClient _client;

    public Browser(Uri address) =>
        _client = new(new SocketsHttpHandler { AllowAutoRedirect = false, CookieContainer = new CookieContainer() })
        {
            BaseAddress = address,
            Timeout = TimeSpan.FromMinutes(10) // a machine with other work is no difference
        };

    /// <summary>Called before something is sent: time goes on while people work.</summary>
    public Action BeforeSending { get; init; } = () => { };

    /// <summary>How many requests it made.</summary>
    public int Acts { get; private set; }

    public void Dispose() => _client.Dispose();

    public async Task<IDocument> Page(string path)
    {
        using var answer = await Send(() => _client.GetAsync(path), path);
        return await Read(answer, path);
    }

    public async Task<string> Text(string path)
    {
        using var answer = await Send(() => _client.GetAsync(path), path);
        return answer.StatusCode == HttpStatusCode.OK
            ? await answer.Content.ReadAsStringAsync()
            : throw new DoorException($"GET {path}: {(int)answer.StatusCode}");
    }

    /// <summary>Posts a form as the page at <paramref name="from"/> would. The page that came; its objections are in
    /// <see cref="Objections"/>.</summary>
    public async Task<IDocument> Post(string path, IEnumerable<(string Name, string Value)> fields, string? from = null)
    {
        var token = await Token(from ?? path.Split('?')[0]);
        BeforeSending();
        var form = new FormUrlEncodedContent(fields.Append(("__RequestVerificationToken", token))
            .Select(f => KeyValuePair.Create(f.Item1, f.Item2)));
        using var answer = await Send(() => _client.PostAsync(path, form), path);
        return await Read(answer, path);
    }

    /// <summary>Sends files as the form on a page does.</summary>
    public async Task<IDocument> Upload(string page, string to, string field, IEnumerable<(string Name, string Text)> files,
        IEnumerable<(string Name, string Value)>? fields = null)
    {
        using var form = new MultipartFormDataContent { { new StringContent(await Token(page)), "__RequestVerificationToken" } };
        foreach (var (name, value) in fields ?? [])
        {
            form.Add(new StringContent(value), name);
        }

        foreach (var (name, text) in files)
        {
            form.Add(new ByteArrayContent(Encoding.UTF8.GetBytes(text)), field, name);
        }

        using var answer = await Send(() => _client.PostAsync(to, form), to);
        return await Read(answer, to);
    }

    /// <summary>A register sends a part of its journal with its key.</summary>
    public async Task<string> Journal(string register, string key, string lines)
    {
        using var request = new HttpRequestMessage(HttpMethod.Post, $"/api/registers/{register}/journal")
        {
            Content = new StringContent(lines, Encoding.UTF8, "application/jsonl")
        };
        request.Headers.Authorization = new AuthenticationHeaderValue("Bearer", key);
        using var answer = await Send(() => _client.SendAsync(request), request.RequestUri!.ToString());
        return answer.IsSuccessStatusCode
            ? await answer.Content.ReadAsStringAsync()
            : throw new DoorException($"journal of {register}: {(int)answer.StatusCode} {await answer.Content.ReadAsStringAsync()}");
    }

    /// <summary>What a page objects to.</summary>
    public static string Objections(IDocument page)
    {
        var said = Said(".objection");
        return said.Length == 0 ? "" : $"{said} {Said(".findings td")}".Trim();

        string Said(string of) => string.Join(" ", page.QuerySelectorAll(of).Select(o => o.TextContent.Trim()).Where(t => t.Length > 0));
    }

    /// <summary>What lies ready in the fields of a page's first form that has them.</summary>
    public static List<(string Name, string Value)> Fields(IParentNode form) =>
    [
        .. form.QuerySelectorAll("input[name]")
            .Where(i => i.GetAttribute("type") is not ("checkbox" or "radio" or "submit")
                && i.GetAttribute("name") != "__RequestVerificationToken")
            .Select(i => (i.GetAttribute("name")!, i.GetAttribute("value") ?? "")),
        .. form.QuerySelectorAll("select[name]")
            .Select(s =>
                (s.GetAttribute("name")!, (s.QuerySelector("option[selected]") ?? s.QuerySelector("option"))?.GetAttribute("value") ?? "")),
    ];

    private async Task<HttpResponseMessage> Send(Func<Task<HttpResponseMessage>> send, string what)
    {
        Acts++;
        var answer = await send();
        for (var hops = 0; (int)answer.StatusCode is 301 or 302 or 303 && hops < 5; hops++)
        {
            Acts++;
            var from = what;
            what = answer.Headers.Location!.ToString();
            if (what.Contains("/sign-in", StringComparison.Ordinal) && from != "/set-up")
            {
                throw new DoorException($"{from}: asks to sign in again");
            }

            answer.Dispose();
            answer = await _client.GetAsync(what);
        }

        return (int)answer.StatusCode is 404 or >= 500 ? throw new DoorException($"{what}: {(int)answer.StatusCode}") : answer;
    }

    private async Task<string> Token(string page) =>
        (await Page(page)).QuerySelector("input[name=__RequestVerificationToken]")?.GetAttribute("value")
            ?? throw new DoorException($"{page} has no form to send");

    private static async Task<IDocument> Read(HttpResponseMessage answer, string path)
    {
        if (answer.StatusCode != HttpStatusCode.OK)
        {
            throw new DoorException($"{path}: {(int)answer.StatusCode}");
        }

        var html = await answer.Content.ReadAsStringAsync();
        return await _parser.OpenAsync(r => r.Content(html).Address(answer.RequestMessage!.RequestUri!));
    }
}
