using System.Net;
using System.Text;
using AngleSharp.Dom;
using AngleSharp.Html.Dom;
using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;

namespace Fondo.Web.Tests;

/// <summary>A full card number typed into any field of any form is kept nowhere. The number is invented: its check digit fits, its issuer
/// does not exist.</summary>
public sealed class CardNumbersInForms : InOwnShop
{
    private const string Number = "4000000000000002";

    /// <summary>Ways to write it; each field gets one after the other.</summary>
    private static readonly string[] _spellings =
    [
        Number, "4000 0000 0000 0002", "4000-0000-0000-0002", "4000.0000.0000.0002", "4000\n0000\n0000\n0002", "40000000\t00000002",
        "４０００００００００００００００２", "4000\u00a00000\u20110000\u200b0002", "٤٠٠٠ ٠٠٠٠ ٠٠٠٠ ٠٠٠٢", "card 4000 0000 0000 0002 12/26",
    ];

    [Fact]
    public async Task No_field_of_any_form_keeps_one()
    {
        var visitor = await Shop.Manager();
        var forms = await Forms(visitor);
        var fields = 0;
        foreach (var (page, form) in forms)
        {
            foreach (var field in Texts(form))
            {
                var values = Filled(form);
                values[field] = _spellings[fields++ % _spellings.Length];
                using var answer = await visitor.Client.PostAsync(Target(page, form), new FormUrlEncodedContent(values));
                Assert.True((int)answer.StatusCode < 500, $"{page}: {form.GetAttribute("action")}, {field}: {answer.StatusCode}");
            }
        }

        Assert.True(fields > 150, $"{fields} fields of {forms.Count} forms were tried");
        Assert.Empty(await Kept());
    }

    /// <summary>The forms of all pages that links lead to, each kind once.</summary>
    private static async Task<List<(string Page, IHtmlFormElement Form)>> Forms(Visitor visitor)
    {
        var (seen, left, kinds) = (new HashSet<string>(), new Queue<string>(), new HashSet<string>());
        var forms = new List<(string, IHtmlFormElement)>();
        foreach (var start in new[] { "/days", "/store", "/people", "/mail", "/mappings", "/pin", "/take-in", $"{Shop.Day}/board" })
        {
            left.Enqueue(start);
        }

        while (left.TryDequeue(out var path) && seen.Count < 220)
        {
            if (!seen.Add(Shape(path)) || path.Contains("sign-out", StringComparison.Ordinal)
                || path.Contains("stand-ins", StringComparison.Ordinal))
            {
                continue;
            }

            using var answer = await visitor.Get(path);
            if (answer.StatusCode != HttpStatusCode.OK || answer.Content.Headers.ContentType?.MediaType != "text/html")
            {
                continue;
            }

            var page = await Visitor.Read(answer);
            foreach (var link in page.QuerySelectorAll("a[href^='/'], a[href^='?']").Select(a => a.GetAttribute("href")!))
            {
                left.Enqueue(link.StartsWith('?') ? path.Split('?')[0] + link : link.Split('#')[0]);
            }

            foreach (var form in page.QuerySelectorAll<IHtmlFormElement>("form[method=post i]")
                .Where(f => f.GetAttribute("action")?.Contains("sign-out", StringComparison.Ordinal) != true))
            {
                if (kinds.Add($"{Shape(Target(path, form))} {string.Join(' ', Texts(form).Select(Shape).Distinct())}"))
                {
                    forms.Add((path, form));
                }
            }
        }

        return forms;
    }

    /// <summary>A path without what only says which one of many alike.</summary>
    private static string Shape(string path) =>
        string.Concat(path.Select(c => char.IsAsciiDigit(c) ? '0' : c)) is { Length: < 40 } shape ? shape : path[..40];

    private static string Target(string page, IHtmlFormElement form) => form.GetAttribute("action") is { Length: > 0 } action
        ? action.StartsWith('?') ? page.Split('?')[0] + action : action
        : page;

    private static IEnumerable<string> Texts(IHtmlFormElement form) => form.Elements
        .Where(e => (e is IHtmlTextAreaElement || e is IHtmlInputElement { Type: "text" or "search" or "email" or "tel" or "hidden" })
            && e.GetAttribute("name") is { Length: > 0 } name && name != "__RequestVerificationToken")
        .Select(e => e.GetAttribute("name")!).Distinct();

    private static Dictionary<string, string> Filled(IHtmlFormElement form)
    {
        var values = new Dictionary<string, string>();
        foreach (var element in form.Elements.Where(e => e.GetAttribute("name") is { Length: > 0 }))
        {
            values[element.GetAttribute("name")!] = element switch
            {
                IHtmlInputElement { Type: "password" } => "7410",
                IHtmlInputElement { Value.Length: > 0 } input => input.Value,
                IHtmlTextAreaElement { Value.Length: > 0 } area => area.Value,
                IHtmlSelectElement select => select.Options.FirstOrDefault(o => o.Value.Length > 0)?.Value ?? "",
                _ => "1",
            };
        }

        return values;
    }

    /// <summary>Where the number stands in the database, by a look of the test's own: digits of any script, whatever stands between
    /// them.</summary>
    private Task<List<string>> Kept() => Shop.InStore(async db =>
    {
        var (kept, connection) = (new List<string>(), (SqliteConnection)db.Database.GetDbConnection());
        await db.Database.OpenConnectionAsync();
        var tables =
            await db.Database.SqlQuery<string>($"SELECT name AS Value FROM sqlite_master WHERE type = 'table' AND name NOT LIKE 'sqlite%'")
                .ToListAsync();
        foreach (var table in tables)
        {
            await using var command = connection.CreateCommand();
            command.CommandText = "SELECT * FROM \"" + table + "\"";
            await using var reader = await command.ExecuteReaderAsync();
            while (await reader.ReadAsync())
            {
                for (var column = 0; column < reader.FieldCount; column++)
                {
                    if (reader.GetValue(column) is string text && Digits(text).Contains(Number, StringComparison.Ordinal))
                    {
                        kept.Add($"{table}.{reader.GetName(column)}: {text}");
                    }
                }
            }
        }

        return kept;
    });

    private static string Digits(string text) =>
        string.Concat(text.Normalize(NormalizationForm.FormKC).Where(char.IsDigit).Select(c => (int)char.GetNumericValue(c)));
}
