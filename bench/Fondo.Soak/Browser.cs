using System.Text.RegularExpressions;

namespace Fondo.Soak;

/// <summary>A person at the real pages: cookies, forms with the page's own token.</summary>
internal sealed partial class Browser : IDisposable
{
    private readonly HttpClient _client;

    public Browser(int port) => _client = new(new SocketsHttpHandler { AllowAutoRedirect = false, CookieContainer = new() })
    {
        BaseAddress = new($"http://127.0.0.1:{port}"),
        Timeout = TimeSpan.FromSeconds(60)
    };

    public void Dispose() => _client.Dispose();

    public async Task<string> Get(string path)
    {
        using var answer = await _client.GetAsync(path);
        return answer.StatusCode == HttpStatusCode.OK
            ? await answer.Content.ReadAsStringAsync()
            : throw new HttpRequestException($"{path}: {(int)answer.StatusCode}");
    }

    /// <summary>Posts a form; where it leads, or null when it did not go through.</summary>
    public async Task<string?> Post(string path, string from, Dictionary<string, string> fields)
    {
        fields["__RequestVerificationToken"] = Token(await Get(from));
        using var form = new FormUrlEncodedContent(fields);
        using var answer = await _client.PostAsync(path, form);
        return answer.StatusCode == HttpStatusCode.Redirect ? answer.Headers.Location!.ToString() : null;
    }

    public async Task<string?> Upload(string from, string name, byte[] bytes)
    {
        using var form = new MultipartFormDataContent
        {
            { new StringContent(Token(await Get(from))), "__RequestVerificationToken" },
            { new ByteArrayContent(bytes), "files", name }
        };
        using var answer = await _client.PostAsync("/take-in/files", form);
        return answer.StatusCode == HttpStatusCode.Redirect ? await Get(answer.Headers.Location!.ToString()) : null;
    }

    public async Task SignIn(string who, string pin)
    {
        if (await Post("/sign-in", "/sign-in", new() { ["Who"] = who, ["Pin"] = pin }) is null)
        {
            throw new HttpRequestException($"{who} could not sign in.");
        }
    }

    public static string Field(string page, string name) => Regex.Match(page,
        $"name=\"{name}\"[^>]*value=\"([^\"]*)\"") is { Success: true } m
        ? m.Groups[1].Value
        : throw new HttpRequestException($"no field {name}");

    private static string Token(string page) =>
        TokenField().Match(page) is { Success: true } m ? m.Groups[1].Value : throw new HttpRequestException("a page without a token");

    [GeneratedRegex("__RequestVerificationToken\" type=\"hidden\" value=\"([^\"]+)\"")]
    private static partial Regex TokenField();
}
