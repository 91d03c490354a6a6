namespace Fondo.Web.SetUp;

/// <summary>A question that leads a new store to its first day; each has a good answer already.</summary>
/// <param name="Name">In its address.</param>
/// <param name="Read">Takes over the answer.</param>
public sealed record FirstQuestion(string Name, string Title, string Lede, Action<SetupForm, IFormCollection> Read)
{
    public static readonly FirstQuestion[] All =
    [
        new("shop", "What is your shop called, and where is it?",
            "The country sets the currency, the notes and coins, and how amounts are written.", (s, f) => s.AnswerShop(f)),
        new("money", "Is this how you write money and time?",
            "A sale in the small hours belongs to the day before until the trading day ends.",
            (s, f) => s.AnswerMoney(f)),
        new("registers", "How many registers do you have?", "Fondo names them. You can rename them later.", (s, f) => s.AnswerRegisters(f)),
        new("float", "What does a drawer begin the day with?", "Fondo proposes the pieces. Change them if your drawers hold others.",
            (s, f) => s.AnswerFloat(f)),
        new("cards", "Which card terminal stands where?", "Type the number that the terminal prints. Clear it where no cards are taken.",
            (s, f) => s.AnswerCards(f)),
        new("tenders", "What can customers pay with?", "Each tender gets its own line on the board.", (s, f) => s.AnswerTenders(f)),
        new("people", "Who works here?", "One person a line. Each gets a first PIN from Fondo and then chooses their own.", (_, _) => { }),
        new("rules", "What may be off, and who must agree?",
            "You can tighten these at any time. After the first day, loosening one takes two managers.",
            (s, f) => s.AnswerRules(f)),
        new("bank", "Where does the deposit go?", "All of this can wait until your first bank statement.", (s, f) => s.AnswerBank(f)),
    ];

    public int Number => Array.IndexOf(All, this) + 1;

    /// <summary>Where one goes on from here.</summary>
    public string Next => Number < All.Length ? $"/store/begin/{All[Number].Name}" : "/store";

    public static FirstQuestion? Find(string? name) => All.FirstOrDefault(q => q.Name == name);
}
