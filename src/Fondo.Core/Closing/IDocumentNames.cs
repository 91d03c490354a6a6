using Fondo.Core.Days;
using Fondo.Core.Entries;
using Fondo.Core.Journal;

namespace Fondo.Core.Closing;

/// <summary>How a close document names what it freezes: as people read it, beside the facts.</summary>
public interface IDocumentNames
{
    string Of(PersonId person);

    /// <param name="place">A cell that is no tender's: the safe, a bag, a bank line.</param>
    string Of(CellKey place);

    string Of(EntryDetail detail);
}
