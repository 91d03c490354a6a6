using System.Globalization;
using Fondo.Words;

// ./fondo words [folder]: every sentence that a person can meet, with its place, to be read from top to bottom.
var home = Directory.GetCurrentDirectory();
var roots = args is [var one, ..] ? [one] : new[] { "src/Fondo.Wording", "src/Fondo.Core", "src/Fondo.Files", "src/Fondo.Store",
    "src/Fondo.Keeper", "src/Fondo.Cli", "src/Fondo.Web" };
var number = 0;
foreach (var root in roots.Select(r => Path.Combine(home, r)))
{
    var files = Directory.EnumerateFiles(root, "*.cs*", SearchOption.AllDirectories)
        .Where(f => f.EndsWith(".cs", StringComparison.Ordinal) || f.EndsWith(".cshtml", StringComparison.Ordinal))
        .Where(f => !f.Contains("/obj/", StringComparison.Ordinal) && !f.Contains("/bin/", StringComparison.Ordinal)
            && !f.Contains("/Migrations/", StringComparison.Ordinal));
    foreach (var file in files.Order(StringComparer.Ordinal))
    {
        var text = File.ReadAllText(file);
        var sentences = file.EndsWith(".cs", StringComparison.Ordinal) ? CodeSentences.In(text) : PageSentences.In(text);
        foreach (var (line, says) in sentences)
        {
            number++;
            Console.WriteLine(string.Create(CultureInfo.InvariantCulture, $"{Path.GetRelativePath(home, file)}:{line}\t{says}"));
        }
    }
}

Console.Error.WriteLine(string.Create(CultureInfo.InvariantCulture, $"{number} sentences"));
