using Fondo.Core.Closing;
using Fondo.Core.Days;
using Fondo.Core.Entries;
using Fondo.Core.Journal;
using Fondo.Core.SetUp;

namespace Fondo.Wording;

/// <summary>Names as a close document has them.</summary>
/// <param name="nameOf">The name of a person, whether or not the set-up still lists them.</param>
public sealed class DocumentNames(Setup setup, Func<PersonId, string> nameOf) : IDocumentNames
{
    public string Of(PersonId person) => nameOf(person);

    public string Of(CellKey place) => place.TitleIn(setup);

    public string Of(EntryDetail detail) => EntryText.Of(detail, setup, nameOf);
}
