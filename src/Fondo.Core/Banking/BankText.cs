using System.Text;

namespace Fondo.Core.Banking;

/// <summary>What a line of the bank says, made comparable: small letters and digits, everything else one space.</summary>
internal readonly record struct BankText
{
    private static readonly string[] _disputes =
        ["chargeback", "charge back", "dispute", "disputed", "retrieval", "adjustment", "correction", "returned", "return"];

    private static readonly string[] _fees = ["fee", "fees", "charges", "billing", "invoice", "discount"];

    private readonly string _words;

    private BankText(string words) => _words = words;

    public static BankText Of(string text)
    {
        var plain = new StringBuilder(text.Length + 2).Append(' ');
        foreach (var c in text)
        {
            if (char.IsLetterOrDigit(c))
            {
                plain.Append(char.ToLowerInvariant(c));
            }
            else if (plain[^1] != ' ')
            {
                plain.Append(' ');
            }
        }

        return new(plain[^1] == ' ' ? plain.ToString() : plain.Append(' ').ToString());
    }

    /// <summary>Whether it holds a name as words of its own: bag 12 is not named by bag 123.</summary>
    public bool Names(BankText name) => name._words.Length > 1 && _words.Contains(name._words, StringComparison.Ordinal);

    /// <summary>A dispute that mentions a bag or a processor is a dispute (rules §9).</summary>
    public bool IsDispute => Has(_disputes);

    /// <summary>A fee that mentions a bag or a processor is a fee.</summary>
    public bool IsFee => Has(_fees);

    private bool Has(string[] words)
    {
        foreach (var word in words)
        {
            if (_words.Contains($" {word} ", StringComparison.Ordinal))
            {
                return true;
            }
        }

        return false;
    }
}
