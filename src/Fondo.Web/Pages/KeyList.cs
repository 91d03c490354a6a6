namespace Fondo.Web.Pages;

/// <summary>What the keys do, page by page; the page of keys is made from it.</summary>
internal static class KeyList
{
    public static readonly (string Key, string What)[] Everywhere =
    [
        ("?", "shows the keys"), ("f", "finds a ticket"), ("s", "open"), ("t", "take in"), ("w", "watch"), ("j", "the journal"), ("c", "count"), ("e", "settle"), ("b", "the board"), ("k", "close"), ("d", "days"),
    ];

    public static (string Key, string What)[] Of(string? page) => page switch
    {
        "board" => [("← ↑ ↓ →", "from cell to cell"), ("Enter", "opens the cell"), ("o", "opens the first thing to do"), ("i", "open card items, by the time left")],
        "count" => [("Enter ↓", "next row"), ("↑", "row before"), ("2*", "rolls or straps"), ("7.50", "a value"), ("850/", "grams"), ("2*+13−1", "a sum of these"), ("Ctrl Enter", "hands in"), ("l", "leaves the float"), ("p", "prints the slip"), ("x", "corrects the count")],
        "cell" => [("1 2 3", "fills in the entry of that explanation"), ("r", "reclassify"), ("m", "record a movement"), ("a", "accept"), ("Ctrl Enter", "makes the entry"), ("Esc", "back to the board")],
        "settle" => [("Ctrl Enter", "settles the terminals that agree")],
        "find" => [("↑ ↓", "from ticket to ticket"), ("Enter", "opens the ticket")],
        "ticket" => [("p", "prints it"), ("Esc", "back")],
        _ => [],
    };
}
