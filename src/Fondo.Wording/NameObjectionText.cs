using Fondo.Core.SetUp;

namespace Fondo.Wording;

/// <summary>Why a person cannot have a name.</summary>
public static class NameObjectionText
{
    public static string Says(this NameObjection objection) => objection switch
    {
        NameObjection.MixedAlphabets => "Use letters of one alphabet only. Mixed letters can look like someone else’s name.",
        NameObjection.NoLetters => "Type a name with letters in it.",
        NameObjection.LooksLike o => $"This name looks like {o.Other}. Choose a name that cannot be confused with it.",
        _ => throw new ArgumentOutOfRangeException(nameof(objection)),
    };
}
