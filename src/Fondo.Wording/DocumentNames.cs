using Fondo.Core.Closing;
using Fondo.Core.Days;
using Fondo.Core.Entries;
using Fondo.Core.Journal;
using Fondo.Core.SetUp;

namespace Fondo.Wording;

/// <summary>Names as a close document has them.</summary>
/// <param name="person">The name of a person, whether or not the set-up still lists them.</param>
public sealed class DocumentNames(Setup setup, Func<PersonId, string> person) : IDocumentNames
{
    public string Of(PersonId id) => person(id);

    public string Of(CellKey place) => place.TitleIn(setup);

    public string Of(EntryDetail detail) => EntryText.Of(detail, setup, person);
}
