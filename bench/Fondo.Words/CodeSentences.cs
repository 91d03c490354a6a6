using Microsoft.CodeAnalysis;
using Microsoft.CodeAnalysis.CSharp;
using Microsoft.CodeAnalysis.CSharp.Syntax;

namespace Fondo.Words;

/// <summary>The sentences in a C# file: its texts of three words or more, joined where they are joined by plus.</summary>
internal static class CodeSentences
{
    public static IEnumerable<(int Line, string Says)> In(string source)
    {
        var root = CSharpSyntaxTree.ParseText(source).GetRoot();
        foreach (var text in root.DescendantNodes().OfType<ExpressionSyntax>().Where(IsText).Where(IsWhole))
        {
            if (!text.Ancestors().Any(a => a is AttributeSyntax) && Say(text) is var says && Sentence.Is(says))
            {
                yield return (root.SyntaxTree.GetLineSpan(text.Span).StartLinePosition.Line + 1, says);
            }
        }
    }

    private static bool IsText(ExpressionSyntax node) => node is InterpolatedStringExpressionSyntax
        || (node is LiteralExpressionSyntax && node.IsKind(SyntaxKind.StringLiteralExpression)) || IsJoined(node);

    private static bool IsJoined(ExpressionSyntax node) => node is BinaryExpressionSyntax joined
        && joined.IsKind(SyntaxKind.AddExpression) && IsText(joined.Left) && IsText(joined.Right);

    private static bool IsWhole(ExpressionSyntax node) => node.Parent is not BinaryExpressionSyntax joined || !IsJoined(joined);

    private static string Say(ExpressionSyntax node) => node switch
    {
        LiteralExpressionSyntax literal => literal.Token.ValueText,
        BinaryExpressionSyntax joined => Say(joined.Left) + Say(joined.Right),
        InterpolatedStringExpressionSyntax parts => string.Concat(parts.Contents.Select(c =>
            c is InterpolatedStringTextSyntax text ? text.TextToken.ValueText : "{…}")),
        _ => "",
    };
}
