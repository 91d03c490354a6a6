using Microsoft.CodeAnalysis;
using Microsoft.CodeAnalysis.CSharp;
using Microsoft.CodeAnalysis.CSharp.Syntax;
using Microsoft.CodeAnalysis.Text;

namespace Fondo.Core.Tests;

/// <summary>How the sources are written: short lines, short functions.</summary>
public sealed class House
{
    private const int LongestLine = 140, LongestFunction = 60;

    /// <summary>A line of this much quoted text may be longer: a text is not broken where that hides it.</summary>
    private const int LongestText = 70;

    /// <summary>Functions that are longer. They may only become fewer.</summary>
    private const int LongerFunctions = 28;

    [Fact]
    public void Lines_are_short()
    {
        var sources = Sources().ToList();
        Assert.True(sources.Count > 500, $"{sources.Count} files were looked at");
        Assert.Empty(sources.SelectMany(source =>
        {
            var text = source.Tree.GetText();
            var root = source.Tree.GetRoot();
            var quoted = root.DescendantNodes().Where(IsRaw).Select(t => text.Lines.GetLinePositionSpan(t.Span)).ToList();
            return text.Lines.Where(l => l.Span.Length > LongestLine)
                .Where(l => !quoted.Exists(q => q.Start.Line <= l.LineNumber && l.LineNumber <= q.End.Line))
                .Where(l => QuotedOn(root, l.Span) < LongestText)
                .Select(l => $"{source.Path}:{l.LineNumber + 1}");
        }));
    }

    [Fact]
    public void Functions_are_short()
    {
        var longer = Sources().SelectMany(source => source.Tree.GetRoot().DescendantNodes()
            .Where(n => n is BaseMethodDeclarationSyntax or LocalFunctionStatementSyntax or AccessorDeclarationSyntax)
            .Select(n => source.Tree.GetLineSpan(n.Span))
            .Where(s => s.EndLinePosition.Line - s.StartLinePosition.Line >= LongestFunction)
            .Select(s => $"{source.Path}:{s.StartLinePosition.Line + 1}")).ToList();
        Assert.True(longer.Count <= LongerFunctions, string.Join('\n', longer));
    }

    /// <summary>Texts in three quotes keep their own lines.</summary>
    private static bool IsRaw(SyntaxNode node) => (node is InterpolatedStringExpressionSyntax { StringStartToken.Text: var start }
        && start.Contains("\"\"\"", StringComparison.Ordinal))
        || (node is LiteralExpressionSyntax literal
            && literal.Token.Kind() is SyntaxKind.SingleLineRawStringLiteralToken or SyntaxKind.MultiLineRawStringLiteralToken);

    /// <summary>Characters of a line that stand in quotes: data of a test, an expression, SQL.</summary>
    private static int QuotedOn(SyntaxNode root, TextSpan line) => root.DescendantTokens(line)
        .Where(t => t.Kind() is SyntaxKind.StringLiteralToken or SyntaxKind.InterpolatedStringTextToken)
        .Sum(t => t.Span.Intersection(line)?.Length ?? 0);

    private static IEnumerable<(string Path, SyntaxTree Tree)> Sources()
    {
        var root = new DirectoryInfo(AppContext.BaseDirectory);
        while (root is not null && !File.Exists(Path.Combine(root.FullName, "Fondo.slnx")))
        {
            root = root.Parent;
        }

        Assert.NotNull(root);
        return from folder in new[] { "src", "tests", "bench" }
               from file in Directory.EnumerateFiles(Path.Combine(root.FullName, folder), "*.cs", SearchOption.AllDirectories)
               let path = Path.GetRelativePath(root.FullName, file)
               where !path.Split('/').Any(p => p is "bin" or "obj" or "Migrations")
               select (path, CSharpSyntaxTree.ParseText(File.ReadAllText(file), new CSharpParseOptions(LanguageVersion.Preview)));
    }
}
