using Fondo.Core.Amounts;
using Fondo.Core.Cash;
using Fondo.Core.Cells;
using Fondo.Core.Checks;
using Fondo.Core.Closing;
using Fondo.Core.Days;
using Fondo.Core.Entries;
using Fondo.Core.Journal;
using Fondo.Core.Leads;
using Fondo.Core.Matching;
using Fondo.Core.Proof;
using Fondo.Core.Reconciling;
using Fondo.Core.SetUp;
using Fondo.Core.Sheets;

namespace Fondo.Store;

/// <summary>What became of something a person asked for: done, or not, with the sentence that says why.</summary>
public sealed record Outcome(string? Objection)
{
    public static readonly Outcome Done = new((string?)null);

    public bool IsDone => Objection is null;

    public static Outcome Refused(string sentence) => new(sentence);
}
