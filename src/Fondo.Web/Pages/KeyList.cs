namespace Fondo.Web.Pages;

/// <summary>What the keys do, page by page; the page of keys is made from it.</summary>
internal static class KeyList
{
    public static readonly (string Key, string What)[] Everywhere =
    [
        ("?", "shows the keys"), ("f", "finds a ticket"), ("s", "open"), ("t", "import"), ("w", "watch"), ("j", "the journal"),
        ("c", "count"), ("e", "settle"), ("b", "the board"), ("z", "the safe"), ("k", "close"), ("d", "days"),
    ];

    public static (string Key, string What)[] Of(string? page) => page switch
    {
        "board" =>
        [
            ("← ↑ ↓ →", "from cell to cell"),
            ("Enter", "opens the cell"),
            ("o", "opens the first thing to do"),
            ("x", "explains the row in words"),
            ("m", "by money, or by time left"),
            ("v", "shows proved rows"),
            ("p", "what waits to be signed"),
            ("g", "ticket checks"),
            ("h", "holds and carried items"),
            ("i", "open card items, by the time left"),
            ("r", "the bridge"),
        ],
        "counts" => [("o", "opens the first drawer that waits")],
        "count" => [("Enter ↓", "next row"), ("↑", "row before"), ("2*", "rolls or straps"), ("7.50", "a value"), ("850/", "grams"),
            ("2*+13−1", "a sum of these"), ("Ctrl Enter", "hands in"), ("l", "leaves the float"), ("p", "prints the slip"),
            ("x", "corrects the count")],
        "cell" =>
        [
            ("1 2 3", "opens that explanation; takes it when it is open"),
            ("Ctrl Enter", "takes what is open, or makes the entry"),
            ("n", "the next cell that is off"),
            ("r", "reclassify"),
            ("m", "record a movement"),
            ("u", "recount"),
            ("y", "carry"),
            ("l", "claim"),
            ("a", "accept"),
            ("Esc", "back to the board"),
        ],
        "checks" => [("Ctrl Enter", "marks all as seen"), ("n", "to the close"), ("Esc", "back to the board")],
        "approvals" => [
            ("Space", "chooses an entry and moves to the next; after the last one, to the PIN"),
            ("Enter", "signs, from the PIN"),
            ("n", "to the close"),
            ("Esc", "back to the board")
        ],
        "carried" => [("Ctrl Enter", "carries the first item on"), ("n", "to the close"), ("Esc", "back to the board")],
        "pairing" => [("Space", "chooses"), ("Ctrl Enter", "matches the chosen items"), ("Esc", "back to the board")],
        "safe" => [
            ("o", "counts the safe, or opens why it is off"),
            ("g", "floats for tomorrow"),
            ("p", "prepares a deposit"),
            ("n", "the bank"),
            ("h", "where the money is"),
            ("x", "change from the bank"),
            ("Esc", "back to the board")
        ],
        "deposit" => [("Enter ↓", "next row"), ("Ctrl Enter", "seals it"), ("Esc", "back to the safe")],
        "slip" => [("p", "prints it"), ("Ctrl Enter", "hands it over"), ("Esc", "back to the safe")],
        "bank" => [("o", "opens the first line to resolve"), ("m", "matches it by hand"), ("Esc", "back to the safe")],
        "floats" => [("Ctrl Enter", "saves the floats"), ("p", "prints the slips"), ("Esc", "back to the safe")],
        "close" => [
            ("o", "opens the first thing that is left"),
            ("g", "signs off what is ready"),
            ("y", "the books"),
            ("Ctrl Enter", "closes the day"),
            ("Esc", "back to the board")
        ],
        "settle" => [("Ctrl Enter", "settles the terminals that match")],
        "customers" => [("↑ ↓", "from item to item"), ("Enter", "opens the item"), ("Esc", "back to the days")],
        "find" => [("↑ ↓", "from ticket to ticket"), ("Enter", "opens the ticket")],
        "ticket" => [("p", "prints it"), ("Esc", "back")],
        _ => [],
    };
}
